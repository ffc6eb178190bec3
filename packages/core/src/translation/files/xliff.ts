import type { RowToTranslate, TranslatedRow } from './rows.ts';

const NAMESPACE = 'urn:oasis:names:tc:xliff:document:2.0';

/** What XML cannot hold at all is left out. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what XML forbids
const FORBIDDEN = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]/g;

const escaped = (text: string): string =>
  text
    .replace(FORBIDDEN, '')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;')
    .replaceAll('\r', '&#13;');

/** A document of XLIFF 2.0 (OASIS): a unit for each text, with where it stands as its note. */
export const translationsAsXliff = (
  rows: readonly RowToTranslate[],
  { from, to }: { from: string; to: string },
): string => {
  const units = rows.map(({ text, translation, note }, i) => {
    const state = translation === '' ? 'initial' : 'translated';
    const target = translation === '' ? '' : `<target xml:space="preserve">${escaped(translation)}</target>`;
    return `    <unit id="t${i + 1}">
      <notes><note>${escaped(note)}</note></notes>
      <segment state="${state}"><source xml:space="preserve">${escaped(text)}</source>${target}</segment>
    </unit>`;
  });
  return `<?xml version="1.0" encoding="UTF-8"?>
<xliff xmlns="${NAMESPACE}" version="2.0" srcLang="${escaped(from)}" trgLang="${escaped(to)}">
  <file id="report">
${units.join('\n')}
  </file>
</xliff>
`;
};

const localName = (name: string): string => name.replace(/^.*:/, '');

/**
 * The texts of a document of XLIFF 2 or 1.2, and the language that it translates into; null where it is none. Segments that a tool has
 * made of a unit are put together again; marks inside a text count as what stands in them.
 */
export const translationsFromXliff = async (
  source: string,
): Promise<{ language: string | null; rows: TranslatedRow[] } | null> => {
  const { Parser } = await import('htmlparser2');
  const rows: TranslatedRow[] = [];
  let isXliff = false;
  let language: string | null = null;
  let unit: TranslatedRow | null = null;
  let inside: 'text' | 'translation' | null = null;
  /** Inside what other translators proposed, or between segments, which has no translation of its own. */
  let aside = 0;
  let isBetween = false;
  const parser = new Parser(
    {
      onopentag: (name, attributes) => {
        const local = localName(name);
        if (local === 'xliff') isXliff = true;
        if (local === 'xliff' || local === 'file')
          language ??= attributes.trgLang ?? attributes['target-language'] ?? null;
        if (local === 'unit' || local === 'trans-unit') unit = { text: '', translation: '' };
        if (local === 'alt-trans' || local === 'matches') aside++;
        if (local === 'ignorable') isBetween = true;
        if (local === 'source') inside = 'text';
        if (local === 'target') inside = 'translation';
      },
      ontext: (text) => {
        if (!unit || !inside || aside > 0) return;
        unit[inside] += text;
        if (isBetween && inside === 'text') unit.translation += text;
      },
      onclosetag: (name) => {
        const local = localName(name);
        if (local === 'source' || local === 'target') inside = null;
        if (local === 'alt-trans' || local === 'matches') aside--;
        if (local === 'ignorable') isBetween = false;
        if ((local === 'unit' || local === 'trans-unit') && unit) {
          rows.push(unit);
          unit = null;
        }
      },
    },
    { xmlMode: true, decodeEntities: true },
  );
  parser.end(source);
  return isXliff ? { language, rows } : null;
};
