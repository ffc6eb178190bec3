import type { GivenValue } from '../data/given-values.ts';
import type { Level } from '../data/level.ts';
import { planReport, plansOf } from '../data/plan.ts';
import type { PlanContext, ReportPlan } from '../data/planned.ts';
import { type Row, RowCursor, type RowSource, rowBytes } from '../data/rows.ts';
import { sameColumns } from '../data/signature.ts';
import type { Step } from '../definition/recipe.ts';
import { type Report, reportSchema } from '../definition/schema.ts';
import { compileFormula } from '../formula/compile.ts';
import { type Compiled, plainContext } from '../formula/functions/context.ts';
import { type Value, valueText } from '../value/value.ts';

/** A report that is wanted once for each row of some steps, with values of its own for each. */
export interface SplitAsked {
  report: Report;
  steps: readonly Step[];
  /** Formulas over the fields of the row, by the parameter that each is a value of. */
  links: Readonly<Record<string, string>>;
  /** Values that are the same for all. */
  values: Readonly<Record<string, GivenValue>>;
}

/** How one reading of rows serves all parts. */
export interface Split {
  /** Reads the rows of all of them. */
  all: ReportPlan;
  /** Lays one of them out. */
  own: ReportPlan;
  /** Level of the rows that get a part each. */
  each: Level;
  /** What a row gives for each linked parameter. */
  links: ReadonlyMap<string, Compiled>;
  /** Levels of one part, outer ones first, each with that whose rows it gets and the one around that. */
  levels: readonly { own: Level; all: Level; around: Level }[];
}

/** What the report around names itself and its rows. */
const PARTS = 'parts_of_it';
const INNER = 'the report of each part';

/**
 * Plans a report so that the rows of all its parts are read together: as if another report nested it for each of the rows. Null where
 * that would not give what a run of its own gives for each.
 */
export const planSplit = ({ report, steps, links, values }: SplitAsked, context: PlanContext): Split | null => {
  const parameters = report.parameters.map(({ sample: _, ...one }) =>
    Object.hasOwn(values, one.name) ? { ...one, default: values[one.name] as never, defaultFormula: undefined } : one,
  );
  const inner = { ...report, parameters };
  const around = reportSchema.safeParse({
    ...{ gaveta: 2, name: PARTS, model: report.model, language: report.language, timeZone: report.timeZone },
    queries: [{ name: PARTS, steps }],
    body: [
      {
        ...{ id: PARTS, name: PARTS, rows: { entity: PARTS } },
        detail: {
          height: 20,
          items: [
            {
              kind: 'subreport',
              id: INNER.replaceAll(' ', '_'),
              report: INNER,
              links,
              x: 0,
              y: 0,
              width: 100,
              height: 10,
            },
          ],
        },
      },
    ],
  });
  if (!around.success) return null;
  const nestedIn = (id: string): Report | null => (id === INNER ? inner : context.report(id));
  const all = planReport(around.data, { ...context, report: nestedIn });
  const own = planReport(report, context);
  const [, first] = [...plansOf(all)];
  const each = all.levels[0];
  if (!first || !each || all.problems.some(({ severity }) => severity === 'error')) return null;
  const levels = pairedLevels([...plansOf(first)], [...plansOf(own)], each);
  const compiled = Object.entries(first.link?.values ?? {}).map(
    ([name, formula]) => [name, compileFormula(formula)] as const,
  );
  return levels && { all, own, each, levels, links: new Map(compiled) };
};

/** The levels of a plan as the nested one has them; null where they do not bring the same columns, or hang on rows in another way. */
const pairedLevels = (
  nested: readonly ReportPlan[],
  own: readonly ReportPlan[],
  each: Level,
): Split['levels'] | null => {
  if (nested.length !== own.length) return null;
  const levels: Split['levels'][number][] = [];
  for (const [i, plan] of own.entries()) {
    const other = nested[i]!;
    if (plan.levels.length !== other.levels.length) return null;
    // What stands in no row has no number to go by.
    if (i > 0 && !other.link?.outer) return null;
    for (const [j, level] of plan.levels.entries()) {
      const all = other.levels[j]!;
      if (level.isFetched !== all.isFetched || level.refused || all.refused) return null;
      if (!level.isFetched) continue;
      // Rows that are numbered in another way than one by one.
      if (level.sharedWith || level.grouping || level.tree || !sameColumns(level, all)) return null;
      levels.push({ own: level, all, around: all.parent ?? other.link?.outer ?? each });
    }
  }
  return levels;
};

/** What the row of a part gives for the parameters that are linked to it, as texts. */
export const linkedTexts = (
  { links }: Split,
  row: Row,
  about: Parameters<typeof plainContext>[0],
): Record<string, string> => {
  const context = plainContext(about, {}, row);
  return Object.fromEntries([...links].map(([name, evaluate]) => [name, valueText(evaluate(context))]));
};

/** The rows of one part. */
export interface PartRows {
  /** Those of the row that it is for: column 0 aside, its level’s columns. */
  row: Row;
  source: RowSource;
  rows: number;
}

/** A part has more rows than are held at once. */
export class PartTooLarge extends Error {}

/** Hands out the rows of one part after another, each numbered as if it had been read alone. */
export class SplitRows {
  private readonly cursors: Map<Level, RowCursor>;

  constructor(
    private readonly split: Split,
    source: RowSource,
    /** Bytes of one part that are held. */
    private readonly most: number,
  ) {
    const all = [split.each, ...split.levels.map(({ all }) => all)];
    this.cursors = new Map(all.map((level) => [level, new RowCursor(level, source(level))]));
  }

  /** The next part; null after the last. Throws PartTooLarge, and what its source throws. */
  async next(): Promise<PartRows | null> {
    const { each, levels } = this.split;
    const first = this.cursors.get(each)!;
    await first.fill();
    if (first.peek() === null) return null;
    const row = first.take();
    const found = new Map<Level, Row[]>();
    const taken = new Map<Level, { from: number; count: number }>([[each, { from: first.taken - 1, count: 1 }]]);
    let bytes = 0;
    let rows = 0;
    for (const { own, all, around } of levels) {
      const { from, count } = taken.get(around) ?? { from: 0, count: 0 };
      const cursor = this.cursors.get(all)!;
      const start = cursor.taken;
      const mine: Row[] = [];
      for (;;) {
        if (!cursor.ready) await cursor.fill();
        const ordinal = cursor.peek();
        if (ordinal === null || ordinal > from + count) break;
        const [, ...columns] = cursor.take();
        const next: Value[] = [ordinal - from, ...columns];
        bytes += rowBytes(next);
        if (bytes > this.most) throw new PartTooLarge();
        mine.push(next);
      }
      rows += mine.length;
      found.set(own, mine);
      taken.set(all, { from: start, count: cursor.taken - start });
    }
    return { row, source: (level) => found.get(level) ?? [], rows };
  }

  close(): void {
    for (const cursor of this.cursors.values()) cursor.close();
  }
}
