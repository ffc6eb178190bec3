import { unzipSync, zipSync } from 'fflate';
import { expect, it } from 'vitest';
import { chosenFiles } from './chosen-files.ts';

const file = (name: string, text = 'a\n1\n', path = ''): File => {
  const made = new File([text], name);
  Object.defineProperty(made, 'webkitRelativePath', { value: path });
  return made;
};
const namesIn = async (content: Blob): Promise<string[]> =>
  Object.keys(unzipSync(new Uint8Array(await content.arrayBuffer()))).sort();

it('a single file is taken as it is', async () => {
  const one = file('Snow.tsv');
  expect(await chosenFiles([one])).toEqual({ format: 'csv', fileName: 'Snow.tsv', content: one, several: false });
});

it('several of one format are taken as a zip, without those that cannot be read', async () => {
  const chosen = await chosenFiles([file('a.csv'), file('b.txt'), file('c.png')]);
  expect(chosen).toMatchObject({ format: 'csv', fileName: 'a.csv, b.txt, c.png', several: true });
  expect(await namesIn((chosen as { content: Blob }).content)).toEqual(['a.csv', 'b.txt']);
});

it('a folder is named after itself, and its files keep their paths', async () => {
  const chosen = await chosenFiles([file('a.json', '[]', 'snow/a.json'), file('b.json', '[]', 'snow/old/b.json')]);
  expect(chosen).toMatchObject({ format: 'json', fileName: 'snow', several: true });
  expect(await namesIn((chosen as { content: Blob }).content)).toEqual(['snow/a.json', 'snow/old/b.json']);
});

it('a zip is taken as it is, by the format of what is in it', async () => {
  const zip = (names: string[]): File =>
    new File(
      [zipSync(Object.fromEntries(names.map((name) => [name, new Uint8Array([97])]))) as Uint8Array<ArrayBuffer>],
      'all.zip',
    );
  expect(await chosenFiles([zip(['x/a.xlsx', 'x/~$a.xlsx', '__MACOSX/x/b.csv'])])).toMatchObject({
    format: 'xlsx',
    fileName: 'all.zip',
    several: true,
  });
  expect(await chosenFiles([zip(['a.csv', 'b.xml'])])).toBe('mixedFiles');
  expect(await chosenFiles([new File(['no zip'], 'all.zip')])).toBe('notReadable');
});

it('files of several formats, or of none, are refused', async () => {
  expect(await chosenFiles([file('a.csv'), file('b.json')])).toBe('mixedFiles');
  expect(await chosenFiles([file('a.png')])).toBe('notReadable');
  expect(await chosenFiles([])).toBe('notReadable');
});
