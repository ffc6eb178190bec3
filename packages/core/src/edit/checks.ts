import type { Level } from '../data/level.ts';
import type { ReportPlan } from '../data/planned.ts';
import { isPushable } from '../data/pushable.ts';
import type { Drawer, Parameter, Report } from '../definition/schema.ts';
import { drawersOf } from '../definition/walk.ts';
import type { Page } from '../page/page.ts';
import { type PhraseCode, phrase } from '../problems/phrases.ts';
import { type Problem, problem } from '../problems/problem.ts';

/** What a report's first pages showed, for checks that need it. */
export interface Seen {
  /** Rows of each drawer by its id; null until they are known. */
  rows: Readonly<Record<string, number>> | null;
}

/**
 * What is likely a slip, though the report runs: a parameter that nothing uses, a drawer that shows nothing or has no
 * rows. All are warnings.
 */
export const designChecks = (report: Report, seen: Seen = { rows: null }): Problem[] => [
  ...unusedParameters(report),
  ...emptyDrawers(report, seen),
];

/** Rows from which on reading them all is worth a word. */
const MANY_ROWS = 2000;

/**
 * Formulas that a database cannot work out though they decide on many rows: in a drawer's filter or order, or in totals
 * that are asked for before their rows. `rows`: how many rows of each drawer were read, by its id. All are warnings.
 */
export const slowFormulas = (plan: ReportPlan, rows: Readonly<Record<string, number>>): Problem[] => {
  const found = new Map<string, Problem>();
  const tell = (level: Level, where: PhraseCode, part: string): void => {
    const { drawer } = level;
    const count = rows[drawer.id] ?? 0;
    if (count < MANY_ROWS) return;
    const place = { path: `${level.path}/${part}`, drawer: drawer.id };
    found.set(
      `${drawer.id} ${where}`,
      problem('slow-formula', place, { where: phrase(where), name: drawer.name, rows: count }, 'warning'),
    );
  };
  for (const level of plan.levels) {
    if (level.localFilter) tell(level, 'the-filter', 'filter');
    if (level.sortsLocally && level.sort.some(({ formula }) => !isPushable(formula, isBrought(plan))))
      tell(level, 'the-order', 'sort');
  }
  for (const total of plan.totals)
    if (total.when === 'ahead' && !isPushable(total.formula, isBrought(plan))) tell(total.counted, 'a-total', 'detail');
  return [...found.values()];
};

/** Whether the database brings a total. */
const isBrought =
  (plan: ReportPlan) =>
  (slot: number): boolean =>
    plan.totals[slot]!.column > 0;

/** Baseline to top and to bottom of what is seen of a line, as shares of the type size. */
const ABOVE = 0.62;
const BELOW = 0.02;
/** Texts that touch by less than this are not seen as overlapping, in points. */
const HARMLESS = 1;

interface Box {
  item: string;
  left: number;
  right: number;
  top: number;
  bottom: number;
}

const boxesOf = (page: Page): Box[] =>
  page.marks.flatMap((mark) =>
    mark.kind !== 'text' || mark.turn || !mark.item || mark.text.trim() === ''
      ? []
      : [
          {
            item: mark.item,
            left: mark.x + HARMLESS,
            right: mark.x + mark.width - HARMLESS,
            top: mark.y - mark.size * ABOVE,
            bottom: mark.y + mark.size * BELOW,
          },
        ],
  );

/**
 * Items whose text lies over that of others, as it is seen on laid-out pages: boxes that overlap do no harm as long as
 * their words do not. Each pair is told once.
 */
export const overlapsOn = (pages: readonly Page[]): Problem[] => {
  const found = new Map<string, Problem>();
  for (const page of pages) {
    const boxes = boxesOf(page).sort((a, b) => a.top - b.top);
    for (const [i, a] of boxes.entries()) {
      for (let n = i + 1; n < boxes.length && boxes[n]!.top < a.bottom; n++) {
        const b = boxes[n]!;
        if (a.item === b.item || a.left >= b.right || b.left >= a.right) continue;
        const pair = [a.item, b.item].sort().join(' ');
        if (!found.has(pair)) found.set(pair, problem('items-overlap', { item: b.item }, { other: a.item }, 'warning'));
      }
    }
  }
  return [...found.values()];
};

/** Any word of that name counts: a warning must be sure. */
const says = (text: string, name: string): boolean =>
  new RegExp(`(^|[^\\p{L}\\p{N}_])${name}([^\\p{L}\\p{N}_]|$)`, 'u').test(text);

const unusedParameters = (report: Report): Problem[] =>
  report.parameters.flatMap((parameter: Parameter, i) => {
    const { parameters, ...rest } = report;
    const others = parameters.filter((p) => p !== parameter);
    if (says(JSON.stringify([rest, others]), parameter.name)) return [];
    // A shared recipe may ask for it by its name.
    if (report.queries?.some((q) => q.recipe !== undefined)) return [];
    const data = { name: parameter.name, label: parameter.label };
    return [problem('unused-parameter', { path: `parameters/${i}` }, data, 'warning')];
  });

const BANDS = ['header', 'detail', 'detailFooter', 'footer', 'others', 'empty'] as const;

const emptyDrawers = (report: Report, { rows }: Seen): Problem[] =>
  [...drawersOf(report)].flatMap(({ drawer, path }) => {
    const place = { path, drawer: drawer.id };
    const hasBands = BANDS.some((band) => drawer[band]) || drawer.groups?.some((g) => g.header || g.footer);
    if (!hasBands && !drawer.drawers?.length && !isCounted(report, drawer))
      return [problem('drawer-without-bands', place, { name: drawer.name }, 'warning')];
    if (rows?.[drawer.id] === 0 && !drawer.empty)
      return [problem('drawer-without-rows', place, { name: drawer.name }, 'warning')];
    return [];
  });

/** The drawers, and those inside them, without the one of that id. */
const without = (drawers: readonly Drawer[], id: string): Drawer[] =>
  drawers
    .filter((drawer) => drawer.id !== id)
    .map((drawer) => ({ ...drawer, drawers: without(drawer.drawers ?? [], id) }));

/** Whether totals elsewhere may count its rows: then its fields are named there by the drawer. */
const isCounted = (report: Report, drawer: Drawer): boolean =>
  says(JSON.stringify({ ...report, body: without(report.body, drawer.id) }), drawer.name);
