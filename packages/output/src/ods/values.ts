import { CalendarDate, isNumeric, Moment, numericText, type Value } from '@gaveta/core/internal';

/** The attributes of a cell that say what it holds (OpenDocument 1.3, part 3, 19.385). `format`: its code, which percentages have. */
export const valueAttributes = (value: Value, format: string, timeZone: string): string => {
  if (isNumeric(value))
    return ` office:value-type="${/%/.test(format) ? 'percentage' : 'float'}" office:value="${numericText(value)}"`;
  if (typeof value === 'boolean') return ` office:value-type="boolean" office:boolean-value="${value}"`;
  if (value instanceof CalendarDate) return ` office:value-type="date" office:date-value="${value.toString()}"`;
  if (value instanceof Moment)
    return ` office:value-type="date" office:date-value="${new Date(value.wallClock(timeZone)).toISOString().replace(/\.?0*Z$/, '')}"`;
  return ' office:value-type="string"';
};
