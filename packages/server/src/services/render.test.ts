import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdtemp, readdir, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Writable } from 'node:stream';
import { buffer, text } from 'node:stream/consumers';
import type { PGlite } from '@electric-sql/pglite';
import { cumeeiraModel } from '@gaveta-examples/cumeeira';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { checkConformance } from '../../../output/src/pdf/conformance.test-support.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import type { Gaveta } from '../gaveta.ts';
import { defineModel } from '../model/define.ts';
import { type GivenRows, rowsWithCall } from '../sources/given.ts';
import { demoDatabase, gavetaOver, HUTS } from './huts.test-support.ts';

const claims = { role: 'office' };

let database: PGlite;
let gaveta: Gaveta;
let folder: string;

beforeAll(async () => {
  database = await demoDatabase();
  gaveta = await gavetaOver(database);
  folder = await mkdtemp(join(tmpdir(), 'gaveta-render-'));
});
afterAll(async () => {
  await gaveta.close();
  await rm(folder, { recursive: true, force: true });
});

const csv = { format: 'csv', options: { bom: false }, claims };
const lines = (written: string): string[] => written.trim().split(/\r?\n/);

describe('rendering from code', () => {
  it('gives a stream of the file, with what it is called and what is in it', async () => {
    const { stream, ...result } = await gaveta.render(HUTS, { format: 'pdf', claims });
    const file = await buffer(stream!);
    expect(file.subarray(0, 5).toString()).toBe('%PDF-');
    expect(result).toMatchObject({ mime: 'application/pdf', rows: 24, problems: [] });
    expect(result.size).toBe(file.length);
    expect(result.name).toMatch(/^Huts.*\.pdf$/);
    expect(result.name).not.toContain('/');
  });

  it('gives the numbers of a crosstab as rows, from those that its pages were made of', async () => {
    const crosstab = {
      ...{ kind: 'crosstab', id: 'beds', x: 0, y: 0, width: 100, height: 20, rows: { entity: 'hut' } },
      down: [{ name: 'region', by: 'region.name' }],
      cells: [{ formula: 'SUM(beds)' }],
    };
    const report = { ...HUTS, body: [], header: { height: 20, items: [crosstab] } };
    const { stream, rows } = await gaveta.render(report, { format: 'json', claims });
    const found = JSON.parse(await text(stream!)) as { beds: unknown[] };
    const wanted = await database.query(
      'select r.name as region, sum(beds)::int as sum_beds from hut join region r on r.id = region_id group by 1 order by 1',
    );
    expect(found.beds).toEqual(wanted.rows);
    expect(rows).toBeGreaterThan(0);
  });

  it('takes parameters and options, and shows what the claims see', async () => {
    const all = lines(await text((await gaveta.render(HUTS, csv)).stream!));
    const large = lines(await text((await gaveta.render(HUTS, { ...csv, parameters: { least: 40 } })).stream!));
    expect(large.length).toBeLessThan(all.length);
    const own = lines(
      await text((await gaveta.render(HUTS, { ...csv, claims: { role: 'warden', region: 2 } })).stream!),
    );
    expect(own.length).toBeGreaterThan(1);
    expect(own.length).toBeLessThan(all.length);
  });

  it('gives several formats as a zip, under a name of one’s own', async () => {
    const format = [{ format: 'csv', options: { bom: false } }, { format: 'markdown' }];
    const { stream, ...result } = await gaveta.render(HUTS, {
      format,
      claims,
      fileName: 'Beds {least}',
      parameters: { least: 40 },
    });
    expect(result).toMatchObject({ name: 'Beds 40.zip', mime: 'application/zip' });
    const held = unzipSync(new Uint8Array(await buffer(stream!)));
    expect(Object.keys(held)).toEqual(['Beds 40.csv', 'Beds 40.md']);
    await expect(gaveta.render(HUTS, { ...csv, fileName: '{beds}' })).rejects.toMatchObject({
      code: 'unknown-name-part',
    });
  });

  it('names files as the host says where nobody else does, without what a report does not have', async () => {
    const named = await gavetaOver(database, { fileNames: '{report} {least} {season}' });
    try {
      const { stream, name } = await named.render(HUTS, { ...csv, parameters: { least: 40 } });
      stream!.destroy();
      expect(name).toBe('Huts_ all_of them 40.csv');
    } finally {
      await named.close();
    }
  });

  it('joins reports to one file: pages of all of them, each under its title', async () => {
    const reports = [{ report: HUTS }, { report: { ...HUTS, name: 'Large huts' }, parameters: { least: 40 } }];
    const path = join(folder, 'joined.pdf');
    const { stream, ...result } = await gaveta.join(reports, { claims, to: path, title: 'All huts', user: 'Ana' });
    expect(stream).toBeNull();
    expect(result).toMatchObject({ name: 'All huts.pdf', problems: [] });
    const read = JSON.parse(
      execFileSync('qpdf', [
        '--json',
        '--json-key=outlines',
        '--json-key=pagelabels',
        '--json-key=pages',
        path,
      ]).toString(),
    ) as { outlines: { title: string; destpageposfrom1: number }[]; pages: unknown[] };
    expect(read.pages).toHaveLength(result.pages);
    expect(read.outlines.map(({ title, destpageposfrom1: at }) => [title, at])).toEqual([
      ['Huts: all/of them', 1],
      ['Large huts', 2],
    ]);
    const { complaints, read: texts } = checkConformance(path);
    expect(complaints).toEqual([]);
    expect(texts).toHaveLength(result.rows);
    await rm(path);
    await expect(gaveta.join(reports, { format: 'csv', claims })).rejects.toMatchObject({ code: 'not-joined' });
    await expect(gaveta.join([], { claims })).rejects.toMatchObject({ code: 'wrong-body' });
    await expect(gaveta.join(reports, { claims, signal: AbortSignal.abort('enough') })).rejects.toBe('enough');
  });

  it('writes to a path, where a file is only when all of it is, and to a stream', async () => {
    const path = join(folder, 'huts.xlsx');
    const { stream } = await gaveta.render(HUTS, { format: 'xlsx', claims, to: path });
    expect(stream).toBeNull();
    expect((await readFile(path)).subarray(0, 2).toString()).toBe('PK');
    const broken = new Writable({ write: (_chunk, _encoding, done) => done(new Error('the disk is full')) });
    await expect(gaveta.render(HUTS, { ...csv, to: broken })).rejects.toThrow('the disk is full');
    const nowhere = join(folder, 'missing', 'huts.csv');
    await expect(gaveta.render(HUTS, { ...csv, to: nowhere })).rejects.toThrow('ENOENT');
    expect(await readdir(folder)).toEqual(['huts.xlsx']);
  });

  it('says what cannot be done', async () => {
    await expect(gaveta.render(HUTS, { ...csv, format: 'tablet' })).rejects.toMatchObject({ code: 'unknown-output' });
    await expect(gaveta.render(HUTS, { ...csv, options: { separator: 'ü' } })).rejects.toMatchObject({
      code: 'wrong-body',
    });
    await expect(gaveta.render('no-such-report', csv)).rejects.toMatchObject({ code: 'unknown-report' });
    await expect(gaveta.render(HUTS, { ...csv, parameters: { least: 'many' } })).rejects.toMatchObject({
      code: 'wrong-parameters',
    });
    const wrong = { ...HUTS, body: [{ ...HUTS.body[0]!, filter: 'no_such_field > 1' }] };
    await expect(gaveta.render(wrong, csv)).rejects.toMatchObject({ code: 'run-incomplete' });
    const { problems, stream } = await gaveta.render(wrong, { ...csv, incomplete: true });
    expect(problems.map(({ severity }) => severity)).toContain('error');
    stream!.destroy();
  });

  it('is given up by its signal, with nothing left behind', async () => {
    const abort = new AbortController();
    const path = join(folder, 'never.pdf');
    const rendered = gaveta.render(HUTS, { format: 'pdf', claims, to: path, signal: abort.signal });
    abort.abort(new Error('nobody wants it'));
    await expect(rendered).rejects.toThrow('nobody wants it');
    expect(existsSync(path)).toBe(false);
    await expect(gaveta.render(HUTS, { ...csv, signal: abort.signal })).rejects.toThrow('nobody wants it');
  });
});

it('writes into what is no file, as a pipe, and leaves it in its place', async () => {
  const pipe = join(folder, 'pipe');
  execFileSync('mkfifo', [pipe]);
  const reading = readFile(pipe, 'utf8');
  await gaveta.render(HUTS, { ...csv, to: pipe });
  expect(lines(await reading).length).toBeGreaterThan(20);
  expect((await stat(pipe)).isFIFO()).toBe(true);
});

describe('rows that come with the call', () => {
  const orders = defineModel({
    name: 'orders',
    label: 'Orders',
    connection: 'given',
    entities: {
      order: {
        label: 'Order',
        plural: 'Orders',
        key: 'id',
        fields: {
          id: { label: 'Number', type: 'number' },
          customer: { label: 'Customer', type: 'text' },
          placed: { label: 'Placed on', type: 'date' },
          amount: { label: 'Amount', type: 'number' },
        },
      },
    },
  });
  const report = {
    gaveta: 2,
    name: 'Orders',
    model: 'orders',
    body: [
      {
        id: 'orders',
        name: 'order',
        rows: { entity: 'order' },
        sort: [{ by: 'id' }],
        detail: {
          height: 6,
          items: [
            { kind: 'field', id: 'customer', formula: 'customer', x: 0, y: 0, width: 40, height: 5 },
            { kind: 'field', id: 'amount', formula: 'amount', x: 40, y: 0, width: 40, height: 5 },
          ],
        },
      },
    ],
  };
  let own: Gaveta;
  beforeAll(async () => {
    own = await gavetaOver(database, {
      models: [orders, cumeeiraModel],
      connections: { cumeeira: pgliteConnection(database), given: rowsWithCall() },
    });
  });
  afterAll(() => own.close());
  const list = [
    { id: 2, customer: 'Brites', placed: new Date('2025-07-02'), amount: '12.50' },
    { id: 1, customer: 'Aurora', placed: '2025-07-01', amount: 7 },
  ];
  const csvOf = async (data: GivenRows): Promise<string[]> => {
    const { stream } = await own.render(report, { ...csv, data });
    return lines(await text(stream!));
  };

  it('are read as a list, a stream, or from a function', async () => {
    const expected = ['Customer,Amount', 'Aurora,7', 'Brites,12.5'];
    expect(await csvOf({ order: list })).toEqual(expected);
    const stream = async function* () {
      yield* list;
    };
    expect(await csvOf({ order: stream() })).toEqual(expected);
    expect(await csvOf({ order: ({ claims }) => list.filter(() => claims.role === 'office') })).toEqual(expected);
  });

  it('are held to the types of the model, with the row and field that do not fit', async () => {
    const wrong: [object, string][] = [
      [{ ...list[0], amount: 'much' }, 'row 1: “amount” is not a number'],
      [{ ...list[0], amount: true }, 'row 1: “amount” is not a number'],
      [{ ...list[0], customer: { name: 'x' } }, 'row 1: “customer” is not a text'],
    ];
    for (const [row, words] of wrong) {
      const failure = await own.render(report, { ...csv, data: { order: [row as never] } }).catch((error) => error);
      expect(failure).toMatchObject({ code: 'run-incomplete' });
      expect(failure.message).toContain(words);
    }
  });

  it('are refused where the model has no such entity, or a database', async () => {
    await expect(own.render(report, { ...csv, data: { ordre: list } })).rejects.toThrow('has no entity “ordre”');
    await expect(own.render(HUTS, { ...csv, data: { hut: [] } })).rejects.toThrow('come from the database “cumeeira”');
    await expect(own.render(report, csv)).rejects.toThrow('this one brought none: data: { order: … }');
  });
});

describe('runs and reports in code', () => {
  it('are followed while they go on', async () => {
    const told: string[] = [];
    const run = await gaveta.runs.start(HUTS, { claims, onProgress: ({ status }) => told.push(status) });
    const state = await run.finished();
    expect(state).toMatchObject({ status: 'done', problems: [] });
    expect(told.at(-1)).toBe('done');
    expect((await run.page(1))!.marks.length).toBeGreaterThan(0);
    expect(await run.page(state.pages + 1)).toBeNull();
    run.release();
  });

  it('end with what the host’s code throws', async () => {
    const onProgress = (): void => {
      throw new Error('of the host');
    };
    await expect(gaveta.render(HUTS, { ...csv, onProgress })).rejects.toThrow('of the host');
    const run = await gaveta.runs.start(HUTS, { claims, onProgress, parameters: { least: 3 } });
    await expect(run.finished()).rejects.toThrow('of the host');
    run.release();
  });

  it('are stored, changed, checked and removed', async () => {
    const { reports } = gaveta;
    expect(await reports.get('in-code')).toBeNull();
    expect(await reports.put('in-code', HUTS)).toMatchObject({ id: 'in-code', revision: 1, changedBy: 'code' });
    const styles = { Title: { size: 20 }, Row: { size: 9 }, Quiet: { size: 8 } };
    expect(await reports.put('styled', { ...HUTS, styles })).toMatchObject({ revision: 1 });
    expect(await reports.put('styled', { ...HUTS, styles })).toMatchObject({ revision: 1 });
    expect(await reports.put('in-code', HUTS)).toMatchObject({ revision: 1 });
    const renamed = { ...HUTS, name: 'All huts' };
    expect(await reports.put('in-code', renamed, { author: 'Inês', note: 'A name' })).toMatchObject({ revision: 2 });
    expect((await reports.get('in-code'))!.definition.name).toBe('All huts');
    expect((await reports.list()).map(({ id }) => id)).toContain('in-code');
    expect((await reports.revisions('in-code'))[0]).toMatchObject({ number: 2, author: 'Inês', note: 'A name' });
    await expect(reports.put('in-code', { gaveta: 2 })).rejects.toMatchObject({ code: 'wrong-definition' });
    expect(await reports.validate(HUTS)).toEqual([]);
    const wrong = { ...HUTS, body: [{ ...HUTS.body[0], filter: 'bedz > 2' }] };
    expect(await reports.validate(wrong)).toMatchObject([{ severity: 'error', place: { drawer: 'huts' } }]);
    expect(await reports.validate({ gaveta: 2 })).not.toEqual([]);
    expect(await reports.remove('in-code')).toBe(true);
    expect(await reports.remove('in-code')).toBe(false);
    await expect(gaveta.render('in-code', csv)).rejects.toMatchObject({ code: 'unknown-report' });
  });
});
