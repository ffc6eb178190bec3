import { completionsFor } from '../data/completions.ts';
import type { PlanContext } from '../data/planned.ts';
import type { Item, ItemOf, Report } from '../definition/schema.ts';
import { type BandAddress, DRAWER_BANDS, findBand, findDrawer, findItem, partAtPath } from '../definition/walk.ts';
import type { Problem } from '../problems/problem.ts';
import { nearest } from '../problems/suggest.ts';
import { type Edit, rounded, type Settings } from './edit.ts';
import { addHeading } from './folding.ts';
import { linksFor } from './links.ts';
import { roomIn, roomOf } from './paper.ts';
import { totalFormula, totalParts } from './totals.ts';

/** One sure way to mend a problem. `words` names it; `data` fills the words. */
export interface Mend {
  words:
    | 'rename'
    | 'total'
    | 'bringInside'
    | 'grow'
    | 'removeParameter'
    | 'addBand'
    | 'addHeader'
    | 'dropStyle'
    | 'dropFont'
    | 'keepFirst'
    | 'linearScale'
    | 'asColumns'
    | 'count'
    | 'link'
    | 'unlink';
  data: Record<string, string>;
  edit: Edit;
}

/** How many columns are kept of a crosstab that has too many, and of what a chart has too many of. */
const FIRST_ACROSS = 20;
const FIRST_PANELS = 12;

/** How many values there are of what a total of texts is over; null for any other formula. */
const countedFormula = (source: string): string | null => {
  const parts = totalParts(source);
  return parts ? totalFormula({ ...parts, name: 'COUNTA' }) : null;
};

/** The mend of a problem when there is one that is surely meant; null otherwise. */
export const mendFor = (report: Report, problem: Problem, context: PlanContext): Mend | null => {
  const { place, data } = problem;
  const name = String(data.name ?? '');
  const found = place.item === undefined ? null : findItem(report, place.item);
  switch (problem.code) {
    case 'unknown-name':
      return renaming(report, problem, name, found?.at.address ?? null, context);
    case 'needs-one-row':
      return found ? inFormulas(report, problem, name, `SUM(${name})`, 'total') : null;
    case 'outside-page':
      return found && bringInside(report, found.item);
    case 'text-cut-off':
      return found && { words: 'grow', data: {}, edit: setting(found.item.id, { grow: null }) };
    case 'too-many-across': {
      if (found?.item.kind !== 'crosstab') return null;
      const { id, across } = found.item;
      const last = across.length - 1;
      const cut = across.map((group, i) => (i === last ? { ...group, first: FIRST_ACROSS } : group));
      return { words: 'keepFirst', data: { count: String(FIRST_ACROSS) }, edit: setting(id, { across: cut }) };
    }
    case 'too-many-places':
    case 'too-many-series':
    case 'too-many-panels': {
      const part = ({ 'too-many-places': 'along', 'too-many-series': 'split', 'too-many-panels': 'panels' } as const)[
        problem.code
      ];
      if (found?.item.kind !== 'chart' && found?.item.kind !== 'map') return null;
      const group = part in found.item ? found.item[part as 'along'] : undefined;
      if (!group) return null;
      const first = part === 'panels' ? FIRST_PANELS : FIRST_ACROSS;
      return {
        words: 'keepFirst',
        data: { count: String(first) },
        edit: setting(found.item.id, { [part]: { ...group, first } }),
      };
    }
    case 'log-not-positive': {
      if (found?.item.kind !== 'chart') return null;
      const linear = ({ log: _, ...scale }: NonNullable<ItemOf<'chart'>['scale']>) => scale;
      const { id, scale, secondScale } = found.item;
      const settings = {
        ...(scale ? { scale: linear(scale) } : {}),
        ...(secondScale ? { secondScale: linear(secondScale) } : {}),
      };
      return { words: 'linearScale', data: {}, edit: setting(id, settings) };
    }
    case 'slices-not-positive':
      return found && { words: 'asColumns', data: {}, edit: setting(found.item.id, { type: 'column' }) };
    case 'wrong-type': {
      const at = /\/measures\/(\d+)/.exec(place.path ?? '')?.[1];
      if (at === undefined || found?.item.kind !== 'chart') return null;
      const { id, measures } = found.item;
      const measure = measures[Number(at)];
      const counted = measure && countedFormula(measure.formula);
      if (!counted) return null;
      const changed = measures.map((one, i) => (i === Number(at) ? { ...one, formula: counted } : one));
      return { words: 'count', data: {}, edit: setting(id, { measures: changed }) };
    }
    case 'fold-without-heading': {
      const edit = addHeading(report, place);
      return edit && { words: 'addHeader', data: {}, edit };
    }
    case 'unused-parameter': {
      const parameters = report.parameters.filter((p) => p.name !== name);
      return { words: 'removeParameter', data: { name }, edit: { do: 'report', settings: { parameters } } };
    }
    case 'drawer-without-bands':
      return place.drawer === undefined
        ? null
        : {
            words: 'addBand',
            data: {},
            edit: {
              do: 'addBand',
              band: { drawer: place.drawer, band: 'detail' },
              as: { height: 8, items: [] },
            },
          };
    case 'unknown-style':
      return found && { words: 'dropStyle', data: { name }, edit: setting(found.item.id, { style: null }) };
    case 'unknown-font':
      return (
        found && {
          words: 'dropFont',
          data: { name },
          edit: { do: 'look', items: [found.item.id], look: { font: null } },
        }
      );
    case 'missing-link': {
      if (found?.item.kind !== 'subreport') return null;
      const { id, links, report: nested } = found.item;
      const parameters = context.report(nested)?.parameters.filter((p) => p.name === name) ?? [];
      const matched = linksFor(report, found.at.address, parameters, context);
      return Object.keys(matched).length === 0
        ? null
        : { words: 'link', data: { name }, edit: setting(id, { links: { ...links, ...matched } }) };
    }
    case 'unknown-link': {
      if (found?.item.kind !== 'subreport') return null;
      const { [name]: _, ...links } = found.item.links;
      return { words: 'unlink', data: { name }, edit: setting(found.item.id, { links }) };
    }
    default:
      return null;
  }
};

const setting = (id: string, settings: Settings): Edit => ({ do: 'set', items: [id], settings });

/** The name in reach that is nearest to the unknown one. */
const renaming = (
  report: Report,
  problem: Problem,
  name: string,
  at: BandAddress | null,
  context: PlanContext,
): Mend | null => {
  const part = partAtPath(report, problem.place.path ?? '');
  const own = part?.kind === 'drawer' ? ({ drawer: part.drawer, band: 'detail' } as const) : part?.band;
  const address = at ?? own;
  if (!address) return null;
  const names = completionsFor(report, address, context)
    .filter((c) => c.kind !== 'function' && c.kind !== 'total' && c.kind !== 'scope')
    .map((c) => c.insert);
  const meant = nearest(name, names);
  return meant === null ? null : inFormulas(report, problem, name, meant, 'rename');
};

/** Writes another name in the formulas of the item or drawer that the problem is about. */
const inFormulas = (
  report: Report,
  { place }: Problem,
  name: string,
  to: string,
  words: 'rename' | 'total',
): Mend | null => {
  const pattern = new RegExp(
    `(?<![\\p{L}\\p{N}_.])${name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}(?![\\p{L}\\p{N}_(])`,
    'gu',
  );
  const outsideQuotes = (formula: string): string =>
    formula
      .split(/("(?:[^"]|"")*")/)
      .map((part, i) => (i % 2 === 0 ? part.replace(pattern, to) : part))
      .join('');
  const data = { name, to };
  if (place.item !== undefined) {
    const item = findItem(report, place.item)?.item;
    if (!item) return null;
    const settings = changedFormulas(item as unknown as Settings, outsideQuotes);
    return Object.keys(settings).length > 0 ? { words, data, edit: setting(item.id, settings) } : null;
  }
  const part = partAtPath(report, place.path ?? '');
  const holder = part?.kind === 'band' ? findBand(report, part.band) : findDrawer(report, part?.drawer ?? '')?.drawer;
  if (!part || !holder) return null;
  const own = Object.entries(holder).filter(([key]) => !NESTED.has(key));
  const settings = changedFormulas(Object.fromEntries(own), outsideQuotes);
  if (Object.keys(settings).length === 0) return null;
  const edit: Edit =
    part.kind === 'band' ? { do: 'band', band: part.band, settings } : { do: 'drawer', drawer: part.drawer, settings };
  return { words, data, edit };
};

/** Parts of bands and drawers that have formulas of their own. */
const NESTED: ReadonlySet<string> = new Set(['items', 'drawers', ...DRAWER_BANDS]);

/** Settings that hold formulas, by name; everything below `links` and `formulas` is one. */
const FORMULA_KEYS = new Set([
  'formula',
  'by',
  'filter',
  'when',
  'showIf',
  'breakIf',
  'anchor',
  'indent',
  'order',
  'address',
]);

const changedFormulas = (settings: Settings, change: (formula: string) => string): Settings => {
  const walk = (value: unknown, isFormula: boolean): unknown => {
    if (typeof value === 'string') return isFormula ? change(value) : value;
    if (Array.isArray(value)) return value.map((v) => walk(v, false));
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, v]) => [key, walk(v, isFormula || FORMULA_KEYS.has(key))]),
    );
  };
  const changed: Settings = {};
  for (const [key, value] of Object.entries(settings)) {
    const next = walk(value, FORMULA_KEYS.has(key) || key === 'links' || key === 'formulas');
    if (JSON.stringify(next) !== JSON.stringify(value)) changed[key] = next;
  }
  return changed;
};

const bringInside = (report: Report, item: Item): Mend => {
  const at = findItem(report, item.id)?.at;
  const room = at ? roomIn(report, at.address) : roomOf(report.page);
  const width = Math.min(item.width, room);
  const x = Math.max(0, Math.min(item.x, room - width));
  const places = { [item.id]: { x: rounded(x), width: rounded(width) } };
  return { words: 'bringInside', data: {}, edit: { do: 'place', places } };
};
