import type { WireValue } from '../value/value.ts';

/** A parameter's value as it travels: several choices as a list, or as a text with commas between them. */
export type GivenValue = WireValue | readonly (string | number)[];

/** Several values of one parameter: a list, or a text in which commas part them; a comma in a value is written `\,`. */
export const splitChoices = (given: GivenValue): string[] =>
  Array.isArray(given)
    ? given.map(String)
    : String(given)
        .split(/(?<!\\),/)
        .map((part) => part.trim().replace(/\\,/g, ','))
        .filter(Boolean);

export const joinChoices = (values: readonly string[]): string => values.map((v) => v.replace(/,/g, '\\,')).join(',');
