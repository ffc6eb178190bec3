import { readFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { FontBook, type FontFile } from '@gaveta/core/internal';

const require = createRequire(import.meta.url);

interface ShippedFont {
  family: string;
  weight: 400 | 700;
  italic: boolean;
  /** Name under which browsers fetch it. */
  file: string;
  module: string;
}

const face = (family: string, folder: string, name: string, weight: 400 | 700, italic: boolean): ShippedFont => {
  const style = `${weight}${weight === 400 ? 'Regular' : 'Bold'}${italic ? '_Italic' : ''}`;
  const file = `${name}_${style}.ttf`;
  return { family, weight, italic, file, module: `@expo-google-fonts/${folder}/${style}/${file}` };
};

const fourFaces = (family: string, folder: string, name: string): ShippedFont[] => [
  face(family, folder, name, 400, false),
  face(family, folder, name, 700, false),
  face(family, folder, name, 400, true),
  face(family, folder, name, 700, true),
];

/** The fonts that reports can use, all under the SIL Open Font License. The first family is the default. */
export const SHIPPED_FONTS: readonly ShippedFont[] = [
  ...fourFaces('Source Sans 3', 'source-sans-3', 'SourceSans3'),
  ...fourFaces('Source Serif 4', 'source-serif-4', 'SourceSerif4'),
  ...fourFaces('Source Code Pro', 'source-code-pro', 'SourceCodePro'),
  face('Noto Sans Arabic', 'noto-sans-arabic', 'NotoSansArabic', 400, false),
  face('Noto Sans Arabic', 'noto-sans-arabic', 'NotoSansArabic', 700, false),
];

export const shippedFontPath = (font: ShippedFont): string => require.resolve(font.module);

let loaded: Promise<FontBook> | null = null;

/** The shipped fonts, read once. */
export const loadShippedFonts = (): Promise<FontBook> => {
  loaded ??= Promise.all(
    SHIPPED_FONTS.map(async (font): Promise<FontFile> => {
      const { family, weight, italic } = font;
      return { family, weight, italic, data: new Uint8Array(await readFile(shippedFontPath(font))) };
    }),
  ).then((files) => new FontBook(files));
  return loaded;
};
