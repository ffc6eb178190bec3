import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CalendarDate, isTimeZone, Moment } from './date.ts';

describe('days', () => {
  it('are read and written alike, and refuse those that do not exist', () => {
    fc.assert(
      fc.property(fc.integer({ min: -100_000, max: 100_000 }), (day) => {
        const date = new CalendarDate(day);
        const { year, month, day: of } = date.parts();
        expect(CalendarDate.of(year, month, of)?.day).toBe(day);
        expect(CalendarDate.parse(date.toString())?.day).toBe(day);
      }),
    );
    for (const wrong of ['2025-02-29', '2025-13-01', '2025-00-10', '12/07/2025', '', '2025-7-1'])
      expect([wrong, CalendarDate.parse(wrong)]).toEqual([wrong, null]);
    expect(CalendarDate.parse('2024-02-29')?.toString()).toBe('2024-02-29');
  });
});

describe('points in time', () => {
  it('are read as ISO 8601 and as PostgreSQL writes them', () => {
    const written = ['2025-03-30T01:30:00Z', '2025-03-30 01:30:00+00', '2025-03-30 02:30:00+01', '2025-03-30T01:30'];
    for (const text of written) expect([text, Moment.parse(text)?.ms]).toEqual([text, Date.UTC(2025, 2, 30, 1, 30)]);
    for (const wrong of ['2025-03-30', 'yesterday', '2025-03-30T25:00Z']) expect(Moment.parse(wrong)).toBeNull();
  });

  it('show the wall clock of a zone, summer time included', () => {
    const clock = (text: string, zone: string) =>
      new Date(Moment.parse(text)!.wallClock(zone)).toISOString().slice(0, 16);
    expect(clock('2025-03-30T00:59Z', 'Europe/Lisbon')).toBe('2025-03-30T00:59');
    expect(clock('2025-03-30T01:00Z', 'Europe/Lisbon')).toBe('2025-03-30T02:00');
    expect(clock('2025-01-01T12:00Z', 'Asia/Kathmandu')).toBe('2025-01-01T17:45');
    expect([isTimeZone('Europe/Lisbon'), isTimeZone('Mount/Nowhere')]).toEqual([true, false]);
  });
});
