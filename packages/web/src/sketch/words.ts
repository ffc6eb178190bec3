import {
  type ColumnCondition,
  decodeValue,
  type Field,
  fieldFormat,
  formatValue,
  groupsOf,
  PERIOD_FORMATS,
  type Reached,
  reachedField,
  type Sketch,
  type SketchColumn,
  type SketchCondition,
  type SketchGroup,
  type WireValue,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** A label inside a sentence: “nights” and “charges: amount”, but “VAT rate”. German keeps its capitals. */
export const inSentence = (label: string, language: string): string =>
  language.startsWith('de')
    ? label
    : label.replace(
        /(^|: )(\p{Lu})(?=\p{Ll})/gu,
        (_, before: string, first: string) => before + first.toLocaleLowerCase(language),
      );

/** What a field along a way is called: “Hut” for its name, “Hut: Beds” for others. */
export const pathLabel = (path: string, reach: readonly Reached[]): string => {
  const found = reachedField(reach, path);
  if (!found) return path;
  const { at, field } = found;
  if (at.way.length === 0) return field.label;
  return field.name === 'name' && !at.isMany ? at.label : `${at.label}: ${field.label}`;
};

export const columnLabel = ({ label, field, name }: SketchColumn, reach: readonly Reached[]): string =>
  label ?? (field === undefined ? name : pathLabel(field, reach));

export const groupLabel = ({ label, field }: SketchGroup, reach: readonly Reached[]): string =>
  label ?? pathLabel(field, reach);

/** A group in a sentence: “hut”, or “month of arrival”. */
export const groupWords = (t: TFunction, group: SketchGroup, reach: readonly Reached[], language: string): string => {
  const label = inSentence(groupLabel(group, reach), language);
  return group.per === undefined ? label : t('sketch.periodOf', { per: t(`data.per_${group.per}`), of: label });
};

/** Several values of a group: “huts”, or “values of status”. */
export const groupPlural = (t: TFunction, group: SketchGroup, reach: readonly Reached[], language: string): string => {
  const found = reachedField(reach, group.field);
  const isNamed = found !== null && found.field.name === 'name' && group.per === undefined;
  if (isNamed) return inSentence(found.at.plural, language);
  return t('sketch.valuesOf', { of: inSentence(groupLabel(group, reach), language) });
};

/** The name of a column or group; its own where it is gone. */
export const labelOf = ({ columns, groups, across }: Sketch, name: string, reach: readonly Reached[]): string => {
  const column = columns.find((c) => c.name === name);
  if (column) return columnLabel(column, reach);
  const group = groupsOf({ groups, across }).find((g) => g.name === name);
  return group ? groupLabel(group, reach) : name;
};

/** A value of a field as tables and sentences show it; empty for a blank. */
export const valueText = (
  value: WireValue,
  field: Pick<Field, 'type' | 'format' | 'choices'> | undefined,
  { language, timeZone }: Pick<Sketch, 'language' | 'timeZone'>,
  format?: string,
): string => {
  if (value === null || !field) return value === null ? '' : String(value);
  const choice = field.choices?.find((c) => c.value === String(value));
  if (choice) return choice.label;
  const code = format ?? fieldFormat(field as Field, language, undefined) ?? '';
  return formatValue(decodeValue(value, field.type), code, { language, timeZone });
};

/** What values in a column are; numbers where it is worked out. */
const columnField = (
  { columns }: Sketch,
  { column: name }: ColumnCondition,
  reach: readonly Reached[],
): Pick<Field, 'type' | 'format'> => {
  const column = columns.find((one) => one.name === name);
  const found = column?.field === undefined ? null : reachedField(reach, column.field);
  return found && !column?.inner?.startsWith('COUNT') && !column?.total?.startsWith('COUNT')
    ? found.field
    : { type: 'number' };
};

/** Values that a sentence names before it only counts them. */
const MOST_NAMED = 3;

/** A condition in words: “arrival is between 1 Mar 2025 and 31 Mar 2025”. */
export const conditionWords = (
  t: TFunction,
  condition: SketchCondition,
  reach: readonly Reached[],
  sketch: Sketch,
): string => {
  if ('formula' in condition) return condition.label ?? condition.formula;
  const { is, to, orBlank } = condition;
  const per = 'field' in condition ? condition.per : undefined;
  const field =
    'field' in condition ? reachedField(reach, condition.field)?.field : columnField(sketch, condition, reach);
  const own = 'field' in condition ? pathLabel(condition.field, reach) : labelOf(sketch, condition.column, reach);
  const of = 'column' in condition ? sketch.groups.find(({ name }) => name === condition.of) : undefined;
  const plain = inSentence(own, sketch.language);
  const label = of
    ? t('sketch.groupsWith', { groups: groupPlural(t, of, reach, sketch.language), column: plain })
    : plain;
  const shown = (value: string | number | boolean): string => {
    if (field?.type === 'boolean') return t(value === true || value === 'true' ? 'data.yes' : 'data.no');
    // Periods of moments begin with a day, but for hours.
    const isDay = field?.type === 'datetime' && /^\d{4}-\d{2}-\d{2}$/.test(String(value));
    const shownField = isDay ? { ...field, type: 'date' as const } : field;
    return valueText(value, shownField, sketch, per ? PERIOD_FORMATS[per] : isDay ? PERIOD_FORMATS.day : undefined);
  };
  const listed = (values: readonly (string | number | boolean)[]): string => {
    const named = values.slice(0, MOST_NAMED).map(shown);
    const rest = values.length - named.length;
    const all = [
      ...named,
      ...(rest > 0 ? [t('sketch.more', { count: rest })] : []),
      ...(orBlank ? [t('data.blank')] : []),
    ];
    return new Intl.ListFormat(sketch.language, { type: is === 'notOneOf' ? 'conjunction' : 'disjunction' }).format(
      all,
    );
  };
  if (to === undefined) return `${label} ${t(`data.is_${is}`)}`;
  if ('from' in to) return t('sketch.between', { field: label, from: shown(to.from), to: shown(to.to) });
  if ('values' in to) {
    const verb = is === 'notOneOf' ? 'data.is_notEqual' : 'data.is_equal';
    return `${label} ${t(verb)} ${listed(to.values)}`;
  }
  if ('value' in to) return `${label} ${t(`data.is_${is}`)} ${shown(to.value)}`;
  return `${label} ${t(`data.is_${is}`)} ${'field' in to ? inSentence(pathLabel(to.field, reach), sketch.language) : to.parameter}`;
};

/** What a sketch is sorted by first, in words; null where it is not. */
export const orderWords = (t: TFunction, sketch: Sketch, reach: readonly Reached[]): string | null => {
  const [first, ...others] = sketch.order;
  if (!first) return null;
  const type = typeOf(sketch, first.by, reach);
  const label = inSentence(labelOf(sketch, first.by, reach), sketch.language);
  const way = first.descending ? 'descending' : 'ascending';
  const words = t(`sketch.order_${type}_${way}`, { label });
  return others.length === 0 ? words : t('sketch.thenBy', { words, count: others.length });
};

/** How values of a column or group are compared: as numbers, days or texts. */
export const typeOf = (sketch: Sketch, name: string, reach: readonly Reached[]): 'number' | 'date' | 'text' => {
  const column = sketch.columns.find((c) => c.name === name);
  const path = column?.field ?? groupsOf(sketch).find((g) => g.name === name)?.field;
  const type = path === undefined ? 'number' : reachedField(reach, path)?.field.type;
  if (column && (!sketch.rows || column.inner) && (column.inner ?? column.total)?.startsWith('COUNT')) return 'number';
  if (type === 'number') return 'number';
  return type === 'date' || type === 'datetime' ? 'date' : 'text';
};
