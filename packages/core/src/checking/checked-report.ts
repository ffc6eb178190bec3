import type { Band, Item, Report } from '../definition/schema.ts';
import { parseFormula } from '../formula/parse.ts';
import type { BinaryOperator } from '../formula/tree.ts';
import { type LateFill, withLate } from '../layout/late-fill.ts';
import type { Mark, Page } from '../page/page.ts';
import type { Problem } from '../problems/problem.ts';

const PREFIX = 'gaveta-check-';
/** Stands before each value, so that blank ones are seen too. */
const START = '|';

/** A value, as a formula that is worked out where the report ends, in the scope of its footer. */
const valueItem = (formula: string, index: number): Item => ({
  kind: 'text',
  id: `${PREFIX}${index}`,
  x: 0,
  y: 0,
  width: 5000,
  height: 0,
  grow: false,
  content: [START, { formula, format: '' }],
});

/**
 * The report with formulas at its end, which take no room: laid out, it has the same pages, and {@link takeValues} finds what the
 * formulas come to.
 */
export const withValues = (report: Report, formulas: readonly string[]): Report => {
  if (formulas.length === 0) return report;
  const footer: Band = report.footer ?? { height: 0, items: [] };
  return { ...report, footer: { ...footer, items: [...footer.items, ...formulas.map(valueItem)] } };
};

const indexOf = (item: string | undefined): number | null =>
  item?.startsWith(PREFIX) ? Number(item.slice(PREFIX.length)) : null;

export interface ValuesTaken {
  pages: Page[];
  /** As texts, in the order of the formulas; null where one came to nothing, as after a limit. */
  values: (string | null)[];
}

/** Pages of a report of {@link withValues}, whole and without the values, and the values. */
export const takeValues = (pages: readonly Page[], late: Iterable<LateFill>, count: number): ValuesTaken => {
  const values = Array.from<string | null>({ length: count }).fill(null);
  const isSeen = (mark: Mark): boolean => {
    const index = indexOf(mark.item);
    if (index === null) return true;
    if (mark.kind === 'text')
      values[index] = values[index] === null ? mark.text.slice(START.length) : values[index] + mark.text;
    return false;
  };
  const whole = withLate(pages, late).map((page) => ({ ...page, marks: page.marks.filter(isSeen) }));
  return { pages: whole, values };
};

/**
 * Index of the formula of {@link withValues} that a problem is about; null where it is one of the report. Warnings about them mean
 * nothing: they take no room.
 */
export const valueOfProblem = ({ place }: Problem): number | null => indexOf(place.item);

const COMPARISONS: ReadonlySet<BinaryOperator> = new Set(['=', '<>', '<', '>', '<=', '>=']);

/** A check, as formulas whose values tell whether it holds, and otherwise why it does not. */
export interface CheckFormulas {
  /** 1 where it holds. */
  holds: string;
  /** Both sides of a comparison that are more than a number or a text; none of anything else. */
  sides: string[];
}

/** Takes a check apart, as `SUM(amount) = 1821479.53`. One that cannot be read stays whole, and fails where it is planned. */
export const checkFormulas = (check: string): CheckFormulas => {
  const holds = `IF(${check}; 1; 0)`;
  const parsed = parseFormula(check);
  if (!parsed.ok) return { holds: check, sides: [] };
  const { tree } = parsed;
  if (tree.kind !== 'binary' || !COMPARISONS.has(tree.operator)) return { holds, sides: [] };
  const sides = [tree.left, tree.right].filter(({ kind }) => kind !== 'number' && kind !== 'text');
  return { holds, sides: sides.map(({ from, to }) => check.slice(from, to)) };
};
