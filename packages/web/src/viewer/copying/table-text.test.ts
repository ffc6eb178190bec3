import { describe, expect, it } from 'vitest';
import { asHtml, asPlainText, cellsOf, type PlacedText } from './table-text.ts';

const at = (x: number, y: number, text: string, width = text.length * 5, page = 1): PlacedText => ({
  page,
  x,
  y,
  width,
  size: 10,
  text,
});

describe('texts of pages', () => {
  it('in columns become the cells of a table, whichever side they line up at', () => {
    const cells = cellsOf([
      at(260, 20, 'Amount'),
      at(0, 20, 'Guest'),
      at(0, 40, 'Elif Cabral'),
      at(120, 40, 'stayed'),
      at(265, 40.4, '58.00'),
      at(0, 60, 'Nuno'),
      at(255, 60, '1,147.00', 35),
    ]);
    expect(cells).toEqual([
      ['Guest', '', 'Amount'],
      ['Elif Cabral', 'stayed', '58.00'],
      ['Nuno', '', '1,147.00'],
    ]);
    expect(asPlainText(cells)).toBe('Guest\t\tAmount\nElif Cabral\tstayed\t58.00\nNuno\t\t1,147.00');
  });

  it('in one column are lines in reading order, page after page', () => {
    const texts = [at(0, 30, 'second'), at(0, 15, 'third', 25, 2), at(0, 10, 'first')];
    expect(asPlainText(cellsOf(texts))).toBe('first\nsecond\nthird');
  });

  it('a heading over columns stands by itself, and parts of one text are one', () => {
    const cells = cellsOf([
      at(0, 10, 'The season at a glance of all huts', 300),
      at(0, 30, 'Nights'),
      at(30, 30, ' in 2025', 40),
      at(200, 30, '412'),
    ]);
    expect(cells).toEqual([
      ['The season at a glance of all huts', ''],
      ['Nights in 2025', '412'],
    ]);
  });

  it('are cells whatever is in them', () => {
    expect(asPlainText([['a\tb', 'c\nd']])).toBe('a b\tc d');
    expect(asHtml([['<b>', '"x" & y']])).toBe(
      '<table><tr><td>&lt;b&gt;</td><td>&quot;x&quot; &amp; y</td></tr></table>',
    );
  });
});
