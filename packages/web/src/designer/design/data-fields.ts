import {
  drawersOf,
  type Entity,
  fieldsAlong,
  findEntity,
  type Model,
  type OwnRows,
  PAGE_VALUES,
  type PageValueName,
  type Placeable,
  parameterType,
  type Report,
  shownFields,
} from '@gaveta/core/internal';
import { drawerLabel } from './words.ts';

export interface FieldGroup {
  id: string;
  label: string;
  note: string;
  fields: Placeable[];
}

interface Words {
  parameters: string;
  page: string;
  calculated: string;
  ofRow: (name: string) => string;
  all: (name: string) => string;
  pageValue: (name: PageValueName) => string;
}

/**
 * What can be placed: fields of each drawer, innermost first; of rows that each of its rows leads to; of rows that could
 * be a drawer inside it; parameters and page values.
 */
export const fieldGroups = (
  report: Report,
  model: Model | null,
  entities: ReadonlyMap<string, Entity>,
  words: Words,
): FieldGroup[] => {
  const groups: FieldGroup[] = [];
  const drawers = [...drawersOf(report)];
  const possible: FieldGroup[] = [];
  for (const { drawer } of [...drawers].reverse()) {
    const entity = entities.get(drawer.id);
    if (!model || !entity) continue;
    const name = drawerLabel(drawer).toLowerCase();
    const own = shownFields(entity.fields).map(
      (f): Placeable => ({ label: f.label, type: f.type, drawer, path: [f.name] }),
    );
    const grouped = (drawer.groups ?? []).map(
      (g): Placeable => ({ label: words.calculated.replace('…', g.name), type: 'text', drawer, path: [g.name] }),
    );
    groups.push({ id: drawer.id, label: drawerLabel(drawer), note: '', fields: [...own, ...grouped] });
    for (const relation of entity.relations) {
      const target = findEntity(model, relation.to);
      // What a drawer around it or inside it brings is listed there.
      if (!target || drawers.some((d) => d.drawer.name === relation.name)) continue;
      const isThere = drawer.drawers?.some((d) => 'relation' in d.rows && d.rows.relation === relation.name) ?? false;
      if (relation.kind === 'many' && isThere) continue;
      const fields = shownFields(target.fields).map(
        (f): Placeable =>
          relation.kind === 'one'
            ? { label: f.label, type: f.type, drawer, path: [relation.name, f.name] }
            : { label: f.label, type: f.type, drawer, path: [f.name], relation: relation.name },
      );
      const group = {
        id: `${drawer.id}.${relation.name}`,
        label: relation.label,
        note: relation.kind === 'one' ? words.ofRow(name) : words.all(name),
        fields,
      };
      if (relation.kind === 'one') groups.push(group);
      else possible.push(group);
    }
  }
  groups.push(...possible);
  const parameters = report.parameters.map((p): Placeable => {
    const type = parameterType(p);
    return { label: p.label, type: type === 'list' || type === 'any' ? 'text' : type, drawer: null, path: [p.name] };
  });
  if (parameters.length > 0)
    groups.push({ id: 'parameters', label: words.parameters, note: String(parameters.length), fields: parameters });
  const page = PAGE_VALUES.map(
    (name): Placeable => ({
      label: words.pageValue(name),
      type: name === 'report.name' ? 'text' : name === 'report.run_at' ? 'datetime' : 'number',
      drawer: null,
      path: name.split('.'),
    }),
  );
  groups.push({ id: 'page', label: words.page, note: '', fields: page });
  return groups;
};

/** What a report without rows can begin with: the tables of its data model, or of all there are. */
export const tableGroups = (
  models: readonly Pick<Model, 'name' | 'label' | 'entities'>[],
  wanted: string | undefined,
  note: (model: string) => string,
): FieldGroup[] =>
  models
    .filter((model) => wanted === undefined || model.name === wanted)
    .flatMap((model) =>
      model.entities
        .filter((entity) => !entity.arguments)
        .map((entity) => ({
          id: `${model.name}/${entity.name}`,
          label: entity.plural,
          note: note(model.label),
          fields: shownFields(entity.fields).map(
            (f): Placeable => ({
              label: f.label,
              type: f.type,
              drawer: null,
              path: [f.name],
              table: { model: model.name, entity: entity.name },
            }),
          ),
        })),
    );

/** Fields of the rows that an item has for itself, those of the one row that each of them leads to included. */
export const rowsGroup = (model: Model, entity: Entity, rows: OwnRows | undefined, note: string): FieldGroup => {
  const of =
    rows && 'relation' in rows ? { relation: rows.relation } : { table: { model: model.name, entity: entity.name } };
  return {
    id: `rows of ${entity.name}`,
    label: entity.plural,
    note,
    fields: fieldsAlong(entity, model).map((field) => ({ ...field, drawer: null, ...of })),
  };
};
