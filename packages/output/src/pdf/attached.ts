import { phrase, SaidError } from '@gaveta/core/internal';
import { fileName } from '../file-name.ts';
import type { AttachedFile } from '../output.ts';
import type { KitDocument } from './kit.ts';

/** Megabytes of a file that goes into another, which is put together in memory. */
const MOST_ATTACHED = 128;

/** Puts a file into a document as the data behind it (ISO 19005-3, 6.8). Throws SaidError when it is too large. */
export const attach = async (document: KitDocument, attached: AttachedFile, made: Date): Promise<void> => {
  const { name, mime, extension, data } = attached;
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of data) {
    size += chunk.length;
    if (size > MOST_ATTACHED * 1024 * 1024) throw new SaidError(phrase('attached-too-large', { most: MOST_ATTACHED }));
    chunks.push(chunk);
  }
  const file = document.ref({
    Type: 'EmbeddedFile',
    // The name of a type has a slash, which ends a name.
    Subtype: mime.replace(/;.*/, '').replaceAll('/', '#2F'),
    Params: { Size: size, ModDate: made },
  });
  for (const chunk of chunks) file.write(chunk);
  file.end();
  const called = Object(`${fileName(name, 'data')}.${extension}`) as string;
  const entry = document.ref({
    Type: 'Filespec',
    F: called,
    UF: called,
    EF: { F: file, UF: file },
    AFRelationship: 'Data',
    Desc: Object('What the report shows, as data'),
  });
  entry.end();
  document.addNamedEmbeddedFile(String(called), entry);
  document._root.data.AF = [entry];
};
