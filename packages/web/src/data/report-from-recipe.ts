import {
  type Field,
  pageSchema,
  type Report,
  reportFrame,
  reportSchema,
  type Source,
  shownFields,
  type Theme,
  widthBetween,
  writtenName,
} from '@gaveta/core/internal';
import type { RecipeDraft } from '../api/client.ts';
import { freeName } from './recipe-draft.ts';

/** What the page numbers say. */
const WORDS = { page: 'Page', of: 'of' };
/** Paper of a new report, and millimetres between its margins. */
const PAGE = pageSchema.parse({});
const WIDTH = widthBetween(PAGE);
const GAP = 2;
/** Most columns that a page takes. */
const MOST = 10;

const weightOf = (field: Field): number =>
  field.type === 'text' ? 2 : field.type === 'datetime' ? 1.5 : field.type === 'boolean' ? 0.7 : 1;

/** Down to a tenth of a millimetre, so that nothing ends past the margin. */
const rounded = (millimetres: number): number => Math.floor(millimetres * 10) / 10;

/** Captions and values of fields, beside one another from `left` to the right margin. */
const columnsOf = (prefix: string, fields: readonly Field[], left: number) => {
  const columns = shownFields(fields)
    .filter((f) => f.type !== 'picture')
    .slice(0, MOST);
  const whole = columns.reduce((sum, f) => sum + weightOf(f), 0) || 1;
  const room = WIDTH - left - GAP * (columns.length - 1);
  let x = left;
  const placed = columns.map((field) => {
    const at = { field, x: rounded(x), width: rounded((room * weightOf(field)) / whole) };
    x += (room * weightOf(field)) / whole + GAP;
    return at;
  });
  const align = (field: Field) => (field.type === 'number' ? { align: 'right' as const } : {});
  const captions = placed.map(({ field, x: at, width }, i) => ({
    kind: 'text' as const,
    id: `${prefix}caption${i + 1}`,
    x: at,
    y: 0.5,
    width,
    height: 5,
    content: [field.label],
    look: { size: 8.5, bold: true, color: '#55605f', ...align(field) },
  }));
  const values = placed.map(({ field, x: at, width }, i) => ({
    kind: 'field' as const,
    id: `${prefix}field${i + 1}`,
    x: at,
    y: 0.5,
    width,
    height: 5,
    formula: writtenName(field.name),
    look: { size: 9, ...align(field) },
  }));
  const line = { kind: 'line' as const, id: `${prefix}line`, x: left, y: 6.5, width: WIDTH - left, height: 0 };
  return { header: { height: 7, items: [...captions, line] }, detail: { height: 5.5, items: values } };
};

/** A list with a column for each field of a shared recipe, ready to be changed. */
export const reportFromRecipe = (
  id: string,
  draft: RecipeDraft,
  fields: readonly Field[],
  theme: Theme | null = null,
): Report => {
  const { header, detail } = columnsOf('', fields, 0);
  return reportSchema.parse({
    ...reportFrame(draft.name, PAGE, WORDS, theme ?? undefined),
    parameters: draft.parameters,
    queries: [{ name: 'rows', label: draft.name, recipe: id }],
    body: [{ id: 'rows', name: 'row', rows: { entity: 'rows' }, header: { ...header, everyPage: true }, detail }],
  });
};

interface NamedSource {
  from: Source;
  label: string;
  fields: readonly Field[];
}

/** A list of one source's rows, each with those of another below it, related by pairs of fields. */
export const reportFromRelation = (
  outer: NamedSource,
  inner: NamedSource,
  on: readonly { here: string; there: string }[],
  theme: Theme | null = null,
): Report => {
  const first = freeName(outer.label, []);
  const second = freeName(inner.label, [first]);
  const query = (name: string, { from, label }: NamedSource) =>
    'recipe' in from ? { name, label, recipe: from.recipe } : { name, label, steps: [{ step: 'take', from }] };
  const own = columnsOf('outer', outer.fields, 0);
  const below = columnsOf('inner', inner.fields, 8);
  return reportSchema.parse({
    ...reportFrame(`${outer.label}, ${inner.label.toLowerCase()}`, PAGE, WORDS, theme ?? undefined),
    queries: [query(first, outer), query(second, inner)],
    relations: [{ name: second, label: inner.label, from: first, to: second, kind: 'many', on }],
    body: [
      {
        id: 'outer',
        name: first,
        rows: { entity: first },
        header: { ...own.header, everyPage: true },
        detail: { ...own.detail, keepWith: 1 },
        drawers: [
          {
            id: 'inner',
            name: second,
            rows: { relation: second },
            header: below.header,
            detail: below.detail,
            footer: { height: 3, items: [] },
          },
        ],
      },
    ],
  });
};
