import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { FontBook } from '../text/fonts.ts';

const require = createRequire(import.meta.url);
const read = (path: string): Uint8Array => new Uint8Array(readFileSync(require.resolve(path)));

/** Two of the shipped fonts, for tests that measure text. */
export const testBook = await FontBook.of([
  {
    family: 'Source Sans 3',
    weight: 400,
    italic: false,
    data: read('@expo-google-fonts/source-sans-3/400Regular/SourceSans3_400Regular.ttf'),
  },
  {
    family: 'Source Sans 3',
    weight: 700,
    italic: false,
    data: read('@expo-google-fonts/source-sans-3/700Bold/SourceSans3_700Bold.ttf'),
  },
  {
    family: 'Noto Sans Arabic',
    weight: 400,
    italic: false,
    data: read('@expo-google-fonts/noto-sans-arabic/400Regular/NotoSansArabic_400Regular.ttf'),
  },
]);
