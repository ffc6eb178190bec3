import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);

/** A font of one weight and slant. */
export interface FontFace {
  family: string;
  weight: 400 | 700;
  italic: boolean;
  /** Name under which browsers fetch it. */
  file: string;
  /** Where the TrueType or OpenType file lies. */
  path: string;
  /** It shows what other fonts have no characters for, and is not offered by itself. */
  isFallback: boolean;
}

const face = (
  family: string,
  folder: string,
  name: string,
  weight: 400 | 700,
  italic: boolean,
  isFallback = false,
): FontFace => {
  const style = `${weight}${weight === 400 ? 'Regular' : 'Bold'}${italic ? '_Italic' : ''}`;
  const file = `${name}_${style}.ttf`;
  const path = require.resolve(`@expo-google-fonts/${folder}/${style}/${file}`);
  return { family, weight, italic, file, path, isFallback };
};

const fourFaces = (family: string, folder: string, name: string): FontFace[] => [
  face(family, folder, name, 400, false),
  face(family, folder, name, 700, false),
  face(family, folder, name, 400, true),
  face(family, folder, name, 700, true),
];

/** The fonts that ship with Gaveta, all under the SIL Open Font License. The first family is the default. */
export const shippedFonts = (): FontFace[] => [
  ...fourFaces('Source Sans 3', 'source-sans-3', 'SourceSans3'),
  ...fourFaces('Source Serif 4', 'source-serif-4', 'SourceSerif4'),
  ...fourFaces('Source Code Pro', 'source-code-pro', 'SourceCodePro'),
  face('Noto Sans Arabic', 'noto-sans-arabic', 'NotoSansArabic', 400, false, true),
  face('Noto Sans Arabic', 'noto-sans-arabic', 'NotoSansArabic', 700, false, true),
];
