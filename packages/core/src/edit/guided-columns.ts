import type { Group, Item, Report } from '../definition/schema.ts';
import { type BandAddress, findBand, findDrawer } from '../definition/walk.ts';
import type { TotalName } from '../formula/functions/index.ts';
import { writtenName } from '../formula/tokens.ts';
import { columnSets, fitColumns, newColumnSet } from './columns.ts';
import { applyEdit } from './edit.ts';
import { groupValue } from './grouping.ts';
import { idMaker } from './ids.ts';
import type { Placeable } from './placing.ts';
import { STYLE_OF } from './themes.ts';

/** Least room for the words beside totals, in millimetres. */
const LABEL = 25;

/** How far each group moves in what it holds, in millimetres. */
export const INDENT = 4;

/** What the sums beside it add up: a group by its value, or everything. */
const totalLine = (
  idFor: (kind: string) => string,
  total: string,
  x: number,
  group: string | null,
  per: Group['per'],
): Item => ({
  kind: 'text',
  id: idFor('text'),
  x,
  y: 1,
  width: 60,
  height: 5,
  content: group === null ? [total] : [`${total} `, groupValue(group, per)],
  style: STYLE_OF.note,
});

const groupName = (path: readonly string[], taken: readonly string[] = []): string => {
  const plain = path.join('_');
  let name = plain;
  for (let n = 2; taken.includes(name); n++) name = `${plain}${n}`;
  return `by_${name}`;
};

export interface GroupPlace {
  idFor: (kind: string) => string;
  /** Where the outermost group starts, in millimetres, and where all end. */
  left: number;
  room: number;
  /** The word for it; null where nothing is added up. */
  total: string | null;
}

/** Groups by fields, outermost first, each with its value above its rows, and a line for its totals below. */
export const groupBands = (
  groups: readonly ({ path: readonly string[] } & Pick<Group, 'per' | 'width' | 'descending'>)[],
  { idFor, left, room, total }: GroupPlace,
): Group[] =>
  groups.map(({ path, per, width, descending }, i) => {
    const name = groupName(
      path,
      groups.slice(0, i).map((g) => groupName(g.path)),
    );
    const x = left + i * INDENT;
    return {
      name,
      by: path.map(writtenName).join('.'),
      ...(per && per !== 'value' ? { per } : {}),
      ...(width === undefined ? {} : { width }),
      ...(descending ? { descending } : {}),
      header: {
        height: 8,
        keepWith: 1,
        items: [
          {
            kind: 'field',
            id: idFor('field'),
            x,
            y: 1.5,
            width: room - x,
            height: 6,
            ...groupValue(name, per),
            style: STYLE_OF.heading,
          },
        ],
      },
      ...(total === null ? {} : { footer: { height: 7, items: [totalLine(idFor, total, x, name, per)] } }),
    };
  });

export interface ColumnsOfDrawer {
  /** Id of the drawer, whose groups have a footer with {@link totalLine} where there are totals. */
  drawer: string;
  fields: readonly Placeable[];
  totals: readonly { field: Placeable; name: TotalName }[];
  /** Where the drawer starts, in millimetres, and where it ends; each of its groups moves the columns in. */
  from: number;
  room: number;
  /** The word for it. */
  total: string;
  /** By the place of a field, where its column has one of its own: widths in millimetres, and number-format codes. */
  widths?: readonly (number | undefined)[];
  formats?: readonly (string | undefined)[];
}

/** Fields of a drawer as columns over the whole room, with totals below them for each group and for all rows. */
export const withColumns = (report: Report, given: ColumnsOfDrawer): Report => {
  const { drawer, fields, totals, from, room, total, widths, formats = [] } = given;
  let made = report;
  const found = () => findDrawer(made, drawer)!.drawer;
  if (fields.length === 0)
    return findBand(made, { drawer, band: 'detail' })
      ? made
      : applyEdit(made, { do: 'addBand', band: { drawer, band: 'detail' }, as: { height: 6, items: [] } });
  const left = from + (found().groups?.length ?? 0) * INDENT;
  const before = new Set(columnSets(made).keys());
  made = applyEdit(made, newColumnSet(made, { drawer, fields, left, right: room }));
  for (const [name, set] of columnSets(made))
    if (!before.has(name)) made = applyEdit(made, fitColumns(set, room, widths));
  for (const [i, format] of formats.entries())
    if (format !== undefined)
      made = applyEdit(made, { do: 'set', items: [found().detail!.items[i]!.id], settings: { format } });
  const values = found().detail!.items;
  const idFor = idMaker(made);
  // What the totals are of stands to their left, or above them where there is no room.
  const first = Math.min(room, ...totals.map(({ field }) => values[fields.indexOf(field)]!.x));
  const isTight = first - left < LABEL;
  const sums = (): Item[] =>
    totals.map(({ field, name }) => {
      const at = fields.indexOf(field);
      const { x, width, column } = values[at]!;
      // How many there are is none of them.
      const format = name.startsWith('COUNT') ? undefined : formats[at];
      return {
        kind: 'field',
        id: idFor('field'),
        x,
        y: isTight ? 6.5 : 1,
        width,
        height: 5,
        ...(column ? { column } : {}),
        formula: `${name}(${field.path.map(writtenName).join('.')})`,
        ...(format === undefined ? {} : { format }),
        style: STYLE_OF.total,
        ...(field.type === 'number' ? { look: { align: 'right' } } : {}),
      };
    });
  if (totals.length > 0) {
    const label = (band: BandAddress): void => {
      const words = findBand(made, band)!.items[0]!;
      const width = isTight ? room - words.x : Math.min(words.width, first - words.x - 2);
      made = applyEdit(made, { do: 'place', places: { [words.id]: { width } } });
    };
    for (const group of found().groups ?? []) {
      label({ drawer, band: 'footer', group: group.name });
      made = applyEdit(made, { do: 'add', band: { drawer, band: 'footer', group: group.name }, items: sums() });
    }
    made = applyEdit(made, {
      do: 'addBand',
      band: { drawer, band: 'footer' },
      as: { height: isTight ? 13 : 8, items: [totalLine(idFor, total, from, null, undefined), ...sums()] },
    });
    label({ drawer, band: 'footer' });
  }
  return made;
};
