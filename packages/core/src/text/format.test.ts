import { describe, expect, it } from 'vitest';
import { CalendarDate, Moment } from '../value/date.ts';
import { parseNumeric } from '../value/number.ts';
import { formatValue, isFormatCode } from './format.ts';

const show = (value: string, code: string, language = 'en'): string =>
  formatValue(parseNumeric(value), code, { language, timeZone: 'UTC' });

describe('number formats', () => {
  it('show every digit of a decimal', () => {
    expect(show('123456789012345678901.255', '#,##0.00')).toBe('123,456,789,012,345,678,901.26');
  });

  it('follow spreadsheet codes', () => {
    expect(show('1234.5', '#,##0.00')).toBe('1,234.50');
    expect(show('-1234.5', '€ #,##0.00')).toBe('-€ 1,234.50');
    expect(show('-3', '0;(0);"none"')).toBe('(3)');
    expect(show('0', '0;(0);"none"')).toBe('none');
    expect(show('0.256', '0.0%')).toBe('25.6%');
    expect(show('7', '000')).toBe('007');
    expect(show('2.50', '0.##')).toBe('2.5');
    expect(show('-0.001', '0.00')).toBe('0.00');
  });

  it('leave trailing zeros out when no code is given', () => {
    expect(show('112.00', '')).toBe('112');
  });

  it('round off what divisions leave past ten decimals when no code is given', () => {
    expect(show('3.99999999999999999999999998', '')).toBe('4');
    expect(show('0.142857142857142857142857142857', '')).toBe('0.1428571429');
    expect(show('-0.00001234567890123456', '')).toBe('-0.0000123456789');
    expect(show('12345678901234567890.1234567891', '')).toBe('12345678901234567890.1234567891');
  });

  it('use the separators of the report’s language', () => {
    expect(show('1234567.5', '#,##0.00', 'de')).toBe('1.234.567,50');
  });

  it('show dates, and points in time in the report’s zone', () => {
    const date = CalendarDate.parse('2024-02-29');
    expect(formatValue(date, 'd mmm yyyy', { language: 'en', timeZone: 'UTC' })).toBe('29 Feb 2024');
    // The night in which Lisbon's clocks go forward, from 01:00 to 02:00.
    const before = Moment.parse('2026-03-29 00:30:00+00');
    const after = Moment.parse('2026-03-29 01:30:00+00');
    const lisbon = { language: 'en', timeZone: 'Europe/Lisbon' };
    expect([formatValue(before, 'hh:mm', lisbon), formatValue(after, 'hh:mm', lisbon)]).toEqual(['00:30', '02:30']);
  });

  it('refuse what is no code', () => {
    expect(isFormatCode('#,##0.00')).toBe(true);
    expect(isFormatCode('[unclosed')).toBe(false);
  });
});

describe('days and moments', () => {
  const settings = { language: 'en', timeZone: 'UTC' };
  it('are those of the calendar, from year 1 to 9999', () => {
    const months = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');
    const weekdays = 'Sunday Monday Tuesday Wednesday Thursday Friday Saturday'.split(' ');
    const days = [-719_162, -25_568, -25_567, -25_510, -25_509, -25_508, -25_507, -1, 0, 19_782, 2_932_896];
    for (let day = -719_162; day <= 2_932_896; day += 9973) days.push(day);
    for (const day of days) {
      const date = new Date(day * 86_400_000);
      const [year, month] = [date.getUTCFullYear(), months[date.getUTCMonth()]];
      const expected = `${weekdays[date.getUTCDay()]} ${date.getUTCDate()} ${month} ${String(year).padStart(4, '0')}`;
      expect(formatValue(CalendarDate.at(day), 'dddd d mmm yyyy', settings)).toBe(expected);
    }
  });
  it('are cut to what is shown, never rounded up', () => {
    const show = (moment: string, code: string): string => formatValue(Moment.parse(moment), code, settings);
    expect(show('2025-07-12T23:59:59.700Z', 'd mmm hh:mm:ss')).toBe('12 Jul 23:59:59');
    expect(show('2025-07-12T23:59:59.700Z', 'd mmm yyyy')).toBe('12 Jul 2025');
    expect(show('2025-07-12T23:59:59.999Z', 'd mmm hh:mm')).toBe('12 Jul 23:59');
    expect(show('2025-07-12T09:05:07.256Z', 'hh:mm:ss.00')).toBe('09:05:07.25');
    expect(show('2025-07-12T09:05:07.256Z', 'hh:mm:ss.000')).toBe('09:05:07.256');
    for (let ms = 0; ms < 86_400_000; ms += 7_777_777) {
      const moment = new Date(Date.UTC(2025, 6, 12) + ms);
      expect(show(moment.toISOString(), 'hh:mm:ss.000')).toBe(moment.toISOString().slice(11, 23));
      expect(show(moment.toISOString(), 'hh:mm')).toBe(moment.toISOString().slice(11, 16));
    }
  });
});
