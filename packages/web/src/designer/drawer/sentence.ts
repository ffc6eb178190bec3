import {
  conditionOf,
  type Drawer,
  type Entity,
  type Field,
  type Model,
  type Parameter,
  type Report,
  type Sort,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { fieldsOfRow } from '../../data/fields-of-row.ts';
import { conditionLines, type Word } from '../../data/step-words.ts';
import { drawerLabel, nameLabel } from '../design/words.ts';

/** Whether rows can be grouped by a field, those of dates by several stretches. */
export const canGroup = (drawer: Drawer, field: Field): boolean =>
  field.type !== 'picture' &&
  (field.type === 'date' || field.type === 'datetime' || !drawer.groups?.some((g) => g.by === field.name));

/** “Stays of each hut”: whose rows a drawer holds. */
export const rowsWords = (t: TFunction, drawer: Drawer, outer: string | null, entity: Entity | null): string => {
  const rows = entity?.plural ?? drawerLabel(drawer);
  return outer === null ? rows : t('drawer.ofEach', { rows, outer: nameLabel(outer).toLowerCase() });
};

const wordText = (word: Word): string =>
  typeof word === 'string'
    ? word
    : 'field' in word
      ? word.field
      : 'parameter' in word
        ? `“${word.parameter}”`
        : word.code;

/** A filter in words, “status is stayed and nights is above 2”. */
export const filterWords = (
  t: TFunction,
  filter: string,
  fields: readonly Field[],
  parameters: readonly Parameter[],
): string =>
  conditionLines(conditionOf(filter, fields), { t, fields, parameters, source: () => '' })
    .map((line) => line.map(wordText).join(' '))
    .join(' ');

const fieldLabel = (by: string, fields: readonly Field[]): string =>
  fields.find((f) => f.name === by)?.label.toLowerCase() ?? by;

/** “newest first”, “by name”: one way of sorting in words. */
export const sortWords = (t: TFunction, sort: Sort, fields: readonly Field[]): string => {
  const field = fields.find((f) => f.name === sort.by);
  if (field?.type === 'date' || field?.type === 'datetime')
    return t(sort.descending ? 'drawer.newest' : 'drawer.oldest', { field: field.label.toLowerCase() });
  if (field?.type === 'number')
    return t(sort.descending ? 'drawer.largest' : 'drawer.smallest', { field: field.label.toLowerCase() });
  return t(sort.descending ? 'drawer.byTurned' : 'drawer.by', { field: fieldLabel(sort.by, fields) });
};

/** How an order of values of a field is said. */
export const orderOf = (field: Field | undefined): 'text' | 'number' | 'date' | 'boolean' | 'any' => {
  const type = field?.type;
  if (type === 'datetime') return 'date';
  return type === undefined || type === 'picture' ? 'any' : type;
};

export const groupsWords = (t: TFunction, drawer: Drawer, fields: readonly Field[]): string =>
  (drawer.groups ?? [])
    .map(({ by, per }) =>
      per && per !== 'value'
        ? t('drawer.groupPer', { field: fieldLabel(by, fields), per: t(`drawer.per_${per}`) })
        : fieldLabel(by, fields),
    )
    .join(t('drawer.then'));

/** The whole sentence above a drawer, as people would say it. */
export const drawerSentence = (
  t: TFunction,
  report: Report,
  drawer: Drawer,
  parent: Drawer | null,
  entity: Entity | null,
  model: Model | null,
): string => {
  const fields = fieldsOfRow(entity, model);
  const parts = [rowsWords(t, drawer, parent?.name ?? null, entity)];
  if (drawer.first !== undefined) parts.push(t('drawer.firstN', { count: drawer.first }));
  if (drawer.sort?.length) parts.push(drawer.sort.map((s) => sortWords(t, s, fields)).join(t('drawer.then')));
  if (drawer.filter) parts.push(t('drawer.only', { words: filterWords(t, drawer.filter, fields, report.parameters) }));
  if (drawer.groups?.length) parts.push(t('drawer.groupedBy', { words: groupsWords(t, drawer, fields) }));
  return parts.join(', ');
};
