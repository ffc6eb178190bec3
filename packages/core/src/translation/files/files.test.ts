import { describe, expect, test } from 'vitest';
import { translationsAsCsv, translationsFromCsv } from './csv.ts';
import { readTranslations } from './read.ts';
import { translationsAsXliff, translationsFromXliff } from './xliff.ts';

const ROWS = [
  { text: 'Nights', translation: 'Noites', note: 'caption' },
  { text: 'Of {1}, "paid"; and\nmore', translation: 'De {1}, «pago»;\ne mais', note: '' },
  { text: '=1+1', translation: '-2', note: '@x' },
  { text: '<b> & \u00a0é 山', translation: '', note: 'a <note>' },
];
const plain = ROWS.map(({ text, translation }) => ({ text, translation }));

describe('a file of comma-separated values', () => {
  test('comes back as it left, and nothing in it is a formula to a spreadsheet', async () => {
    const csv = await translationsAsCsv(ROWS);
    expect(csv.startsWith('\uFEFFtext,translation,note\r\n')).toBe(true);
    expect(csv).not.toMatch(/(^|,)"?[=@-]/m);
    expect(await translationsFromCsv(csv)).toEqual(plain);
  });

  test('is read as a spreadsheet saves it: other separators, order and capitals of columns, no mark', async () => {
    const saved = 'Note;Translation;Text\nx;Noites;Nights\n;"De ""a""";"Of ""a"""\n\n';
    expect(await translationsFromCsv(saved)).toEqual([
      { text: 'Nights', translation: 'Noites' },
      { text: 'Of "a"', translation: 'De "a"' },
    ]);
    expect(await translationsFromCsv('text\ttranslation\na\tb')).toEqual([{ text: 'a', translation: 'b' }]);
  });

  test('is none without its columns', async () => {
    expect(await translationsFromCsv('a,b\n1,2')).toBeNull();
    expect(await translationsFromCsv('')).toBeNull();
  });
});

describe('a document of XLIFF', () => {
  test('comes back as it left', async () => {
    const xliff = translationsAsXliff(ROWS, { from: 'en', to: 'pt-PT' });
    expect(xliff).toContain('srcLang="en" trgLang="pt-PT"');
    expect(xliff).toContain('<note>a &lt;note&gt;</note>');
    expect(await translationsFromXliff(xliff)).toEqual({ language: 'pt-PT', rows: plain });
  });

  test('is read in segments, with proposals left aside, and in its older form', async () => {
    const second = `<x:xliff xmlns:x="urn:oasis:names:tc:xliff:document:2.0" version="2.1" srcLang="en" trgLang="de"><x:file id="f">
      <x:unit id="1"><mtc:matches><mtc:match><x:source>No</x:source><x:target>Nein</x:target></mtc:match></mtc:matches>
      <x:segment><x:source>One.</x:source><x:target>Eins.</x:target></x:segment><x:ignorable><x:source> </x:source></x:ignorable>
      <x:segment><x:source>Two <x:mrk id="m">more</x:mrk></x:source><x:target>Zwei</x:target></x:segment></x:unit></x:file></x:xliff>`;
    expect(await translationsFromXliff(second)).toEqual({
      language: 'de',
      rows: [{ text: 'One. Two more', translation: 'Eins. Zwei' }],
    });
    const older = `<xliff version="1.2"><file source-language="en" target-language="fr"><body><trans-unit id="1"><source>A &amp; b</source>
      <target>A et b</target><alt-trans><target>Autre</target></alt-trans></trans-unit></body></file></xliff>`;
    expect(await translationsFromXliff(older)).toEqual({
      language: 'fr',
      rows: [{ text: 'A & b', translation: 'A et b' }],
    });
  });

  test('is none when it is something else', async () => {
    expect(await translationsFromXliff('<html><source>a</source></html>')).toBeNull();
    expect(await translationsFromXliff('text')).toBeNull();
    expect(await translationsFromXliff('<xliff version="2.0"><unit><segment><source>a')).toEqual({
      language: null,
      rows: [{ text: 'a', translation: '' }],
    });
  });
});

describe('a file of translations', () => {
  test('is read in the form that its name says, into the language that it is wanted in', async () => {
    const xliff = translationsAsXliff(ROWS, { from: 'en', to: 'pt-PT' });
    expect(await readTranslations('a.XLF', xliff, 'pt-pt')).toEqual({ rows: plain });
    expect(await readTranslations('a.csv', await translationsAsCsv(ROWS), 'pt-PT')).toEqual({ rows: plain });
  });

  test('says why it is none', async () => {
    const xliff = translationsAsXliff(ROWS, { from: 'en', to: 'pt-PT' });
    expect(await readTranslations('a.xliff', xliff, 'de')).toEqual({ refused: 'language', language: 'pt-PT' });
    expect(await readTranslations('a.xlf', 'text,translation', 'de')).toEqual({ refused: 'xliff' });
    expect(await readTranslations('a.txt', xliff, 'de')).toEqual({ refused: 'columns' });
  });
});
