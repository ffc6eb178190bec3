import type { Drawer, Item, Report } from '../definition/schema.ts';
import { allBands, type BandAt, drawersOf } from '../definition/walk.ts';
import { parseFormula } from '../formula/parse.ts';
import { writtenText } from '../formula/tokens.ts';
import type { Tree } from '../formula/tree.ts';
import { linesUp, NEAR } from '../layout/captions.ts';
import { CalendarDate } from '../value/date.ts';
import { parseNumeric } from '../value/number.ts';
import type { WireValue } from '../value/value.ts';
import { columnSets, removeColumn } from './columns.ts';
import { applyEdit } from './edit.ts';

/** A column of rows as its reader sees it: a value of each row, under a caption. */
export interface ReaderColumn {
  /** Of the item that shows its values. */
  id: string;
  /** Its caption’s words. */
  label: string;
  /** The drawer whose rows it is of, by id. */
  drawer: string;
  /** Items that are its captions. */
  captions: string[];
  /** It can be left out: it is one of several. */
  mayBeHidden: boolean;
}

export interface ReaderSort {
  column: string;
  descending: boolean;
}

/** Only rows that have a value in a column. */
export interface ReaderFilter {
  column: string;
  type: 'text' | 'number' | 'boolean' | 'date';
  value: WireValue;
}

/** Rows in the way of one reader: nothing of the stored report is changed. */
export interface Arrangement {
  /** One for each drawer. */
  sorts: readonly ReaderSort[];
  filters: readonly ReaderFilter[];
  /** Columns that are left out. */
  hidden: readonly string[];
}

export const AS_MADE: Arrangement = { sorts: [], filters: [], hidden: [] };

/** What knows of rows before it, of its place or of the page, and so decides on no order. */
const IN_ORDER: ReadonlySet<string> = new Set(['RUNNING', 'ROWNUMBER', 'RANK', 'PREVIOUS']);

const wordsOf = (item: Item): string | null => {
  if (item.kind !== 'text' || item.content.length === 0) return null;
  const words = item.content.map((piece) => (typeof piece === 'string' ? piece : 'text' in piece ? piece.text : null));
  return words.includes(null) ? null : words.join('').replace(/\s+/g, ' ').trim();
};

/** The formula that an item shows, where it shows one and nothing else. */
const formulaOf = (item: Item): string | null => {
  if (item.kind === 'field' || item.kind === 'check') return item.formula;
  if (item.kind !== 'text') return null;
  const formulas = item.content.flatMap((piece) =>
    typeof piece === 'object' && 'formula' in piece ? [piece.formula] : [],
  );
  return formulas.length === 1 && item.content.length === 1 ? formulas[0]! : null;
};

const calls = (tree: Tree): string[] => {
  switch (tree.kind) {
    case 'call':
      return [tree.name.toUpperCase(), ...tree.arguments.flatMap(calls)];
    case 'unary':
      return calls(tree.operand);
    case 'binary':
      return [...calls(tree.left), ...calls(tree.right)];
    case 'list':
      return tree.items.flatMap(calls);
    case 'name':
      return tree.parts[0] === 'page' ? ['RUNNING'] : [];
    default:
      return [];
  }
};

const decides = (formula: string): boolean => {
  const parsed = parseFormula(formula);
  return parsed.ok && !calls(parsed.tree).some((name) => IN_ORDER.has(name));
};

const isSameColumn = (a: Item, b: Item): boolean =>
  a.column !== undefined && a.column.set === b.column?.set && a.column.name === b.column.name;

/** The bands above the rows of a drawer that may have its captions. */
const captionBands = (report: Report, drawer: Drawer, around: readonly Drawer[]): BandAt['band'][] => {
  const outer = around.flatMap(({ header, detail, groups }) => [
    header,
    detail,
    ...(groups ?? []).map((g) => g.header),
  ]);
  const pages = report.body.length === 1 ? [report.pageHeader, report.firstPageHeader, report.header] : [];
  const own = [drawer.header, drawer.pageHeader, ...(drawer.groups ?? []).map((g) => g.header)];
  return [...own, ...[...outer].reverse(), ...pages].filter((band) => band !== undefined);
};

/** The columns of a report whose captions stand above their values, drawer by drawer. */
export const readerColumns = (report: Report): ReaderColumn[] => {
  const sets = columnSets(report);
  const around = new Map<string, Drawer[]>();
  return [...drawersOf(report)].flatMap(({ drawer, parent }) => {
    around.set(drawer.id, parent ? [...(around.get(parent.id) ?? []), parent] : []);
    const found: ReaderColumn[] = [];
    const values = (drawer.detail?.items ?? []).filter((item) => {
      const formula = formulaOf(item);
      return formula !== null && decides(formula);
    });
    const bands = captionBands(report, drawer, around.get(drawer.id)!);
    for (const value of values)
      for (const band of bands) {
        const words = band.items.filter((item) => (wordsOf(item) ?? '') !== '');
        const own = words.filter((item) => isSameColumn(item, value));
        // A heading that happens to begin where a value does is no caption: captions come in rows.
        const lined = words.filter(
          (item) =>
            item.column === undefined &&
            linesUp(item, value) &&
            words.some((other) => other !== item && Math.abs(other.y - item.y) <= NEAR),
        );
        const captions = own.length > 0 ? own : lined;
        const [first] = captions;
        if (!first) continue;
        const set = value.column && sets.get(value.column.set);
        found.push({
          id: value.id,
          label: wordsOf(first)!,
          drawer: drawer.id,
          captions: captions.map(({ id }) => id),
          mayBeHidden: (set?.columns.length ?? 2) > 1,
        });
        break;
      }
    return found.length > 1 ? found : found.map((column) => ({ ...column, mayBeHidden: false }));
  });
};

/** How many columns there are of the drawer of one. */
const countOf = (columns: ReadonlyMap<string, ReaderColumn>, id: string): number => {
  const drawer = columns.get(id)?.drawer;
  return [...columns.values()].filter((column) => column.drawer === drawer).length;
};

/** Items in the footers of a drawer that line up with a value of its rows. */
const totalsUnder = (report: Report, id: string): string[] => {
  for (const { drawer } of drawersOf(report)) {
    const value = drawer.detail?.items.find((item) => item.id === id);
    if (!value) continue;
    const feet = [drawer.footer, drawer.detailFooter, ...(drawer.groups ?? []).map(({ footer }) => footer)];
    return feet.flatMap((band) =>
      (band?.items ?? []).filter((item) => formulaOf(item) !== null && linesUp(item, value)).map((item) => item.id),
    );
  }
  return [];
};

/** A value as a formula writes it; null for one that is none of its type. */
const literal = ({ type, value }: ReaderFilter): string | null => {
  if (value === null) return null;
  switch (type) {
    case 'text':
      return writtenText(String(value));
    case 'number':
      return parseNumeric(String(value)) === null ? null : String(value);
    case 'boolean':
      return value === true || value === 'true' ? 'TRUE()' : 'FALSE()';
    case 'date': {
      const day = CalendarDate.parse(String(value));
      return day ? `DATEVALUE("${day.toString()}")` : null;
    }
    default:
      return type satisfies never;
  }
};

const condition = (formula: string, filter: ReaderFilter): string | null => {
  if (filter.value === null) return `ISBLANK(${formula})`;
  const wanted = literal(filter);
  if (wanted === null) return null;
  return filter.type === 'text' ? `EXACT(${formula}; ${wanted})` : `(${formula}) = ${wanted}`;
};

const both = (filters: readonly (string | undefined)[]): string => {
  const all = filters.filter((one) => one !== undefined && one.trim() !== '');
  return all.length === 1 ? all[0]! : `AND(${all.join('; ')})`;
};

/**
 * A report with its rows in the way of one reader. What names a column that there is not, as after the report was changed, is
 * passed over.
 */
export const arranged = (report: Report, { sorts, filters, hidden }: Arrangement): Report => {
  const columns = new Map(readerColumns(report).map((column) => [column.id, column]));
  const items = new Map(
    [...allBands(report)].flatMap(({ band }) => band.items.map((item) => [item.id, item] as const)),
  );
  const formulaAt = (column: string): string | null => {
    const item = columns.has(column) ? items.get(column) : undefined;
    return item ? formulaOf(item) : null;
  };
  const changed = (drawer: Drawer): Drawer => {
    const isOwn = ({ column }: { column: string }): boolean => columns.get(column)?.drawer === drawer.id;
    const ordered = sorts.filter(isOwn).flatMap(({ column, descending }) => {
      const by = formulaAt(column);
      return by === null ? [] : [{ by, ...(descending ? { descending: true } : {}) }];
    });
    const kept = filters.filter(isOwn).flatMap((filter) => {
      const formula = formulaAt(filter.column);
      return (formula === null ? null : condition(formula, filter)) ?? [];
    });
    return {
      ...drawer,
      ...(ordered.length > 0 ? { sort: [...ordered, ...(drawer.sort ?? [])] } : {}),
      ...(kept.length > 0 ? { filter: both([drawer.filter, ...kept]) } : {}),
      ...(drawer.drawers ? { drawers: drawer.drawers.map(changed) } : {}),
    };
  };
  let next: Report = { ...report, body: report.body.map((set) => ({ ...set, ...changed(set) })) };
  for (const id of hidden) {
    const { column } = items.get(id) ?? {};
    const set = column && columns.get(id)?.mayBeHidden ? columnSets(next).get(column.set) : undefined;
    // One column at least stays.
    if (column && set) {
      if (set.columns.length > 1) next = applyEdit(next, removeColumn(set, column.name));
    } else if (columns.get(id)?.mayBeHidden && hidden.length < countOf(columns, id))
      next = applyEdit(next, { do: 'remove', items: [id, ...columns.get(id)!.captions, ...totalsUnder(report, id)] });
  }
  return next;
};
