import express from 'express';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import type { Gaveta } from '../gaveta.ts';
import { demoDatabase, gavetaOver, HUTS, SECRET } from '../services/huts.test-support.ts';
import { askingAs } from './asking-as.test-support.ts';

const person = (user: string, groups: string[], rights: Session['rights'] = ['view', 'design', 'data']): Session => ({
  ...{ user, groups, rights },
  claims: { role: 'office' },
});
const OFFICE = person('Inês', ['office']);
const LEAD = person('Rui', ['leads']);
const READER = person('Duarte', [], ['view']);

/** A PNG of one dot. */
const DOT =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';

let gaveta: Gaveta;
let host: express.Express;
beforeAll(async () => {
  gaveta = await gavetaOver(await demoDatabase(), { encryptionKey: 'a key that seals the secrets of these tests' });
  host = express().use('/reports', gaveta.router);
});
afterAll(() => gaveta.close());

const as = askingAs(() => host);
const kept = async (who: Session, definition: object, folder = 'root'): Promise<string> => {
  const { status, body } = await as(who, 'post', '/library', { definition, folder });
  expect([status, body]).toEqual([201, expect.anything()]);
  return body.id;
};
const names = async (who: Session, query: string): Promise<string[]> =>
  (await as(who, 'get', `/library?${query}`)).body.things.map(({ name }: { name: string }) => name);
const closed = async (name: string): Promise<string> => {
  const { id } = (await as(OFFICE, 'post', '/folders', { name })).body;
  await as(OFFICE, 'put', `/folders/${id}/access`, { inherits: false });
  return id;
};
const ran = async (who: Session, body: object): Promise<{ id: string; problems: { code: string }[] }> => {
  const { body: started } = await as(who, 'post', '/runs', body);
  await expect
    .poll(async () => (await as(who, 'get', `/runs/${started.id}`)).body.status, { timeout: 60_000 })
    .toBe('done');
  return (await as(who, 'get', `/runs/${started.id}`)).body;
};
const showing = (fromLibrary: string) => ({
  ...{ gaveta: 2, name: 'Letter' },
  pageHeader: {
    height: 20,
    items: [{ kind: 'picture', id: 'p', fromLibrary, x: 0, y: 0, width: 20, height: 10 }],
  },
});
const STEPS = [{ step: 'take', from: { model: 'cumeeira', entity: 'hut' } }];

describe('pictures of the library', () => {
  it('are shown by the reports that name them, and changed for all of them at once', async () => {
    const id = await kept(OFFICE, { gavetaPicture: 1, name: 'Logo', source: DOT });
    const { id: report } = (await as(OFFICE, 'post', '/reports', { definition: showing(id) })).body;
    const shown = async (who: Session): Promise<string | undefined> => {
      const run = await ran(who, { report });
      const [page] = (await as(who, 'get', `/runs/${run.id}/pages?from=1&count=1`)).body;
      return page.marks.find(({ kind }: { kind: string }) => kind === 'picture')?.picture;
    };
    const before = await shown(READER);
    expect(before).toMatch(/^[0-9a-f]{64}$/);
    expect((await as(OFFICE, 'get', `/library/${id}/users`)).body).toEqual([
      { kind: 'report', id: report, name: 'Letter' },
    ]);
    const jpeg = 'data:image/jpeg;base64,/9j/4AAQSkZJRgABAQAAAQABAAD/wAALCAABAAEBAREA/9oACAEBAAA/AAD/2Q==';
    const { status } = await as(OFFICE, 'put', `/library/${id}/definition`, {
      definition: { gavetaPicture: 1, name: 'Logo', source: jpeg },
      base: 1,
    });
    expect(status).toBe(200);
    expect(await shown(READER)).not.toBe(before);
  });

  it('are not there for those who may not see them, which the run says', async () => {
    const id = await kept(OFFICE, { gavetaPicture: 1, name: 'Hidden', source: DOT }, await closed('Hidden pictures'));
    const { problems } = await ran(LEAD, { definition: showing(id) });
    expect(problems.map(({ code }) => code)).toEqual(['picture-not-there']);
    expect((await ran(OFFICE, { definition: showing(id) })).problems).toEqual([]);
  });

  it('must be pictures', async () => {
    const wrong = await as(OFFICE, 'post', '/library', {
      definition: { gavetaPicture: 1, name: 'x', source: 'data:,' },
    });
    expect([wrong.status, wrong.body.code]).toEqual([400, 'wrong-body']);
  });
});

describe('themes of the library', () => {
  it('are offered beside those of the application, and put on several reports with what changes shown first', async () => {
    const theme = { gavetaTheme: 1, name: 'Harbour', accent: '#2f4b6e', font: 'Source Serif 4' };
    const id = await kept(OFFICE, theme);
    const offered = (await as(LEAD, 'get', '/themes')).body.map(({ name }: { name: string }) => name);
    expect(offered).toContain('Harbour');
    const reports: string[] = [];
    for (const name of ['One', 'Two'])
      reports.push((await as(OFFICE, 'post', '/reports', { definition: { ...HUTS, name } })).body.id);
    const first = await as(OFFICE, 'post', `/library/${id}/theme`, { reports });
    expect(first.body).toMatchObject([
      { id: reports[0], what: 'changed', problem: null },
      { id: reports[1], what: 'changed' },
    ]);
    expect(first.body[0].changes[0]).toMatchObject({ what: 'report', settings: expect.arrayContaining(['theme']) });
    expect((await as(OFFICE, 'get', `/library/${reports[0]}`)).body.revision).toBe(1);
    await as(OFFICE, 'post', `/library/${id}/theme`, { reports, apply: true, note: 'The new house style' });
    const { definition, revision } = (await as(OFFICE, 'get', `/reports/${reports[0]}`)).body;
    expect([revision, definition.theme, definition.styles.Title.color]).toEqual([2, 'Harbour', '#2f4b6e']);
    expect((await as(OFFICE, 'get', `/reports/${reports[0]}/revisions`)).body[0].note).toBe('The new house style');
    const again = await as(OFFICE, 'post', `/library/${id}/theme`, { reports });
    expect(again.body.map(({ what }: { what: string }) => what)).toEqual(['same', 'same']);
    expect((await as(OFFICE, 'get', `/library/${id}/users`)).body).toHaveLength(2);
  });

  it('are called as none of the application or of Gaveta', async () => {
    const pine = { gavetaTheme: 1, name: 'Pine', accent: '#2f4b6e' };
    expect((await as(OFFICE, 'post', '/library', { definition: pine })).body.code).toBe('theme-name-taken');
    const id = await kept(OFFICE, { ...pine, name: 'Pines' });
    expect((await as(OFFICE, 'put', `/library/${id}`, { name: 'Pine' })).body.code).toBe('theme-name-taken');
    expect((await as(OFFICE, 'put', `/library/${id}`, { name: 'Pine trees' })).body.name).toBe('Pine trees');
  });

  it('leave reports alone that whoever puts them on may not change', async () => {
    const id = await kept(OFFICE, { gavetaTheme: 1, name: 'Inland', accent: '#445566' });
    const folder = (await as(OFFICE, 'post', '/folders', { name: 'To be seen' })).body.id;
    await as(OFFICE, 'put', `/folders/${folder}/access`, { inherits: false });
    await as(OFFICE, 'put', `/folders/${folder}/access`, { principal: 'group:leads', may: 'see' });
    const report = (await as(OFFICE, 'post', '/reports', { definition: HUTS, folder })).body.id;
    const { body } = await as(LEAD, 'post', `/library/${id}/theme`, { reports: [report], apply: true });
    expect(body).toMatchObject([{ what: 'refused', problem: expect.stringContaining('no leave') }]);
  });
});

describe('templates', () => {
  it('are reports that were made one, offered by themselves', async () => {
    const { id } = (await as(OFFICE, 'post', '/reports', { definition: { ...HUTS, name: 'Bill' } })).body;
    expect(await names(LEAD, 'kind=template')).toEqual([]);
    await as(OFFICE, 'put', `/library/${id}`, { isTemplate: true });
    expect(await names(LEAD, 'kind=template')).toEqual(['Bill']);
    const theme = await kept(OFFICE, { gavetaTheme: 1, name: 'No template', accent: '#445566' });
    const { status, body } = await as(OFFICE, 'put', `/library/${theme}`, { isTemplate: true });
    expect([status, body.code]).toEqual([409, 'not-a-template']);
  });
});

describe('recipes and connections', () => {
  it('stand in folders, are renamed and found there, and go to the bin and back', async () => {
    const folder = (await as(OFFICE, 'post', '/folders', { name: 'Rows' })).body.id;
    const { id } = (await as(OFFICE, 'post', '/recipes', { name: 'All huts', steps: STEPS, folder, note: 'n' })).body;
    expect(await names(LEAD, `place=folder&folder=${folder}`)).toEqual(['All huts']);
    await as(OFFICE, 'put', `/library/recipe:${id}`, { name: 'Every hut', tags: ['basis'] });
    const [recipe] = (await as(OFFICE, 'get', '/recipes')).body;
    expect(recipe).toMatchObject({ id, name: 'Every hut', revision: 2 });
    expect(await names(OFFICE, 'find=basis')).toEqual(['Every hut']);
    await as(OFFICE, 'delete', `/recipes/${id}`);
    expect((await as(OFFICE, 'get', '/recipes')).body).toEqual([]);
    const bin = (await as(OFFICE, 'get', '/library/bin')).body;
    expect(bin[0]).toMatchObject({ kind: 'recipe', id: `recipe:${id}`, name: 'Every hut' });
    await as(OFFICE, 'post', `/reports/recipe:${id}/restore`);
    expect((await as(OFFICE, 'get', '/recipes')).body).toHaveLength(1);
  });

  it('of others give rows to nobody who may not see them, by no way round', async () => {
    const folder = await closed('Closed rows');
    const { id } = (await as(OFFICE, 'post', '/recipes', { name: 'Closed', steps: STEPS, folder })).body;
    const taking = [{ step: 'take', from: { recipe: id } }];
    expect((await as(LEAD, 'get', '/recipes')).text).not.toContain(id);
    for (const [path, body] of [
      ['/recipe/rows', { steps: taking }],
      ['/recipes', { name: 'Mine', steps: taking }],
      ['/design-rows', { definition: { ...HUTS, queries: [{ name: 'q', recipe: id }] }, parameters: {} }],
      ['/reports', { definition: { ...HUTS, queries: [{ name: 'q', recipe: id }] } }],
    ] as const) {
      const answer = await as(LEAD, 'post', path, body);
      expect([path, answer.status, answer.body.code]).toEqual([path, 403, 'names-not-there']);
    }
    // Whoever may change a report works with what it takes rows from.
    const query = { ...HUTS, name: 'Lent', queries: [{ name: 'q', recipe: id }] };
    const report = (await as(OFFICE, 'post', '/reports', { definition: query })).body.id;
    expect((await as(LEAD, 'get', `/library/${report}`)).body.may).toBe('publish');
    expect((await as(LEAD, 'post', '/recipe/rows', { steps: taking })).status).toBe(200);
    await as(OFFICE, 'put', `/library/${report}/access`, { inherits: false });
    expect((await as(LEAD, 'post', '/recipe/rows', { steps: taking })).status).toBe(403);
  });

  it('made by hand are changed by those who may, under a name that nobody else takes', async () => {
    const folder = await closed('Closed connections');
    const upload = async (): Promise<string> =>
      (
        await request(host)
          .post('/reports/api/uploads')
          .set('Authorization', `Bearer ${await signToken(SECRET, OFFICE)}`)
          .type('application/octet-stream')
          .send('name,beds\nLago Frio,12\n')
      ).body.id;
    const settings = { kind: 'file', format: 'csv', fileName: 'huts.csv' };
    const given = { name: 'tariffs', label: 'Tariffs', settings, upload: await upload(), folder };
    expect((await as(OFFICE, 'put', '/connections', given)).status).toBe(200);
    expect((await as(LEAD, 'get', '/connections')).body.made).toEqual([]);
    expect((await as(LEAD, 'get', '/models')).text).not.toContain('tariffs');
    expect((await as(OFFICE, 'get', '/models')).text).toContain('tariffs');
    expect((await as(LEAD, 'put', '/connections', given)).body.code).toBe('connection-name-taken');
    expect((await as(LEAD, 'delete', '/connections/tariffs')).body.code).toBe('unknown-connection');
    await as(OFFICE, 'put', '/library/connection:tariffs', { name: 'Rates' });
    expect((await as(OFFICE, 'get', '/connections')).body.made[0].label).toBe('Rates');
    expect((await as(OFFICE, 'post', '/library/connection:tariffs/copy', {})).body.code).toBe('connection-not-copied');
    const kept = await as(OFFICE, 'delete', `/folders/${folder}`);
    expect([kept.status, kept.body.code]).toEqual([409, 'folder-in-use']);
    expect((await as(OFFICE, 'delete', '/connections/tariffs')).status).toBe(204);
    expect((await as(OFFICE, 'delete', `/folders/${folder}`)).status).toBe(204);
  });

  it('are nothing that readers meet', async () => {
    expect(await names(READER, 'count=200')).not.toContain('Every hut');
    const { folders } = (await as(READER, 'get', '/folders')).body;
    const shown = (await as(READER, 'get', '/library?count=200')).body.things;
    expect(folders.reduce((sum: number, one: { things: number }) => sum + one.things, 0)).toBe(shown.length);
  });
});

describe('a folder as files', () => {
  it('holds recipes, pictures and themes, and takes them back', async () => {
    const folder = (await as(OFFICE, 'post', '/folders', { name: 'House' })).body.id;
    await kept(OFFICE, { gavetaPicture: 1, name: 'Seal', source: DOT }, folder);
    await kept(OFFICE, { gavetaTheme: 1, name: 'Paper', accent: '#112233' }, folder);
    await as(OFFICE, 'post', '/recipes', { name: 'Beds', steps: STEPS, folder });
    const { files } = (await as(OFFICE, 'get', `/folders/${folder}/files`)).body;
    const kinds = files.map(({ path }: { path: string }) => path.replace(/^[^.]*\./, '')).sort();
    expect(kinds).toEqual(['json', 'picture.json', 'recipe.json', 'theme.json']);
    const same = await as(OFFICE, 'post', `/folders/${folder}/files`, { files });
    expect(same.body.changes.map(({ what }: { what: string }) => what)).toEqual(['same', 'same', 'same']);
    const changed = files.map((file: { path: string; text: string }) => ({
      ...file,
      text: file.text.replace('"Beds"', '"All beds"').replace('#112233', '#332211'),
    }));
    await as(OFFICE, 'post', `/folders/${folder}/files`, { files: changed, apply: true });
    expect((await names(OFFICE, `place=folder&folder=${folder}`)).sort()).toEqual(['All beds', 'Paper', 'Seal']);
    const elsewhere = (await as(OFFICE, 'post', '/folders', { name: 'Elsewhere' })).body.id;
    const copies = await as(LEAD, 'post', `/folders/${elsewhere}/files`, {
      files: files.map((file: { path: string; text: string }) => ({ ...file, path: `x${file.path}` })),
      apply: true,
    });
    expect(copies.body.changes.map(({ what }: { what: string }) => what)).toEqual(['added', 'added', 'added']);
    expect(await names(LEAD, `place=folder&folder=${elsewhere}`)).toEqual(['Beds', 'Paper', 'Seal']);
  });
});
