import { describe, expect, it } from 'vitest';
import { cpuTime } from '../cpu-time.test-support.ts';
import { testBook } from '../layout/shipped.test-support.ts';
import { breakLines } from './lines.ts';

const font = testBook.find('Source Sans 3', false, false);
const lines = (text: string, width: number) => breakLines([{ text, font, size: 10 }], width, testBook);
const words = (text: string, width: number): string[] =>
  lines(text, width).map((line) => line.runs.map((run) => run.text).join(''));

describe('line breaking', () => {
  it('keeps every line within the width and loses no letter', () => {
    const text =
      'Casa da Brecha stands at 2,310 m, below the north face, where two ridges meet; Donaudampfschifffahrtsgesellschaft.';
    for (const width of [20, 60, 150, 400]) {
      const broken = lines(text, width);
      expect(Math.max(...broken.map((l) => l.width))).toBeLessThanOrEqual(width + 0.01);
      expect(words(text, width).join('').replace(/\s/g, '')).toBe(text.replace(/\s/g, ''));
    }
  });

  it('breaks text of several looks as one, and knows whose each run is', () => {
    const bold = testBook.find('Source Sans 3', true, false);
    const styles = [
      { text: 'Half bo', font, size: 10 },
      { text: 'ard for ', font: bold, size: 14 },
      { text: 'two', font, size: 10 },
    ];
    const [one] = breakLines(styles, 500, testBook);
    expect(one!.runs.map((run) => [run.text, run.style])).toEqual([
      ['Half bo', 0],
      ['ard for ', 1],
      ['two', 2],
    ]);
    expect(one!.size).toBe(14);
    const narrow = breakLines(styles, 40, testBook);
    expect(narrow.map((line) => line.runs.map((run) => run.text).join(''))).toEqual(['Half', 'board', 'for two']);
    expect(narrow.map((line) => line.ends)).toEqual([false, false, true]);
  });

  it('keeps line ends, and an empty line between them', () => {
    expect(words('one\n\ntwo', 100)).toEqual(['one', '', 'two']);
  });

  it('never cuts a word wider than the line into nothing', () => {
    expect(words('WWW', 1)).toEqual(['W', 'W', 'W']);
  });

  it('sets a right-to-left name in a font that has it, from the right', () => {
    const [line] = lines('Guest: يوسف الحداد stays', 400);
    const rtl = line!.runs.filter((run) => run.rtl);
    expect(rtl.map((run) => run.text)).toEqual(['يوسف الحداد']);
    expect(rtl[0]!.font.file.family).toBe('Noto Sans Arabic');
    const ordered = line!.runs.every((run, i, all) => i === 0 || run.x >= all[i - 1]!.x + all[i - 1]!.width - 0.01);
    expect(ordered).toBe(true);
  });

  it('takes a time that goes with the length of the text', () => {
    for (const [text, count] of [
      ['a', 100_000],
      ['يوسف', 1_500],
      ['word ', 20_000],
      [' ', 50_000],
      ['😀', 10_000],
    ] as const) {
      const of = (times: number): number =>
        cpuTime(() => expect(lines(text.repeat(count * times), 100).length).toBeGreaterThan(0));
      of(1);
      // Four times the text takes sixteen times as long where time goes with its square; a busy machine makes some rounds slower.
      let least = Number.POSITIVE_INFINITY;
      for (let round = 0; round < 4 && least >= 13; round++) least = Math.min(least, of(4) / Math.max(of(1), 5));
      expect(least, text).toBeLessThan(13);
    }
  });
});
