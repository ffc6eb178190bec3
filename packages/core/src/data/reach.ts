import { checkFormula, type FormulaScope } from '../formula/check.ts';
import type { Checked, Choice, PageValue } from '../formula/checked.ts';
import type { Stretch } from '../formula/tree.ts';
import { lookupStep, relationAt } from '../model/lookup-step.ts';
import { type Field, findEntity, type Model, namedField } from '../model/model.ts';
import { parameterAt } from '../model/parameter-names.ts';
import { type Phrase, phrase } from '../problems/phrases.ts';
import type { Problem } from '../problems/problem.ts';
import { problem } from '../problems/problem.ts';
import { bareName, nearest } from '../problems/suggest.ts';
import { fieldFormat } from '../text/currency.ts';
import type { Level } from './level.ts';
import type { NameMeaning } from './names.ts';
import { overRows } from './reach-totals.ts';
import type { Found, Names, ReachContext, Standing } from './standing.ts';

const page = (value: PageValue): Checked => ({ kind: 'page', value, type: 'number' });

const PAGE_NAMES = {
  'page.number': page('number'),
  'page.count': page('count'),
  'page.part_number': page('partNumber'),
  'page.part_count': page('partCount'),
  'page.room': page('room'),
  'report.name': { kind: 'report', value: 'name', type: 'text' },
  'report.run_at': { kind: 'report', value: 'run_at', type: 'datetime' },
} as const satisfies Record<string, Checked>;

export type PageValueName = keyof typeof PAGE_NAMES;
const isPageValue = (name: string): name is PageValueName => Object.hasOwn(PAGE_NAMES, name);
export const PAGE_VALUES = Object.keys(PAGE_NAMES).filter(isPageValue);

/** Calculated fields that stand on one another deeper than this make formulas too long to run. */
const DEEPEST_CALCULATED = 20;
/** Most parts that a formula may have once its calculated fields are put in. */
const MOST_PARTS = 20_000;

/** The field at the end of `parts`, from `level`'s entity along `one` relations. */
const fieldAt = (model: Model, level: Level, parts: readonly string[]): Field | 'hidden' | null => {
  let entity = level.entity;
  for (const part of parts.slice(0, -1)) {
    const relation = relationAt(entity, part);
    if (relation?.kind !== 'one') return null;
    const next = findEntity(model, relation.to);
    if (!next) return null;
    entity = next;
  }
  return namedField(entity.fields, parts.at(-1));
};

/** Resolves names for formulas of one report. `depth` guards against calculated fields that stand on themselves. */
export class Reach implements Names {
  constructor(
    readonly context: ReachContext,
    private readonly depth = 0,
  ) {}

  /** The scope for a formula that stands in a band, a filter or a link. */
  at(standing: Standing): FormulaScope {
    return {
      functions: this.context.functions,
      name: (parts, at) => {
        const dotted = parts.join('.');
        const found = this.find(standing, parts, at);
        if (found && found !== 'hidden') return found;
        if (found) return problem('hidden-field', {}, { name: dotted });
        const many = this.elsewhere(parts, standing.current);
        if (many) return problem('needs-one-row', {}, { name: dotted, drawer: many.drawer.name });
        return problem('unknown-name', {}, { name: dotted, hint: this.hint(dotted, standing.current) });
      },
      rows: (request, check) => overRows(this, standing, request, check),
      previous: (check) => {
        if (!standing.current) return problem('previous-without-row');
        const formula = check(this.at({ ...standing, scope: null }));
        if (!formula) return null;
        const { type, format } = formula;
        return { kind: 'previous', level: standing.current.index, formula, type, ...(format ? { format } : {}) };
      },
      depth: () => {
        for (let level = standing.current; level; level = level.parent) {
          if (level.depthColumn > 0)
            return { kind: 'field', level: level.index, column: level.depthColumn, type: 'number' };
        }
        return problem('depth-without-tree');
      },
      lookUp: (parts, key) => this.keyed(standing, parts, key),
      isRowScope: (name) =>
        name === 'report' ||
        this.scopeNames(standing).includes(name) ||
        this.context.roots.some(({ drawer }) => drawer.name === name),
      suggestions: () => this.names(),
    };
  }

  /** Names of the drawers and groups around, innermost first. */
  scopeNames(standing: Standing): string[] {
    const names: string[] = [];
    for (let level = standing.scope?.level ?? standing.current; level; level = level.parent) {
      names.push(...level.groups.map((g) => g.group.name).reverse(), level.drawer.name);
    }
    return names;
  }

  /** Looks `parts` up around a place: fields, calculated fields and groups of its drawers, then page values and parameters. */
  private find({ current, sets = [], groups }: Standing, parts: readonly string[], at: Stretch): Found {
    const group = parts.length === 1 ? groups?.get(parts[0]!) : undefined;
    if (group) return group;
    const around: Level[] = [];
    for (let level = current; level; level = level.parent) around.push(level);
    // A page shows rows of one set after the other.
    if (current) around.push(...sets.filter((level) => level !== current));
    // What is hidden means nothing to whoever writes the formula: anything else of that name is meant.
    let hidden: Found = null;
    // The name of a drawer around wins over a relation of the same name.
    for (const level of parts.length > 1 ? around : []) {
      const found = level.drawer.name === parts[0] ? this.inside(level, parts, at) : null;
      if (found && found !== 'hidden') return found;
      hidden ??= found;
    }
    for (const level of around) {
      const found = this.lookUp(level, parts, at);
      if (found && found !== 'hidden') return found;
      hidden ??= found;
    }
    const name = parts.join('.');
    const fixed = isPageValue(name) ? PAGE_NAMES[name] : undefined;
    if (fixed) return fixed;
    const parameter = parameterAt(this.context.parameters, parts);
    const part = parts[0] === 'parameters' && parts.length > 1 ? 1 : 0;
    if (parameter) this.means(at, part, { kind: 'parameter', name: parts[part]! });
    return parameter ?? hidden;
  }

  /** Tells what a name's part means, unless the name stands in a formula that is put in here from elsewhere. */
  means(at: Stretch, part: number, meaning: NameMeaning): void {
    if (this.depth === 0) this.context.onName?.(at, part, meaning);
  }

  /** What a drawer's name leads into. */
  private inside(level: Level, parts: readonly string[], at: Stretch): Found {
    const found = this.own(level, parts.slice(1), at, 1);
    if (found) this.means(at, 0, { kind: 'drawer', drawer: level.drawer.id });
    return found;
  }

  /** At one level: by the drawer's name first, then as its own field or along its relations. */
  lookUp(level: Level, parts: readonly string[], at: Stretch): Found {
    const named = parts.length > 1 && parts[0] === level.drawer.name ? this.inside(level, parts, at) : null;
    return named ?? this.own(level, parts, at);
  }

  /** `from`: where in the whole name these parts begin. */
  private own(level: Level, parts: readonly string[], at: Stretch, from = 0): Found {
    const { model } = this.context;
    if (!model) return null;
    if (parts.length === 1) {
      const calculated = level.drawer.calculated?.find((c) => c.name === parts[0]);
      if (calculated) {
        this.means(at, from, { kind: 'calculated', drawer: level.drawer.id, name: calculated.name });
        return this.calculated(level, calculated.name, calculated.formula, calculated.format);
      }
      const group = level.groups.find((g) => g.group.name === parts[0]);
      // Inside a group every row has the group's value.
      if (group) {
        this.means(at, from, { kind: 'group', drawer: level.drawer.id, name: group.group.name });
        return group.key;
      }
    }
    const field = fieldAt(model, level, parts);
    if (field === 'hidden' || field === null) return field;
    const column = level.field([...parts], field);
    const { type } = field;
    return { kind: 'field', level: level.index, column, type, ...this.shownAs(field, model) };
  }

  /** A field of the row of a table whose key is a field of a row around: as along a relation, but that none is declared. */
  private keyed(
    { current, sets = [] }: Standing,
    [name = '', ...rest]: readonly string[],
    key: Checked,
  ): Checked | Problem {
    const { model } = this.context;
    const target = model && findEntity(model, name);
    if (!model || !target || target.arguments) return problem('unknown-entity', {}, { name, hint: '' });
    const around: Level[] = [...sets];
    for (let level = current; level; level = level.parent) around.push(level);
    const level = key.kind === 'field' ? around.find(({ index }) => index === key.level) : undefined;
    const own = level && (level.sharedWith ?? level);
    const column = key.kind === 'field' ? own?.columns[key.column - 1] : undefined;
    if (!level || column?.kind !== 'field') {
      const data = { where: 'VALUEOF', expected: phrase('field'), given: phrase(`type-${key.type}`) };
      return problem('wrong-type', {}, data);
    }
    const by = namedField(target.fields, target.key);
    if (by === 'hidden' || by === null) return problem('hidden-field', {}, { name: `${name}.${target.key}` });
    if (by.type !== column.field.type) {
      const data = { where: 'VALUEOF', expected: phrase(`type-${by.type}`), given: phrase(`type-${key.type}`) };
      return problem('wrong-type', {}, data);
    }
    const path = [...column.path.slice(0, -1), lookupStep(target, column.path.at(-1)!), ...rest];
    const field = fieldAt(model, level, path);
    const dotted = [name, ...rest].join('.');
    if (field === 'hidden') return problem('hidden-field', {}, { name: dotted });
    if (field === null) return problem('unknown-name', {}, { name: dotted, hint: '' });
    const { type } = field;
    return { kind: 'field', level: level.index, column: level.field(path, field), type, ...this.shownAs(field, model) };
  }

  /** What a field's values are shown with, and mean. */
  private shownAs(field: Field, { currencies }: Model): { format?: string; choices?: readonly Choice[] } {
    const format = fieldFormat(field, this.context.language, currencies);
    return { ...(format ? { format } : {}), ...(field.choices ? { choices: field.choices } : {}) };
  }

  private calculated(level: Level, name: string, source: string, format: string | undefined): Found {
    if (this.depth >= DEEPEST_CALCULATED) return problem('calculated-in-circle', {}, { name });
    const key = `${level.index} ${name}`;
    const known = this.context.calculated.get(key);
    if (known !== undefined) return known;
    // Whoever asks for it while it is being checked stands on itself.
    this.context.calculated.set(key, problem('calculated-in-circle', {}, { name }));
    const found = this.checkCalculated(level, name, source, format);
    this.context.calculated.set(key, found);
    return found;
  }

  private checkCalculated(level: Level, name: string, source: string, format: string | undefined): Found {
    const standing: Standing = { current: level, scope: { level, kind: 'row', group: 0 }, ahead: true };
    const result = checkFormula(source, new Reach(this.context, this.depth + 1).at(standing));
    if (!result.ok) {
      // What is wrong with the whole of them is said as it is, also by those that stand on it.
      const whole = result.problems.find((p) => p.code === 'calculated-in-circle' || p.code === 'formula-too-long');
      return whole ?? problem('calculated-wrong', {}, { name });
    }
    if (countParts(result.formula) > MOST_PARTS) return problem('formula-too-long', {}, { name });
    return format ? { ...result.formula, format } : result.formula;
  }

  /** A drawer that has the field, but is not around the place where the formula stands. */
  private elsewhere(parts: readonly string[], current: Level | null): Level | null {
    const { model } = this.context;
    if (!model) return null;
    for (const level of this.levels()) {
      if (current?.isWithin(level)) continue;
      const own = parts.length > 1 && parts[0] === level.drawer.name ? parts.slice(1) : parts;
      const field = fieldAt(model, level, own);
      if (field && field !== 'hidden') return level;
    }
    return null;
  }

  /** The levels of all drawers, parents first. */
  private *levels(): Iterable<Level> {
    for (const root of this.context.roots) yield* root.subtree();
  }

  names(): string[] {
    return this.known(null).map(({ name }) => name);
  }

  /** What formulas may name; `current`: the level whose row is current, which fields of inner levels have many values at. */
  private known(current: Level | null): KnownName[] {
    const known: KnownName[] = [...this.context.parameters.map(plainName), ...PAGE_VALUES.map((name) => ({ name }))];
    for (const level of this.levels()) {
      const { drawer } = level;
      known.push(
        ...[drawer, ...(drawer.calculated ?? [])].map(plainName),
        ...level.groups.map(({ group }) => plainName(group)),
      );
      const many = !(current?.isWithin(level) ?? false) && current !== null ? `${drawer.name}.` : null;
      for (const { name, label, hidden } of level.entity.fields) {
        if (hidden) continue;
        const field = { label, ...(many === null ? {} : { many: `${many}${name}` }) };
        known.push({ ...field, name }, { ...field, name: `${drawer.name}.${name}`, label: `${drawer.name} ${label}` });
      }
    }
    return known;
  }

  hint(name: string, current: Level | null = null): Phrase {
    const known = this.known(current);
    const meant = bareName(name);
    // What is seen on the screen may be written instead of the name.
    const seen = known.find(({ label }) => label !== undefined && bareName(label) === meant);
    const near =
      seen?.name ??
      nearest(
        name,
        known.map((one) => one.name),
      );
    const found = seen ?? known.find((one) => one.name === near);
    if (!found) return phrase('pick-from-tray');
    return found.many
      ? phrase('did-you-mean-many', { name: found.many })
      : phrase('did-you-mean', { name: found.name });
  }
}

/** Something that formulas may name. `label`: as people see it; `many`: its name where it has many values, and needs a total. */
interface KnownName {
  name: string;
  label?: string;
  many?: string;
}

const plainName = ({ name, label }: { name: string; label?: string | undefined }): KnownName =>
  label === undefined ? { name } : { name, label };

/** How many parts a formula has, given up past the most that are allowed. */
const countParts = (formula: Checked): number => {
  let count = 0;
  const stack: unknown[] = [formula];
  while (stack.length > 0 && count <= MOST_PARTS) {
    const next = stack.pop();
    if (typeof next !== 'object' || next === null) continue;
    if ('kind' in next) count++;
    for (const value of Object.values(next)) if (typeof value === 'object') stack.push(value);
  }
  return count;
};
