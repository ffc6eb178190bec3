import {
  DEFINITION_VERSION,
  type Group,
  type Item,
  type PageSetup,
  type Report,
  type RowGroup,
  reportSchema,
} from '../definition/schema.ts';
import type { TotalName } from '../formula/functions/index.ts';
import { writtenName } from '../formula/tokens.ts';
import { showCheck } from '../items/check/edit.ts';
import type { Entity, Field } from '../model/model.ts';
import type { DataType } from '../value/value.ts';
import { themeEdit } from './apply-theme.ts';
import { type CrosstabPart, partFor, withField } from './crosstab.ts';
import { applyEdit } from './edit.ts';
import { furnishedBands } from './furniture.ts';
import { groupBands, withColumns } from './guided-columns.ts';
import { idMaker } from './ids.ts';
import { itemWith } from './item-edit.ts';
import { groupBy, groupPer, totalOf } from './item-fields.ts';
import { roomOf } from './paper.ts';
import type { Placeable } from './placing.ts';
import { STYLE_OF, THEMES, type Theme, themedItem, themeStyles } from './themes.ts';

/** What the guided start asks for. */
export interface GuidedChoices {
  title: string;
  /** Where rows come from: an entity of a model, or a query of the report's own. */
  source: { model: string } | { queries: NonNullable<Report['queries']> };
  entity: string;
  /** Fields by path, in their order: `name`, `member.name`. */
  fields: readonly ChosenField[];
  /** Outermost first. */
  groups: readonly { path: readonly string[]; label: string; per: Group['per'] }[];
  /** Fields that get a total, by their paths joined by dots. */
  totals: Readonly<Record<string, TotalName>>;
  /** What rows are sorted by; null: as they come. Left out: see {@link usualSort}. */
  sort?: { path: readonly string[]; descending?: boolean } | null;
  layout: 'columns' | 'form' | 'crosstab';
  /** Whether a chart over the groups stands above the rows. */
  chart?: boolean;
  page: PageSetup;
  theme: Theme;
  language: string;
  timeZone: string;
  /** Words that the report itself shows. */
  words: { page: string; of: string; total: string };
}

export interface ChosenField {
  path: readonly string[];
  field: Pick<Field, 'name' | 'label' | 'type'>;
}

/** Height of a line of a form, in millimetres. */
const LINE = 6.5;

/** Title and page numbers of a new report, without rows. Its paper is that of the theme when left out. */
export const reportFrame = (
  name: string,
  page: PageSetup | undefined,
  words: { page: string; of: string },
  theme: Theme = THEMES[0]!,
): Report => {
  const paper = page ?? theme.page;
  const base = reportSchema.parse({
    gaveta: DEFINITION_VERSION,
    name,
    theme: theme.name,
    styles: themeStyles(theme),
    ...(paper ? { page: paper } : {}),
  });
  const room = roomOf(base.page);
  const frame: Report = {
    ...base,
    header: {
      height: 16,
      items: [
        {
          kind: 'field',
          id: 'title1',
          x: 0,
          y: 0,
          width: room,
          height: 11,
          formula: 'report.name',
          style: STYLE_OF.title,
        },
      ],
    },
    pageFooter: {
      height: 8,
      items: [
        {
          kind: 'text',
          id: 'pages1',
          x: Math.max(0, room - 60),
          y: 2,
          width: Math.min(60, room),
          height: 5,
          content: [`${words.page} `, { formula: 'page.number' }, ` ${words.of} `, { formula: 'page.count' }],
          style: STYLE_OF.note,
          look: { align: 'right' },
        },
      ],
    },
  };
  return { ...frame, ...furnishedBands(frame, theme) };
};

/**
 * What people expect rows to be sorted by: their first date, else their first text, else their first field. Null for rows
 * of a recipe, which has an order of its own.
 */
export const usualSort = ({ source, fields }: Pick<GuidedChoices, 'source' | 'fields'>): readonly string[] | null => {
  if ('queries' in source) return null;
  const first = (...types: DataType[]): ChosenField | undefined => fields.find((f) => types.includes(f.field.type));
  return (first('date', 'datetime') ?? first('text') ?? first('number', 'boolean'))?.path ?? null;
};

/** The report that the guided start makes, whole at every step: without fields it still has its title. */
export const guidedReport = (choices: GuidedChoices, entity: Entity): Report => {
  const { source, page, words } = choices;
  const frame: Report = {
    ...reportFrame(choices.title, page, words, choices.theme),
    language: choices.language,
    timeZone: choices.timeZone,
    ...source,
    body: [{ id: 'rows', name: entity.name, rows: { entity: entity.name } }],
  };
  const idFor = idMaker(frame);
  const drawer = frame.body[0]!;
  const fields = choices.fields.map(
    ({ path, field }): Placeable => ({ label: field.label, type: field.type, drawer, path: [...path] }),
  );
  const room = roomOf(page);
  const totals = fields.flatMap((field) => {
    const name = choices.totals[field.path.join('.')];
    return name ? [{ field, name }] : [];
  });
  const groups = groupBands(choices.groups, { idFor, left: 0, room, total: totals.length > 0 ? words.total : null });
  const usual = usualSort(choices);
  const { sort = usual && { path: usual } } = choices;
  const order = sort ? [{ by: sort.path.join('.'), ...(sort.descending ? { descending: true } : {}) }] : [];
  const withGroups: Report = {
    ...frame,
    body: [
      {
        ...drawer,
        ...(groups.length > 0 ? { groups } : {}),
        ...(order.length > 0 ? { sort: order } : {}),
      },
    ],
  };
  if (choices.layout === 'crosstab') {
    const crossed = asCrosstab(frame, choices, fields, room);
    return choices.chart ? withChart(crossed, choices, fields, room) : crossed;
  }
  const filled =
    choices.layout === 'columns'
      ? withColumns(withGroups, { drawer: 'rows', fields, totals, from: 0, room, total: words.total })
      : asForm(withGroups, fields, room);
  const charted = choices.chart ? withChart(filled, choices, fields, room) : filled;
  return applyEdit(charted, themeEdit(charted, choices.theme));
};

/** Height of the chart that the guided start makes, in millimetres. */
const CHART_HEIGHT = 62;

/** What the groups, or the first field that is none to add up, have of the first number: a chart below the title. */
const withChart = (report: Report, choices: GuidedChoices, fields: readonly Placeable[], room: number): Report => {
  const { header } = report;
  const fieldOf = (path: readonly string[]): Placeable | undefined =>
    fields.find((field) => String(field.path) === String(path));
  const reached = ({ label, type, path }: Placeable) => ({ label, type, formula: path.join('.') });
  const [first, second] = choices.groups;
  const isText = ({ type }: Placeable): boolean => type === 'date' || type === 'datetime' || type === 'text';
  const along = first
    ? {
        per: first.per,
        field: fieldOf(first.path) ?? {
          label: first.label,
          type: 'text' as const,
          drawer: null,
          path: [...first.path],
        },
      }
    : { per: undefined, field: fields.find(isText) };
  if (!header || !along.field) return report;
  const groupOf = (field: Placeable, per: Group['per'], taken: ReadonlySet<string>): RowGroup => {
    const group = groupBy(reached(field), taken);
    return per ? groupPer(group, per) : group;
  };
  const axis = groupOf(along.field, along.per, new Set());
  const split = second && fieldOf(second.path);
  const number = fields.find(({ type, path }) => type === 'number' && String(path) !== String(along.field?.path));
  const total = number && choices.totals[number.path.join('.')];
  const measure = number
    ? { ...totalOf(reached(number)), ...(total ? { formula: `${total}(${number.path.join('.')})` } : {}) }
    : { formula: `COUNT(${writtenName(report.body[0]!.name)})`, caption: choices.words.total };
  const item = itemWith(
    'chart',
    { id: idMaker(report)('chart'), x: 0, y: header.height, width: room, height: CHART_HEIGHT },
    {
      type: 'column',
      along: {
        ...axis,
        ...(axis.per && axis.per !== 'value'
          ? {}
          : { first: MOST_PLACES, order: measure.formula, descending: true, others: OTHERS }),
      },
      ...(split ? { split: groupOf(split, second.per, new Set([axis.name])) } : {}),
      measures: [measure],
      ...themedItem('chart', choices.theme),
    },
  );
  return { ...report, header: { ...header, height: header.height + CHART_HEIGHT + 4, items: [...header.items, item] } };
};

/** Most places along the axis of a chart that the guided start makes. */
const MOST_PLACES = 20;
/** What the places past those are called, in no language. */
const OTHERS = '…';

/** Most groups that the guided start puts down a crosstab by itself. */
const MOST_DOWN = 2;

/** Groups and texts down, a date across by month, numbers in the cells; what is chosen as a total is counted so. */
const asCrosstab = (report: Report, choices: GuidedChoices, fields: readonly Placeable[], room: number): Report => {
  const id = idMaker(report)('crosstab');
  let item = itemWith(
    'crosstab',
    { id, x: 0, y: 2, width: room, height: 30 },
    {
      down: [],
      across: [],
      cells: [],
      ...themedItem('crosstab', choices.theme),
    },
  );
  const add = (part: CrosstabPart, { label, type, path }: Placeable): void => {
    item = { ...item, ...withField(item, part, { label, type, formula: path.join('.') }) };
  };
  const isGroup = ({ path }: Placeable): boolean => choices.groups.some((group) => String(group.path) === String(path));
  for (const { path, label, per } of choices.groups) {
    const field = fields.find((one) => String(one.path) === String(path));
    add('down', {
      label,
      type: per && per !== 'value' ? 'date' : (field?.type ?? 'text'),
      drawer: null,
      path: [...path],
    });
    const down = item.down.map((group, i) => (i === item.down.length - 1 && per ? groupPer(group, per) : group));
    item = { ...item, down };
  }
  for (const field of fields) {
    if (isGroup(field) || field.type === 'picture') continue;
    const total = choices.totals[field.path.join('.')];
    const part = total ? 'cells' : partFor(field.type);
    if (part === 'down' && item.down.length >= MOST_DOWN) continue;
    if (part === 'across' && item.across.length > 0) continue;
    add(part, field);
    if (!total) continue;
    const formula = `${total}(${field.path.join('.')})`;
    item = { ...item, cells: item.cells.map((cell, i) => (i === item.cells.length - 1 ? { ...cell, formula } : cell)) };
  }
  // Without a number it says how many rows there are.
  if (item.cells.length === 0 && item.down.length + item.across.length > 0)
    item = {
      ...item,
      cells: [{ formula: `COUNT(${writtenName(report.body[0]!.name)})`, caption: choices.words.total }],
    };
  return { ...report, body: [{ ...report.body[0]!, header: { height: 34, items: [item] } }] };
};

/** One field below the other, its caption to its left. */
const asForm = (report: Report, fields: readonly Placeable[], room: number): Report => {
  const idFor = idMaker(report);
  let y = 1;
  const items = fields.flatMap((field): Item[] => {
    const isPicture = field.type === 'picture';
    const height = isPicture ? 30 : 5;
    const caption: Item = {
      kind: 'text',
      id: idFor('text'),
      x: 0,
      y,
      width: 38,
      height: 5,
      content: [field.label],
      style: STYLE_OF.caption,
    };
    const place = { x: 42, y, width: isPicture ? 45 : Math.max(20, room - 42), height };
    const formula = field.path.join('.');
    const value: Item = isPicture
      ? { kind: 'picture', id: idFor('picture'), ...place, formula, fit: 'whole', alternative: field.label }
      : field.type === 'boolean'
        ? itemWith('check', { id: idFor('check'), ...{ ...place, width: 5 } }, showCheck.own(formula, {}))
        : { kind: 'field', id: idFor('field'), ...place, formula, style: STYLE_OF.value };
    y += height + LINE - 5;
    return [caption, value];
  });
  return {
    ...report,
    body: [{ ...report.body[0]!, keepRow: true, detail: { height: y + 4, items, keepWhole: true } }],
  };
};
