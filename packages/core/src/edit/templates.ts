import { type Item, pageSchema, type Report } from '../definition/schema.ts';
import { type Entity, type Field, findEntity, type Model, shownFields } from '../model/model.ts';
import { newColumnSet } from './columns.ts';
import { newDrawer } from './drawers.ts';
import { applyEdit, type Edit } from './edit.ts';
import { type GuidedChoices, guidedReport } from './guided.ts';
import { idMaker } from './ids.ts';
import { roomOf } from './paper.ts';
import { itemFor, type Placeable } from './placing.ts';
import { dressed, FURNITURE } from './themes.ts';

/** Shapes of reports that any rows can be put into. */
export const TEMPLATES = ['list', 'nested', 'cards', 'labels', 'letter'] as const;
export type Template = (typeof TEMPLATES)[number];

/** What a template is filled with: the rows and the settings of the guided start. */
export type TemplateChoices = Omit<GuidedChoices, 'fields' | 'groups' | 'totals' | 'layout'>;

const MOST_COLUMNS = 6;

const plain = (entity: Entity): Field[] => shownFields(entity.fields).filter((f) => f.type !== 'picture');

const choicesFor = (choices: TemplateChoices, entity: Entity, layout: GuidedChoices['layout']): GuidedChoices => ({
  ...choices,
  fields: plain(entity)
    .slice(0, layout === 'form' ? 20 : MOST_COLUMNS)
    .map((field) => ({ path: [field.name], field })),
  groups: [],
  totals: {},
  layout,
});

/** A whole report of an entity's rows in the shape of a template. */
export const templateReport = (template: Template, choices: TemplateChoices, entity: Entity, model: Model): Report => {
  switch (template) {
    case 'list':
      return guidedReport(choicesFor(choices, entity, 'columns'), entity);
    case 'cards':
      return guidedReport(choicesFor(choices, entity, 'form'), entity);
    case 'nested':
      return nested(guidedReport(choicesFor(choices, entity, 'columns'), entity), entity, model);
    case 'labels':
      return labels(choices, entity);
    case 'letter':
      return letter(choices, entity);
    default:
      return template satisfies never;
  }
};

const placeable = (report: Report, field: Field): Placeable => ({
  label: field.label,
  type: field.type,
  drawer: report.body[0]!,
  path: [field.name],
});

/** Each row with the rows that belong to it, as its relation to many says. */
const nested = (report: Report, entity: Entity, model: Model): Report => {
  const relation = entity.relations.find((r) => r.kind === 'many');
  const target = relation && findEntity(model, relation.to);
  if (!relation || !target) return report;
  const drawer = { ...newDrawer(report, { relation: relation.name }, target.name), detail: { height: 6, items: [] } };
  const within = applyEdit(report, { do: 'addDrawer', parent: 'rows', at: 0, drawer });
  const keys = new Set(relation.on.map((pair) => pair.there));
  const fields = plain(target)
    .filter((f) => !keys.has(f.name) && f.name !== target.key)
    .slice(0, MOST_COLUMNS)
    .map((f): Placeable => ({ label: f.label, type: f.type, drawer, path: [f.name] }));
  if (fields.length === 0) return within;
  const columns: Edit = newColumnSet(within, {
    drawer: drawer.id,
    fields,
    totals: true,
    left: 10,
    right: roomOf(report.page),
  });
  return applyEdit(within, columns);
};

/** Bands of a report whose labels fill their sheet. */
const NOT_ON_LABELS: readonly string[] = ['header', ...FURNITURE];

/** Three columns of labels, filled across. */
const labels = (choices: TemplateChoices, entity: Entity): Report => {
  const page = pageSchema.parse({ ...choices.page, margins: { top: 13, right: 8, bottom: 13, left: 8 } });
  const guided = guidedReport({ ...choicesFor(choices, entity, 'columns'), page, fields: [] }, entity);
  const report = Object.fromEntries(Object.entries(guided).filter(([key]) => !NOT_ON_LABELS.includes(key))) as Report;
  const idFor = idMaker(report);
  const width = (roomOf(page) - 2 * 4) / 3;
  const fields = plain(entity).filter((f) => f.name !== entity.key);
  const items = fields.slice(0, 4).map((field, i): Item => {
    const place = { x: 3, y: 3 + (i === 0 ? 0 : 2 + i * 6), width: width - 6, height: i === 0 ? 7 : 5 };
    const formula = field.name;
    return {
      kind: 'field',
      id: idFor('field'),
      ...place,
      formula,
      fit: 'shrink',
      ...dressed(report, i === 0 ? 'heading' : 'value'),
    };
  });
  return {
    ...report,
    body: [
      {
        ...report.body[0]!,
        columns: { count: 3, gap: 4, order: 'across' },
        detail: { height: 34, items, keepWhole: true },
      },
    ],
  };
};

/** A page for each row: letterhead, words with fields among them, a place to sign. */
const letter = (choices: TemplateChoices, entity: Entity): Report => {
  const report = guidedReport({ ...choicesFor(choices, entity, 'columns'), fields: [] }, entity);
  const room = roomOf(report.page);
  const idFor = idMaker(report);
  const [name, ...others] = plain(entity).filter((f) => f.name !== entity.key);
  const key = plain(entity).find((f) => f.name === entity.key);
  const first = name ?? key ?? entity.fields[0]!;
  const about = others.slice(0, 6);
  const lines: Item[] = about.map((field, i) => ({
    ...itemFor(report, placeable(report, field), { drawer: 'rows', band: 'detail' }, { x: 0, y: 62 + i * 7 }, 'text'),
    id: idFor('text'),
    width: room,
  }));
  const { header: _, ...rest } = report;
  return {
    ...rest,
    pageHeader: rest.pageHeader ?? {
      height: 24,
      items: [
        {
          kind: 'field',
          id: idFor('field'),
          x: 0,
          y: 2,
          width: room,
          height: 10,
          formula: 'report.name',
          ...dressed(report, 'title'),
        },
        {
          kind: 'line',
          id: idFor('line'),
          x: 0,
          y: 15,
          width: room,
          height: 0,
          color: '#1f2a2e',
          thickness: 0.3,
          dash: 'solid',
        },
      ],
    },
    body: [
      {
        ...report.body[0]!,
        detail: {
          height: 62 + about.length * 7 + 50,
          pageBreak: 'between',
          restartPages: true,
          items: [
            {
              kind: 'text',
              id: idFor('text'),
              x: room - 60,
              y: 4,
              width: 60,
              height: 5,
              content: [{ formula: 'report.run_at', format: 'd mmmm yyyy' }],
              ...dressed(report, 'note', { align: 'right' }),
            },
            {
              kind: 'field',
              id: idFor('field'),
              x: 0,
              y: 24,
              width: 90,
              height: 7,
              formula: first.name,
              ...dressed(report, 'heading'),
            },
            ...lines,
          ],
        },
      },
    ],
  };
};
