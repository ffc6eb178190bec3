import {
  type Entity,
  type Field,
  findEntity,
  type Model,
  shownFields,
  withNames,
  writtenName,
} from '@gaveta/core/internal';

/** The fields of a row, and of the one row that each of its relations leads to, under names as `region.name`. */
export const fieldsOfRow = (entity: Entity | null, model: Model | null): Field[] => [
  ...(entity?.fields ?? []),
  ...(entity?.relations ?? [])
    .filter((r) => r.kind === 'one')
    .flatMap((relation) =>
      shownFields((model && findEntity(model, relation.to))?.fields ?? []).map((field) => ({
        ...field,
        name: `${relation.name}.${field.name}`,
        label: `${relation.label}: ${field.label}`,
      })),
    ),
];

/** A formula about one row in which fields may stand by their labels, as people see them. */
export const seenAs = (formula: string, fields: readonly Field[]): string =>
  withNames(
    formula,
    shownFields(fields).map(({ name, label }) => ({ insert: name.split('.').map(writtenName).join('.'), label })),
  );
