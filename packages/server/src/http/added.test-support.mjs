import { fileURLToPath } from 'node:url';
import { z } from 'zod';

const plain = '@expo-google-fonts/source-sans-3/400Regular/SourceSans3_400Regular.ttf';
const path = fileURLToPath(import.meta.resolve(plain));

/** A function, a font and an output that a module adds. */
export default {
  functions: {
    TWICE: {
      takes: [['value', 'text']],
      min: 1,
      max: 1,
      gives: 'text',
      help: 'A text twice.',
      example: 'TWICE("a") = "aa"',
      run: ([text]) => `${text}${text}`,
    },
  },
  fonts: [{ family: 'Hut Sans', weight: 400, italic: false, file: 'HutSans.ttf', path, isFallback: false }],
  outputs: [
    {
      name: 'list',
      label: 'List of fonts',
      mime: 'text/plain',
      extension: 'txt',
      takes: 'pages',
      options: z.strictObject({}),
      write: async ({ pages }, sink) => {
        for await (const { number, marks } of pages)
          sink.write(`page ${number}: ${marks.flatMap(({ font, text }) => (text ? [text, font] : [])).join(' ')}\n`);
        await new Promise((resolve) => sink.end(resolve));
      },
    },
  ],
};
