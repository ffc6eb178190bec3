import type { Level } from '../data/level.ts';
import { readParameters } from '../data/parameters.ts';
import { planReport } from '../data/plan.ts';
import type { ReportPlan } from '../data/planned.ts';
import type { WireRow } from '../data/rows.ts';
import { readDefinition } from '../definition/read.ts';
import type { Item, Report } from '../definition/schema.ts';
import type { Model } from '../model/model.ts';
import type { Page, TextMark } from '../page/page.ts';
import { preparedReport } from '../run/prepared-report.ts';
import { type LayoutOptions, type LayoutResult, layoutReport } from './run.ts';
import { testBook } from './shipped.test-support.ts';

/** A small made-up model: huts with stays with charges. */
export const hutModel: Model = {
  name: 'huts',
  label: 'Huts',
  entities: [
    {
      name: 'hut',
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: [
        { name: 'id', label: 'Id', type: 'number' },
        { name: 'name', label: 'Name', type: 'text' },
        { name: 'secret', label: 'Secret', type: 'text', hidden: true },
      ],
      relations: [{ name: 'stays', label: 'Stays', to: 'stay', kind: 'many', on: [{ here: 'id', there: 'hut_id' }] }],
    },
    {
      name: 'stay',
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      fields: [
        { name: 'id', label: 'Id', type: 'number' },
        { name: 'hut_id', label: 'Hut', type: 'number' },
        { name: 'guest', label: 'Guest', type: 'text' },
        { name: 'arrival', label: 'Arrival', type: 'date' },
        { name: 'nights', label: 'Nights', type: 'number' },
        { name: 'photo', label: 'Photo', type: 'picture' },
      ],
      relations: [
        { name: 'charges', label: 'Charges', to: 'charge', kind: 'many', on: [{ here: 'id', there: 'stay_id' }] },
      ],
    },
    {
      name: 'charge',
      label: 'Charge',
      plural: 'Charges',
      key: 'id',
      fields: [
        { name: 'id', label: 'Id', type: 'number' },
        { name: 'stay_id', label: 'Stay', type: 'number' },
        { name: 'kind', label: 'Kind', type: 'text' },
        { name: 'amount', label: 'Amount', type: 'number', format: '0.00' },
      ],
      relations: [],
    },
    {
      name: 'task',
      label: 'Task',
      plural: 'Tasks',
      key: 'id',
      fields: [
        { name: 'id', label: 'Id', type: 'number' },
        { name: 'part_of', label: 'Part of', type: 'number' },
        { name: 'title', label: 'Title', type: 'text' },
        { name: 'hours', label: 'Hours', type: 'number' },
      ],
      relations: [{ name: 'parts', label: 'Parts', to: 'task', kind: 'many', on: [{ here: 'id', there: 'part_of' }] }],
    },
  ],
};

type Named = Record<string, string | number | null>;

/** Rows by entity, each with the ordinal of its parent as `in`. */
export type Rows = Record<string, Named[]>;

export const definition = (json: Record<string, unknown>): Report => {
  const read = readDefinition({ gaveta: 2, name: 'Test', model: 'huts', ...json });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};

export const plan = (report: Report, nested: Record<string, Report> = {}, language?: string) =>
  planReport(report, { models: [hutModel], report: (id) => nested[id] ?? null, language });

const wire = (level: Level, rows: Rows): WireRow[] =>
  (rows[level.entity.name] ?? []).map((row) => [
    Number(row.in ?? 1),
    ...level.columns.map((c) => (c.kind === 'field' ? (row[c.path.at(-1)!] ?? null) : null)),
  ]);

/** A source of rows, one in each batch, so that waiting happens wherever it can. */
export const rowsOf = (rows: Rows): ((level: Level) => AsyncGenerator<WireRow[]>) =>
  async function* (level) {
    for (const row of wire(level, rows)) yield [row];
  };

export interface LaidOut {
  pages: Page[];
  result: LayoutResult;
  /** Words of each page, from top to bottom. */
  text: string[][];
}

export const lay = (
  report: Report,
  rows: Rows,
  nested: Record<string, Report> = {},
  options: Partial<LayoutOptions> = {},
): Promise<LaidOut> => layPlan(plan(report, nested), rows, options);

export const layPlan = async (
  planned: ReportPlan,
  rows: Rows,
  options: Partial<LayoutOptions> = {},
): Promise<LaidOut> => {
  const { report } = planned;
  const prepared = await preparedReport(planned, testBook);
  const pages: Page[] = [];
  const result = await layoutReport(prepared, {
    parameters: readParameters(report, {}).values,
    regions: true,
    source: rowsOf(rows),
    onPage: (page) => void pages.push(page),
    ...options,
  });
  for (const { page, marks } of result.late) pages.find(({ number }) => number === page)?.marks.push(...marks);
  const words = (page: Page): string[] =>
    page.marks
      .filter((m): m is TextMark => m.kind === 'text')
      .sort((a, b) => a.y - b.y || a.x - b.x)
      .map((m) => m.text);
  return { pages, result, text: pages.map(words) };
};

/** A text of a band, 30 by 5 mm unless told otherwise. */
export const words = (id: string, text: string, x: number, more: object = {}) => ({
  kind: 'text',
  id,
  x,
  y: 0,
  width: 30,
  height: 5,
  content: [text],
  ...more,
});

export const field = (id: string, formula: string, more: Record<string, unknown> = {}) => ({
  kind: 'field',
  id,
  formula,
  x: 0,
  y: 0,
  width: 60,
  height: 5,
  ...more,
});
/** A nested report, by its id. */
export const nest = (report: string, more: Record<string, unknown> = {}) => ({
  kind: 'subreport',
  id: 's',
  x: 0,
  y: 0,
  width: 9,
  height: 9,
  report,
  ...more,
});
export const band = (height: number, ...items: unknown[]) => ({ height, items: items as Item[] });
/** A band with one formula. */
export const line = (id: string, formula: string, more: Record<string, unknown> = {}) => ({
  ...band(5, field(id, formula, { format: '' })),
  ...more,
});
