import type { RowGroup } from '../definition/schema.ts';
import { CalendarDate, DAY, Moment } from '../value/date.ts';
import { add, compareNumeric, isNumeric, type Numeric, toNumber } from '../value/number.ts';
import type { Value } from '../value/value.ts';

/** Most values that are filled in between two. */
const MOST_FILLED = 5_000;

const HOUR = 3_600_000;

/** What comes after a value of a group that goes by periods or ranges; null for any other. */
const stepOf = ({ per = 'value', width = 10 }: RowGroup): ((value: Value) => Value) | null => {
  const months = (count: number) => (value: Value) => {
    if (!(value instanceof CalendarDate)) return null;
    const { year, month } = value.parts();
    const next = month - 1 + count;
    return CalendarDate.of(year + Math.floor(next / 12), (next % 12) + 1, 1);
  };
  const days = (count: number) => (value: Value) =>
    value instanceof CalendarDate ? CalendarDate.at(value.day + count) : null;
  switch (per) {
    case 'year':
      return months(12);
    case 'quarter':
      return months(3);
    case 'month':
      return months(1);
    case 'week':
      return days(7);
    case 'day':
      return days(1);
    case 'hour':
      return (value) => (value instanceof Moment ? Moment.at(value.ms + HOUR) : null);
    case 'range':
      return (value) => (isNumeric(value) ? add(value, width) : null);
    case 'value':
    case 'letter':
      return null;
    default:
      return per satisfies never;
  }
};

const placeOf = (value: Value): Numeric | null =>
  value instanceof CalendarDate
    ? value.day * DAY
    : value instanceof Moment
      ? value.ms
      : isNumeric(value)
        ? value
        : null;

/** The end of the period that a value begins, as a place on the same line; null for a value that is none. */
const endOf = (value: Value, group: RowGroup): number | null => {
  const next = stepOf(group)?.(value) ?? null;
  const place = next === null ? null : placeOf(next);
  return place === null ? null : toNumber(place);
};

/**
 * The values of a group between the first and the last of `values`, those included. `around`: the period that the group
 * around it stands for, when that goes by longer periods of the same value: only what lies in it is given.
 */
export const filled = (
  values: readonly Value[],
  group: RowGroup,
  around: { value: Value; group: RowGroup } | null,
): Value[] => {
  const step = stepOf(group);
  const placed = values.filter((value) => placeOf(value) !== null);
  if (!step || placed.length === 0) return [];
  const sorted = [...placed].sort((a, b) => compareNumeric(placeOf(a)!, placeOf(b)!));
  const last = placeOf(sorted.at(-1)!)!;
  const isInside = around && around.group.by === group.by;
  const from = isInside ? toNumber(placeOf(around.value) ?? 0) : Number.NEGATIVE_INFINITY;
  const to = (isInside ? endOf(around.value, around.group) : null) ?? Number.POSITIVE_INFINITY;
  const found: Value[] = [];
  for (let value: Value = sorted[0]!, steps = 0; value !== null && steps < MOST_FILLED; value = step(value), steps++) {
    const place = placeOf(value)!;
    if (compareNumeric(place, last) > 0 || toNumber(place) >= to) break;
    if (toNumber(place) >= from) found.push(value);
  }
  return found;
};
