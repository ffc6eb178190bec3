import type { Page } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { loadEquipment } from './equipment.ts';
import { PageChannel } from './page-channel.ts';
import { collecting } from './sink.test-support.ts';

const equipment = await loadEquipment();
const page = (number: number): Page => ({ number, width: 200, height: 100, marks: [] });
const pagesTo = async function* (last: number): AsyncGenerator<Page> {
  for (let number = 1; number <= last; number++) yield page(number);
};
/** Writes some pages to a PDF. */
const textOf = async (pages: AsyncIterable<Page>, options: object, signal = new AbortController().signal) => {
  const { sink, bytes } = collecting();
  const run = {
    title: 'Pages',
    language: 'pt-PT',
    book: await equipment.book(),
    pages,
    late: () => [],
    pictures: async () => null,
    options,
  };
  const pdf = equipment.output('pdf');
  if (pdf?.takes !== 'pages') throw new Error('no PDF');
  await pdf.write(run, sink, signal);
  return bytes().toString('latin1');
};
/** How many pages a PDF of them has. */
const written = async (...given: Parameters<typeof textOf>): Promise<number> =>
  (await textOf(...given)).match(/\/Type \/Page\b/g)?.length ?? 0;

it('outputs are known by names that an address can hold, each once', () => {
  const names = equipment.outputs.map(({ name }) => name);
  for (const name of names) expect(name).toMatch(/^[a-z][a-z0-9-]*$/);
  expect(equipment.output('parchment')).toBeNull();
});

it('a host offers fewer, in an order of its own', () => {
  expect(equipment.offering(['csv', 'pdf']).outputs.map(({ name }) => name)).toEqual(['csv', 'pdf']);
  expect(equipment.offering(undefined)).toBe(equipment);
  expect(() => equipment.offering(['parchment'])).toThrow('no output “parchment”');
});

const moduleWith = (code: string): string => `data:text/javascript,${encodeURIComponent(code)}`;

it('a module adds what is not there yet, and is told what is wrong with it', async () => {
  const run = '{ takes: [], min: 0, max: 0, gives: "text", help: "", example: "", run: () => "hut" }';
  const added = await loadEquipment([moduleWith(`export default { functions: { HUT: ${run} } }`)]);
  expect(Object.keys(added.functions)).toEqual(['HUT']);
  expect(added.fonts).toEqual(equipment.fonts);
  for (const [code, words] of [
    ['export default { outputs: [{ name: "pdf" }] }', 'a second output “pdf”'],
    ['export default { fonts: [{ file: "SourceSans3_400Regular.ttf" }] }', 'a second font file “SourceSans3'],
    [`export default { functions: { SUM: ${run} } }`, 'a second function “SUM”'],
    [`export default { functions: { hut: ${run} } }`, 'The function “hut”: it cannot be named so'],
    ['export const outputs = []', 'exports nothing by default'],
  ] as const)
    await expect(loadEquipment([moduleWith(code)])).rejects.toThrow(words);
});

it('a file holds the pages that its options ask for, given as the texts of an address', async () => {
  expect(await written(pagesTo(5), {})).toBe(5);
  expect(await written(pagesTo(5), { from: '2', to: '4' })).toBe(3);
  await expect(written(pagesTo(5), { from: '4', to: '2' })).rejects.toThrow('comes after');
  await expect(written(pagesTo(5), { colour: 'blue' })).rejects.toThrow();
});

it('a PDF is closed to whoever has no password, and says what may be done with it', async () => {
  const lock = async (options: object): Promise<boolean> => (await textOf(pagesTo(1), options)).includes('/Encrypt');
  expect(await lock({})).toBe(false);
  for (const options of [{ password: 'hut' }, { ownerPassword: 'hut' }, { copying: 'no' }, { printing: false }])
    expect(await lock(options), JSON.stringify(options)).toBe(true);
  expect(await textOf(pagesTo(1), {})).toContain('/Lang (pt-PT)');
  expect(await textOf(pagesTo(1), {})).toContain('/DisplayDocTitle true');
});

it('a file that is not wanted any more ends with the reason', async () => {
  const abort = new AbortController();
  const pages = async function* (): AsyncGenerator<Page> {
    yield page(1);
    abort.abort(new Error('gone'));
    yield page(2);
  };
  await expect(written(pages(), {}, abort.signal)).rejects.toThrow('gone');
});

it('pages go from a run to an output one at a time', async () => {
  const channel = new PageChannel();
  const seen: string[] = [];
  const run = async (): Promise<void> => {
    for (let number = 1; number <= 3; number++) {
      await channel.put(page(number));
      seen.push(`given ${number}`);
    }
    channel.end();
  };
  const done = run();
  for await (const { number } of channel) seen.push(`taken ${number}`);
  await done;
  expect(seen.filter((line) => line.startsWith('taken'))).toEqual(['taken 1', 'taken 2', 'taken 3']);
  for (const number of [2, 3])
    expect(seen.indexOf(`given ${number - 1}`)).toBeLessThan(seen.indexOf(`taken ${number}`));
});

it('what goes wrong on either side of the pages is heard on the other', async () => {
  const output = new PageChannel();
  const put = output.put(page(1));
  output.end(new Error('the disk is full'));
  await expect(put).rejects.toThrow('the disk is full');
  const run = new PageChannel();
  const next = run[Symbol.asyncIterator]().next();
  run.end(new Error('the database is gone'));
  await expect(next).rejects.toThrow('the database is gone');
});
