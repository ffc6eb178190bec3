import {
  allBands,
  type BandAddress,
  type Drawer,
  drawersOf,
  type Entity,
  findDrawer,
  type Item,
  type Model,
  type Probe,
  type Report,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { create } from 'zustand';
import { fieldsOfRow } from '../../data/fields-of-row.ts';

/** What fields show on the board: their formulas, what these are called, or the values of a row. */
export const BOARD_SHOWS = ['formula', 'label', 'value'] as const;
export type BoardShows = (typeof BOARD_SHOWS)[number];

interface BoardWords {
  shows: BoardShows;
  /** Which of the rows of each band has its values shown, 0-based; the last one where there are fewer. */
  row: number;
  /** How many rows can be stepped through. */
  rows: number;
  /** What stands for the formulas of an item, in their order, by the item. Those of an item that is left out stand as they are. */
  words: Readonly<Record<string, readonly string[]>>;
}

const NOTHING: BoardWords = { shows: 'formula', row: 0, rows: 0, words: {} };

export const useBoardWords = create<BoardWords>(() => NOTHING);

/** The formulas whose values an item shows, in their order. */
export const formulasOf = (item: Item): Probe[] => {
  if (item.kind === 'field') return [{ formula: item.formula, format: item.format }];
  if (item.kind !== 'text') return [];
  return item.content.flatMap((piece) =>
    typeof piece === 'object' && 'formula' in piece ? [{ formula: piece.formula, format: piece.format }] : [],
  );
};

const PATH = /^[\p{L}_][\p{L}\p{N}_]*(?:\.[\p{L}_][\p{L}\p{N}_]*)*$/u;
const TOTAL = /^([A-Z]+)\(\s*([\p{L}\p{N}_.]+)\s*\)$/u;

interface Known {
  t: TFunction;
  report: Report;
  model: Model | null;
  entities: ReadonlyMap<string, Entity>;
}

/** What a formula is called where it is no more than a field, a parameter or a total of one; the formula itself otherwise. */
export const formulaLabel = (formula: string, address: BandAddress, known: Known): string => {
  const text = formula.trim();
  if (PATH.test(text)) return labelOf(text, address, known) ?? text;
  const [, name = '', path = ''] = TOTAL.exec(text) ?? [];
  const label = path === '' ? null : labelOf(path, address, known);
  const key = `viewer.origin.total_${name}`;
  const said = label === null ? key : known.t(key as 'viewer.origin.total_SUM', { of: label.toLowerCase() });
  return said === key ? text : said.charAt(0).toUpperCase() + said.slice(1);
};

/** The label of a field that a path names, the nearest one first; of a parameter; null for anything else. */
const labelOf = (path: string, { drawer }: BandAddress, { report, model, entities }: Known): string | null => {
  const around: Drawer[] = [];
  for (
    let at = drawer === null ? null : findDrawer(report, drawer);
    at;
    at = at.parent && findDrawer(report, at.parent.id)
  )
    around.push(at.drawer);
  const others = [...drawersOf(report)].map((at) => at.drawer).filter((one) => !around.includes(one));
  for (const one of [...around, ...others]) {
    const own = path.startsWith(`${one.name}.`) ? path.slice(one.name.length + 1) : path;
    const field = fieldsOfRow(entities.get(one.id) ?? null, model).find(
      ({ name, hidden }) => !hidden && (name === own || name === path),
    );
    if (field) return field.label;
  }
  return report.parameters.find(({ name }) => path === name || path === `parameters.${name}`)?.label ?? null;
};

/** What stands for the formulas of each item where names are shown as people see them. */
export const labelWords = (known: Known): BoardWords['words'] =>
  Object.fromEntries(
    [...allBands(known.report)].flatMap(({ band, address }) =>
      band.items.map((item) => [item.id, formulasOf(item).map(({ formula }) => formulaLabel(formula, address, known))]),
    ),
  );
