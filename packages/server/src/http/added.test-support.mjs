import { fileURLToPath } from 'node:url';
import { z } from 'zod';

const plain = '@expo-google-fonts/source-sans-3/400Regular/SourceSans3_400Regular.ttf';
const path = fileURLToPath(import.meta.resolve(plain));

/** A font and an output that a module adds. */
export default {
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
          sink.write(`page ${number}: ${marks.flatMap(({ font = [] }) => font).join(' ')}\n`);
        await new Promise((resolve) => sink.end(resolve));
      },
    },
  ],
};
