import { type Value, valueText } from '@gaveta/core/internal';

/**
 * A value as data files have it: every digit of a number, days and times as ISO 8601 has them, `true` and `false`; an error as it is
 * shown. Null where there is no value.
 */
export const dataText = (value: Value): string | null => {
  if (value === null) return null;
  if (typeof value === 'boolean') return value ? 'true' : 'false';
  return valueText(value);
};

/** What a file can hold of text: characters without a partner are replaced. */
export const wellFormed = (text: string): string => text.toWellFormed();
