import { loadEquipment } from '@gaveta/output';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { pairsOf, wantedFiles } from './wanted.ts';

const equipment = await loadEquipment();
let said: string[] = [];
beforeEach(() => {
  said = [];
  vi.spyOn(console, 'error').mockImplementation((line) => void said.push(String(line)));
});
afterEach(() => {
  vi.restoreAllMocks();
});

const wanted = (formats: string[], ...options: string[]) =>
  wantedFiles(equipment, formats, options)?.map(({ output, options: own }) => [output.name, own]) ?? null;

describe('options of the command line', () => {
  it('are names with values, which may hold anything', () => {
    expect(pairsOf(['season=2025', 'huts=a=b', 'note='], '--param')).toEqual({ season: '2025', huts: 'a=b', note: '' });
    expect(said).toEqual([]);
  });

  it.each(['season', '=2025', ''])('are refused without a name: “%s”', (pair) => {
    expect(pairsOf([pair], '--param')).toBeNull();
    expect(said).toEqual([`gaveta: --param takes name=value, not “${pair}”.`]);
  });
});

describe('the files that are wanted', () => {
  it('have options of their own; where there is one format, they are its', () => {
    expect(wanted(['csv'], 'separator=tab')).toEqual([['csv', { separator: 'tab' }]]);
    expect(wanted(['csv'], 'csv.separator=tab')).toEqual([['csv', { separator: 'tab' }]]);
    expect(wanted(['pdf', 'csv'], 'csv.separator=tab', 'pdf.from=2')).toEqual([
      ['pdf', { from: '2' }],
      ['csv', { separator: 'tab' }],
    ]);
  });

  it('are each there once, however often they are named', () => {
    expect(wanted(['csv', 'pdf', 'csv'])).toEqual([
      ['csv', {}],
      ['pdf', {}],
    ]);
  });

  it('are none where a format is not known, and those that there are are told', () => {
    expect(wanted(['csv', 'clay'])).toBeNull();
    expect(said[0]).toMatch(/^gaveta: the format “clay” is not known\. There is: pdf, .*xml\.$/);
  });

  it('are none where an option is of no format, or of one among several that is not named', () => {
    expect(wanted(['csv', 'pdf'], 'from=2')).toBeNull();
    expect(wanted(['csv', 'pdf'], 'odt.fonts=false')).toBeNull();
    expect(said).toEqual([
      'gaveta: say which format “--option from” is for, as --option csv.from=2',
      'gaveta: --option odt.fonts: “odt” is not among the formats csv, pdf.',
    ]);
  });

  it('are none where a format does not take what is given', () => {
    expect(wanted(['png'], 'dpi=4000')).toBeNull();
    expect(wanted(['csv'], 'colour=red')).toBeNull();
    expect(wanted(['pdf'], 'from=3', 'to=2')).toBeNull();
    expect(said[0]).toContain('--option dpi: ');
    expect(said[1]).toContain('colour');
    expect(said[2]).toContain('“from” comes after “to”');
  });
});
