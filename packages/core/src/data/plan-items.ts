import type { Band, Highlight, Item, ItemOf, Report, TextPiece } from '../definition/schema.ts';
import { TYPE_WORDS } from '../formula/check.ts';
import type { Checked } from '../formula/checked.ts';
import { parameterType, rangeOf, takesType } from '../model/parameter-names.ts';
import { type Problem, type ProblemPlace, problem } from '../problems/problem.ts';
import { formatCodeProblem } from '../text/format.ts';
import type { Level, SubreportLink } from './level.ts';
import type {
  PlannedBand,
  PlannedFormula,
  PlannedHighlight,
  PlannedItem,
  PlannedLink,
  PlannedPiece,
} from './planned.ts';
import { Planner } from './planner.ts';
import type { Standing } from './standing.ts';

/** Most nested reports that one report plans, each place where one stands counted, and how deep they may lie. */
const MOST_NESTED = 100;
const DEEPEST_NESTED = 20;

/** Where a band stands. `width` in millimetres. */
export interface BandPlace {
  path: string;
  key: string;
  standing: Standing;
  isPage: boolean;
  width: number;
}

export const planBand = (planner: Planner, band: Band, at: BandPlace): PlannedBand => {
  const { path, key, standing } = at;
  const part = (name: string): ProblemPlace => ({ path: `${path}/${name}` });
  return {
    band,
    key,
    path,
    items: band.items.map((item, i) => new ItemPlanner(planner, item, `${path}/items/${i}`, at).plan()),
    showIf: planner.condition(band.showIf, standing, part('showIf'), 'Shown if'),
    breakIf: planner.condition(band.breakIf, standing, part('breakIf'), 'A page break'),
    highlights: planHighlights(planner, band.highlights, standing, part('highlights')),
    settings: planSettings(planner, band.formulas, standing, part('formulas')),
  };
};

const planHighlights = (
  planner: Planner,
  list: readonly Highlight[] | undefined,
  standing: Standing,
  place: ProblemPlace,
): PlannedHighlight[] =>
  (list ?? []).flatMap(({ when, look, hide }, i) => {
    const at = { ...place, path: `${place.path}/${i}/when` };
    const condition = planner.condition(when, standing, at, 'A highlight');
    return condition ? [{ when: condition, look: look ?? {}, hide: hide ?? false }] : [];
  });

const planSettings = <K extends string>(
  planner: Planner,
  formulas: Partial<Record<K, string>> | undefined,
  standing: Standing,
  place: ProblemPlace,
): [K, Checked][] =>
  Object.entries<string>((formulas ?? {}) as Record<string, string>).flatMap(([name, source]): [K, Checked][] => {
    const formula = planner.check(source, standing, { ...place, path: `${place.path}/${name}` });
    return formula ? [[name as K, formula]] : [];
  });

/** Equal for two formulas that are made of the same parts; JSON knows no large whole numbers. */
const treeText = (formula: Checked): string =>
  JSON.stringify(formula, (_, value: unknown) => (typeof value === 'bigint' ? `${value}n` : value));

const isBlankTest = (condition: Checked): boolean => condition.kind === 'call' && condition.name === 'ISBLANK';

class ItemPlanner {
  private readonly place: ProblemPlace;
  private readonly standing: Standing;

  constructor(
    private readonly planner: Planner,
    private readonly item: Item,
    path: string,
    private readonly at: BandPlace,
  ) {
    this.place = { path, item: item.id };
    this.standing = at.standing;
  }

  plan(): PlannedItem {
    const { planner, item, place, standing } = this;
    const { share } = item;
    const right =
      ((share?.x ?? 0) * this.at.width) / 100 +
      (share?.x === undefined ? item.x : 0) +
      (share?.width === undefined ? item.width : (share.width * this.at.width) / 100);
    if (planner.chain.length === 1 && right > this.at.width + 0.05)
      planner.found(problem('outside-page', place, {}, 'warning'));
    if ('style' in item && item.style && !planner.report.styles[item.style])
      planner.found(problem('unknown-style', place, { name: item.style }, 'warning'));
    const words = item.kind === 'text' || item.kind === 'field' ? item : null;
    return {
      item,
      pieces: this.pieces(),
      subreport: item.kind === 'subreport' ? this.subreport(item) : null,
      showIf: planner.condition(item.showIf, standing, this.part('showIf'), 'Shown if'),
      highlights: planHighlights(planner, words?.highlights, standing, this.part('highlights')),
      link: this.link(),
      anchor: this.optional(item.anchor, 'anchor'),
      indent: this.optional(words?.indent, 'indent'),
      settings: planSettings(planner, item.formulas, standing, this.part('formulas')),
    };
  }

  private part(name: string): ProblemPlace {
    return { ...this.place, path: `${this.place.path}/${name}` };
  }

  private optional(source: string | undefined, name: string): Checked | null {
    return source === undefined ? null : this.planner.check(source, this.standing, this.part(name));
  }

  private pieces(): PlannedPiece[] {
    const { item, planner } = this;
    switch (item.kind) {
      case 'field':
        return [this.formula(item.formula, item.format)];
      case 'text':
        return item.content.map((piece) => this.piece(piece));
      case 'barcode':
        return [this.formula(item.formula, undefined)];
      case 'check': {
        const formula = planner.condition(item.formula, this.standing, this.place, 'A check mark');
        return formula ? [{ formula, format: '' }] : [];
      }
      case 'picture':
        return item.formula === undefined ? [] : [this.formula(item.formula, undefined)];
      case 'line':
      case 'rectangle':
      case 'subreport':
        return [];
      default:
        return item satisfies never;
    }
  }

  private piece(piece: TextPiece): PlannedPiece {
    if (typeof piece === 'string') return { text: piece };
    const own = 'text' in piece ? { text: piece.text } : this.formula(piece.formula, piece.format);
    return piece.look ? { ...own, look: piece.look } : own;
  }

  private formula(source: string, format: string | undefined): PlannedFormula {
    const { planner, place } = this;
    const result = planner.tryCheck(source, this.standing, place);
    if (!result.ok) {
      const problems = result.problems.map((p) => ({ ...p, place: { ...p.place, ...place } }));
      for (const p of problems) planner.found(p);
      return { problem: problems[0]! };
    }
    for (const p of result.warnings) planner.found({ ...p, place: { ...p.place, ...place } });
    const { formula } = result;
    const wrong = format ? formatCodeProblem(format) : null;
    if (wrong) planner.malformed(place, `“${format}” is not a number format: ${wrong}`, 'a code such as #,##0.00');
    return {
      formula,
      format: (wrong ? undefined : format) ?? formula.format ?? '',
      ...(this.isGroupValue(formula) ? { isGroup: true } : {}),
    };
  }

  /** Whether a formula in the band of a group shows the value of that group, or of one around it, as it is or unless it is blank. */
  private isGroupValue(formula: Checked): boolean {
    const { scope } = this.standing;
    if (scope?.kind !== 'group') return false;
    const shown = formula.kind === 'if' && isBlankTest(formula.condition) ? formula.yes : formula;
    const written = treeText(shown);
    return scope.level.groups.slice(0, scope.group + 1).some(({ key }) => treeText(key) === written);
  }

  private link(): PlannedLink | null {
    const { link } = this.item;
    if (!link) return null;
    if ('report' in link) {
      const parameters: Record<string, Checked> = {};
      for (const [name, source] of Object.entries(link.parameters)) {
        const formula = this.optional(source, `link/parameters/${name}`);
        if (formula) parameters[name] = formula;
      }
      return { to: 'report', report: link.report, parameters };
    }
    const to = 'address' in link ? 'address' : 'anchor';
    const formula = this.optional('address' in link ? link.address : link.anchor, `link/${to}`);
    return formula && { to, formula };
  }

  private subreport(item: ItemOf<'subreport'>): PlannedItem['subreport'] {
    const { planner, standing, place } = this;
    const refuse = (p: Problem): { problem: Problem } => {
      planner.found(p);
      return { problem: p };
    };
    if (this.at.isPage) return refuse(problem('subreport-in-page-band', place));
    const nested = planner.context.report(item.report);
    if (!nested) return refuse(problem('unknown-subreport', place, { name: item.report }));
    if (planner.ids.includes(item.report)) {
      return refuse(problem('subreport-cycle', place, { path: [...planner.chain, nested.name].join(' → ') }));
    }
    if (planner.ids.length >= DEEPEST_NESTED || ++planner.family.nested > MOST_NESTED)
      return refuse(problem('too-many-subreports', place, { limit: MOST_NESTED, deepest: DEEPEST_NESTED }));
    const values: Record<string, Checked> = {};
    for (const [name, source] of Object.entries(item.links)) {
      // Without the link the report would show the rows of every other row as well.
      const parameter = nested.parameters.find((p) => p.name === name);
      if (!parameter) return refuse(problem('unknown-link', place, { report: nested.name, name }));
      if (parameter.fromHost) return refuse(problem('link-from-host', place, { report: nested.name, name }));
      const formula = this.optional(source, `links/${name}`);
      const linked = formula && this.linked(nested, name, formula);
      if (!linked) return { problem: planner.problems.at(-1)! };
      Object.assign(values, linked);
      if (isAmbiguous(formula, standing.current, nested, name))
        planner.found(problem('link-not-unique', place, { report: nested.name, name, link: source }, 'warning'));
    }
    for (const p of nested.parameters) {
      const hasDefault = p.default !== undefined || p.defaultFormula !== undefined || p.fromHost;
      if (p.required && !hasDefault && !(p.name in item.links)) {
        return refuse(problem('missing-link', place, { report: nested.name, name: p.name }));
      }
    }
    const rows = this.sharedRows(item);
    if (rows && rows !== 'current' && 'code' in rows) return refuse(rows);
    const link: SubreportLink = { item: item.id, outer: standing.current, values, rows };
    const inner = new Planner(
      nested,
      planner.context,
      planner.plan,
      [...planner.chain, nested.name],
      link,
      [...planner.ids, item.report],
      planner.family,
    );
    const plan = planner.plan(inner);
    planner.problems.push(...plan.problems);
    return { plan, link };
  }

  /** What is linked to a parameter: of a range, its ends as well. Null, which is told, when its type does not fit. */
  private linked(nested: Report, name: string, formula: Checked): Record<string, Checked> | null {
    const parameter = nested.parameters.find((p) => p.name === name)!;
    const range = rangeOf(parameter);
    const refuse = (expected: string, given: string): null => {
      const data = { where: `The link of “${name}”`, expected, given };
      this.planner.found(problem('wrong-type', this.part(`links/${name}`), data));
      return null;
    };
    if (!range)
      return takesType(parameter, formula.type)
        ? { [name]: formula }
        : refuse(TYPE_WORDS[parameterType(parameter)], TYPE_WORDS[formula.type]);
    if (formula.kind === 'parameter' && formula.range === range) {
      const end = (which: string): Checked => ({ kind: 'parameter', name: `${formula.name}.${which}`, type: range });
      return { [name]: formula, [`${name}.from`]: end('from'), [`${name}.to`]: end('to') };
    }
    return refuse('a parameter of the same kind', 'something else');
  }

  /** The rows of this report that a nested one shows. */
  private sharedRows({ rows }: ItemOf<'subreport'>): SubreportLink['rows'] | Problem {
    const outer = this.standing.current;
    if (!rows) return null;
    if (!outer) return problem('shared-rows-without-row', this.place);
    if (rows === 'current') return 'current';
    const relation = outer.entity.relations.find((r) => r.name === rows.relation);
    if (!relation) {
      const names = outer.entity.relations.map((r) => r.name).join(', ');
      const data = { entity: outer.entity.name, name: rows.relation, hint: `It has ${names || 'none'}.` };
      return problem('unknown-relation', this.place, data);
    }
    for (const { here } of relation.on) outer.linkKeys.add(here);
    return { relation };
  }
}

/**
 * Whether a link is likely to bring rows of others along: it gives a text, as a name, of a row that has a key of its own,
 * and the nested report chooses its rows by it. Two rows of one name would show the rows of both.
 */
const isAmbiguous = (formula: Checked, outer: Level | null, nested: Report, parameter: string): boolean => {
  if (formula.kind !== 'field' || formula.type !== 'text' || formula.level !== outer?.index) return false;
  const column = outer.columns[formula.column - 1];
  if (column?.kind !== 'field' || column.path.length !== 1 || column.path[0] === outer.entity.key) return false;
  const filter = nested.body?.filter ?? '';
  return new RegExp(`(?<![\\p{L}\\p{N}_])${parameter}(?![\\p{L}\\p{N}_])`, 'u').test(filter);
};
