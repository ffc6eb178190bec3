import { unzipSync } from 'fflate';
import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Session } from '../access/session.ts';
import { readFileTables } from '../sources/files.ts';
import { type AskedDemo, askDemo } from './asked-demo.test-support.ts';

const OFFICE: Session = { user: 'Inês', rights: ['view', 'design'], claims: { role: 'office' } };
const WARDEN: Session = { user: 'Rui', rights: ['view', 'design'], claims: { role: 'warden', region: 2 } };

const field = (id: string, formula: string, x = 0, more: object = {}) => ({
  kind: 'field',
  id,
  formula,
  x,
  y: 0,
  width: 40,
  height: 5,
  ...more,
});
const DEFINITION = {
  gaveta: 2,
  name: 'Huts: all/of them',
  model: 'cumeeira',
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      sort: [{ by: 'name' }],
      groups: [{ name: 'region', by: 'region.name', header: { height: 6, items: [field('r', 'region.name')] } }],
      detail: {
        height: 6,
        items: [field('name', 'name'), field('beds', 'beds', 50), field('opened', 'opened_on', 100)],
      },
    },
  ],
};

let demo: AskedDemo;
beforeAll(async () => {
  demo = await askDemo();
});
afterAll(() => demo.close());

const call = async (session: Session, method: 'get' | 'post', path: string, body?: object) => {
  const request = supertest(demo.app)
    [method](`/gaveta/api${path}`)
    .set('Authorization', await demo.bearer(session))
    .buffer(true)
    .parse((response, done) => {
      const chunks: Buffer[] = [];
      response.on('data', (chunk: Buffer) => chunks.push(chunk));
      response.on('end', () => done(null, Buffer.concat(chunks)));
    });
  const answer = await (body ? request.send(body) : request);
  return { status: answer.status, headers: answer.headers, bytes: answer.body as Buffer };
};
const run = async (session: Session, definition: object): Promise<string> => {
  const started = await call(session, 'post', '/runs', { definition, parameters: {} });
  expect(JSON.parse(started.bytes.toString())).toMatchObject({ id: expect.any(String) });
  return (JSON.parse(started.bytes.toString()) as { id: string }).id;
};
const tableOf = async (kind: 'csv' | 'json' | 'xml', bytes: Buffer, rowsAt?: string) => {
  const [table] = await readFileTables(kind, 'file', bytes, rowsAt ? { rowsAt } : {});
  return table!;
};

describe('rows of a run as a file', () => {
  it('are those that its pages show, read as they were laid out, and can be read back', async () => {
    const { rows } = await demo.database.query<{ region: string; name: string; beds: number; opened: string }>(
      `select r.name as region, h.name, beds, to_char(opened_on, 'YYYY-MM-DD') as opened from hut h
       join region r on r.id = h.region_id order by r.name collate "C", h.name collate "C"`,
    );
    const id = await run(OFFICE, DEFINITION);
    const csv = await call(OFFICE, 'get', `/runs/${id}/files/csv?header=names`);

    const before = demo.opened();
    expect(csv.headers['content-type']).toContain('text/csv');
    expect(csv.headers['content-disposition']).toContain(`filename*=UTF-8''Huts_%20all_of%20them.csv`);
    const expected = rows
      .map(({ region, name, beds, opened }) => [region, name, String(beds), opened].join('|'))
      .sort();
    const read = await tableOf('csv', csv.bytes);
    expect(read.columns).toEqual(['region_name', 'name', 'beds', 'opened_on']);
    expect(read.rows.map((row) => row.map((cell) => cell ?? '').join('|')).sort()).toEqual(expected);
    const json = await call(OFFICE, 'get', `/runs/${id}/files/json`);
    const xml = await call(OFFICE, 'get', `/runs/${id}/files/xml`);
    for (const table of [await tableOf('json', json.bytes, 'hut'), await tableOf('xml', xml.bytes)])
      expect(table.rows.map((row) => row.map((cell) => cell ?? '').join('|')).sort()).toEqual(expected);
    // The rows of the run itself, which are not asked for once more.
    expect(demo.opened()).toBe(before);
  });

  it('are those of the person who asks', async () => {
    const id = await run(WARDEN, DEFINITION);
    const { rows } = await tableOf('csv', (await call(WARDEN, 'get', `/runs/${id}/files/csv`)).bytes);
    expect(new Set(rows.map(([region]) => region)).size).toBe(1);
    expect((await call(OFFICE, 'get', `/runs/${id}/files/csv`)).status).toBe(404);
  });

  it('are joined with those of other runs, page after page', async () => {
    const runs = [await run(OFFICE, DEFINITION), await run(OFFICE, DEFINITION)];
    const pictures = { output: 'png', options: { dpi: 18 } };
    const held = (zip: { bytes: Buffer }): string[] => Object.keys(unzipSync(zip.bytes));
    const alone = await call(OFFICE, 'post', '/joined-runs', { runs: runs.slice(0, 1), ...pictures });
    const both = await call(OFFICE, 'post', '/joined-runs', { runs, ...pictures });
    expect(held(both)).toHaveLength(2 * held(alone).length);
    const pdf = await call(OFFICE, 'post', '/joined-runs', { runs, title: 'Two of them' });
    expect(pdf.headers['content-disposition']).toContain("filename*=UTF-8''Two%20of%20them.pdf");
    expect([pdf.headers['gaveta-problems'], pdf.bytes.subarray(0, 5).toString()]).toEqual(['0', '%PDF-']);
    const csv = await call(OFFICE, 'post', '/joined-runs', { runs, output: 'csv' });
    expect([csv.status, JSON.parse(csv.bytes.toString()).code]).toEqual([400, 'not-joined']);
    expect((await call(WARDEN, 'post', '/joined-runs', { runs })).status).toBe(404);
    expect((await call(OFFICE, 'post', '/joined-runs', { runs: [] })).status).toBe(400);
  });

  it('are not joined with those of a run that is not whole, unless that is wanted', async () => {
    const broken = structuredClone(DEFINITION);
    broken.body[0]!.detail.items.push(field('wrong', 'nmae', 140));
    const runs = [await run(OFFICE, DEFINITION), await run(OFFICE, broken)];
    const refused = await call(OFFICE, 'post', '/joined-runs', { runs });
    expect([refused.status, JSON.parse(refused.bytes.toString()).code]).toEqual([422, 'run-incomplete']);
    const allowed = await call(OFFICE, 'post', '/joined-runs', { runs, problems: 'allow' });
    expect(allowed.bytes.subarray(0, 5).toString()).toBe('%PDF-');
    expect(Number(allowed.headers['gaveta-problems'])).toBeGreaterThan(0);
    const wrong = await call(OFFICE, 'post', '/joined-runs', { runs, options: { from: 'x' } });
    expect(wrong.status).toBe(400);
  });

  it('come together as a zip, under a name of one’s own', async () => {
    const id = await run(OFFICE, DEFINITION);
    const files = [{ output: 'csv', options: { header: 'names' } }, { output: 'pdf' }, { output: 'csv' }];
    const zip = await call(OFFICE, 'post', `/runs/${id}/files`, { files, filename: 'Huts of {date}' });
    expect(zip.headers['content-type']).toContain('application/zip');
    const name = /UTF-8''Huts%20of%20(\d{4}-\d\d-\d\d)\.zip/.exec(zip.headers['content-disposition'] as string);
    const held = unzipSync(zip.bytes);
    expect(Object.keys(held)).toEqual(
      ['csv', 'pdf', '2.csv'].map((end) => `Huts of ${name![1]}${end === '2.csv' ? '-' : '.'}${end}`),
    );
    const one = await call(OFFICE, 'get', `/runs/${id}/files/csv?header=names`);
    expect(Buffer.from(Object.values(held)[0]!)).toEqual(one.bytes);
    const wrong = await call(OFFICE, 'post', `/runs/${id}/files`, { files: [{ output: 'csv' }], filename: '{rgion}' });
    expect(wrong.bytes.toString()).toContain('cannot have “rgion” in braces. It can have: report, date, time');
    expect((await call(OFFICE, 'post', `/runs/${id}/files`, { files: [{ output: 'doc' }] })).status).toBe(404);
    expect((await call(OFFICE, 'post', `/runs/${id}/files`, { files: [] })).status).toBe(400);
  });

  it('come together also where there are more of them than a run keeps', async () => {
    const id = await run(OFFICE, DEFINITION);
    const names = ['csv', 'tsv', 'json', 'xml', 'markdown', 'text', 'html', 'svg'];
    const files = names.map((output) => ({ output }));
    const first = await call(OFFICE, 'post', `/runs/${id}/files`, { files });
    expect(Object.keys(unzipSync(first.bytes))).toHaveLength(names.length);
    const again = await call(OFFICE, 'post', `/runs/${id}/files`, { files });
    expect(Object.keys(unzipSync(again.bytes))).toEqual(Object.keys(unzipSync(first.bytes)));
    expect((await call(OFFICE, 'get', `/runs/${id}/files/pdf?attach=json`)).status).toBe(200);
  });

  it('go with their pages where a PDF is asked to have them', async () => {
    const id = await run(OFFICE, DEFINITION);
    const plain = await call(OFFICE, 'get', `/runs/${id}/files/pdf`);
    const pdf = await call(OFFICE, 'get', `/runs/${id}/files/pdf?attach=csv`);
    expect(pdf.bytes.length).toBeGreaterThan(plain.bytes.length);
    const text = pdf.bytes.toString();
    const said = ['/AFRelationship /Data', '<pdfaid:part>3<', `<rdf:li>${OFFICE.user}<`];
    expect(said.filter((words) => !text.includes(words))).toEqual([]);
  });

  it('are refused in options that there are not, with words', async () => {
    const id = await run(OFFICE, DEFINITION);
    const refused = await call(OFFICE, 'get', `/runs/${id}/files/csv?separator=x`);
    expect(refused.status).toBe(400);
    expect(refused.bytes.toString()).toContain('separator');
    const outputs = JSON.parse((await call(OFFICE, 'get', '/outputs')).bytes.toString()) as {
      name: string;
      takes: string;
      options: { properties: Record<string, unknown> };
    }[];
    const csv = outputs.find(({ name }) => name === 'csv')!;
    expect(csv.takes).toBe('rows');
    expect(Object.keys(csv.options.properties)).toContain('separator');
  });
});
