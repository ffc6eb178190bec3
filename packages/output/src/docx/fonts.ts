import type { FontBook } from '@gaveta/core/internal';
import type { Archive } from '../archive.ts';
import { HEAD, Relations } from '../office/relations.ts';
import { escapeAttribute } from '../xml/escape.ts';
import { WORD } from './styles.ts';

/** A key for each font that a document holds, told from others by its number. */
const keyOf = (number: number): string =>
  `00000000-0000-4000-8000-${number.toString(16).toUpperCase().padStart(12, '0')}`;

/** A font as documents hold them: its first 32 bytes are mixed with its key (ECMA-376, 17.8.1). */
export const obfuscated = (font: Uint8Array, key: string): Uint8Array => {
  const bytes = Buffer.from(key.replaceAll('-', ''), 'hex').reverse();
  const mixed = Buffer.from(font);
  for (let i = 0; i < 32 && i < mixed.length; i++) mixed[i] = mixed[i]! ^ bytes[i % 16]!;
  return mixed;
};

/** Puts the table of fonts into a document, and the fonts with it where they are asked for. */
export const addFonts = async (
  archive: Archive,
  faces: ReadonlySet<string>,
  book: FontBook,
  isEmbedding: boolean,
): Promise<void> => {
  const relations = new Relations();
  const families = new Map<string, string[]>();
  let number = 0;
  for (const face of faces) {
    const [family, bold, italic] = face.split('/') as [string, string, string];
    const held = families.get(family) ?? [];
    families.set(family, held);
    if (!isEmbedding || !book.has(family)) continue;
    const { file } = book.find(family, bold === 'true', italic === 'true');
    const [isBold, isItalic] = [file.weight >= 600, file.italic];
    const kind = isBold ? (isItalic ? 'embedBoldItalic' : 'embedBold') : isItalic ? 'embedItalic' : 'embedRegular';
    if (held.some((one) => one.startsWith(`<w:${kind} `))) continue;
    const key = keyOf(++number);
    const name = `fonts/font${number}.odttf`;
    await archive.add(`word/${name}`, obfuscated(file.data, key));
    held.push(`<w:${kind} r:id="${relations.id('font', name)}" w:fontKey="{${key}}"/>`);
  }
  const order = ['embedRegular', 'embedBold', 'embedItalic', 'embedBoldItalic'];
  const listed = [...families].map(([family, held]) => {
    const sorted = order.flatMap((kind) => held.filter((one) => one.startsWith(`<w:${kind} `)));
    return `<w:font w:name="${escapeAttribute(family)}">${sorted.join('')}</w:font>`;
  });
  await archive.add(
    'word/fontTable.xml',
    `${HEAD}<w:fonts xmlns:w="${WORD}" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships">${listed.join('')}</w:fonts>`,
  );
  if (!relations.isEmpty) await archive.add('word/_rels/fontTable.xml.rels', relations.xml());
};
