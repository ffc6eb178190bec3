import type { PGlite } from '@electric-sql/pglite';
import express from 'express';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import type { Gaveta } from '../gaveta.ts';
import { demoDatabase, gavetaOver, HUTS, SECRET } from '../services/huts.test-support.ts';
import { askingAs } from './asking-as.test-support.ts';

const person = (user: string, groups: string[], rights: Session['rights'] = ['view', 'design']): Session => ({
  ...{ user, groups, rights },
  claims: { role: 'office' },
});
const MANAGER = person('Ana', [], ['view', 'design', 'manage']);
const OFFICE = person('Inês', ['office']);
const LEAD = person('Rui', ['leads']);
const AUDITOR = person('Duarte', ['auditors'], ['view']);

let database: PGlite;
let gaveta: Gaveta;
let host: express.Express;
beforeAll(async () => {
  database = await demoDatabase();
  gaveta = await gavetaOver(database, {});
  host = express().use('/reports', gaveta.router);
});
afterAll(() => gaveta.close());

const as = askingAs(() => host);
const newFolder = async (who: Session, name: string, parent = 'root'): Promise<string> =>
  (await as(who, 'post', '/folders', { name, parent })).body.id;
const newReport = async (who: Session, name: string, folder?: string): Promise<string> => {
  const answer = await as(who, 'post', '/reports', {
    definition: { ...HUTS, name },
    ...(folder === undefined ? {} : { folder, note: 'a note' }),
  });
  expect(answer.status).toBe(201);
  return answer.body.id;
};
const names = async (who: Session, query = ''): Promise<string[]> =>
  (await as(who, 'get', `/library?${query}`)).body.things.map(({ name }: { name: string }) => name);

describe('the library', () => {
  it('keeps a report in the folder and with the note that it was saved with', async () => {
    const folder = await newFolder(OFFICE, 'Season');
    const id = await newReport(OFFICE, 'Season ledger', folder);
    const { body } = await as(OFFICE, 'get', `/library/${id}`);
    expect(body).toMatchObject({
      folder,
      note: 'a note',
      owner: 'Inês',
      may: 'manage',
      published: 1,
      isStarred: false,
    });
    expect(await names(LEAD, `place=folder&folder=${folder}`)).toEqual(['Season ledger']);
    expect((await as(LEAD, 'get', `/library/${id}`)).body.may).toBe('publish');
    expect((await as(AUDITOR, 'get', `/library/${id}`)).body.may).toBe('see');
  });

  it('refuses folders that cannot be, in words', async () => {
    const outer = await newFolder(OFFICE, 'Wardens');
    const inner = await newFolder(OFFICE, 'Rosters', outer);
    const codes = async (...calls: ['post' | 'put' | 'delete', string, object?][]) => {
      const found: string[] = [];
      for (const [method, path, body] of calls) found.push((await as(OFFICE, method, path, body)).body.code);
      return found;
    };
    expect(
      await codes(
        ['post', '/folders', { name: 'wardens' }],
        ['post', '/folders', { name: '  ' }],
        ['post', '/folders', { name: 'Lost', parent: 'nowhere' }],
        ['put', `/folders/${outer}`, { parent: inner }],
        ['put', `/folders/${outer}`, { parent: outer }],
        ['put', '/folders/root', { name: 'Mine' }],
        ['delete', '/folders/root'],
      ),
    ).toEqual([
      ...['folder-name-taken', 'wrong-body', 'unknown-folder', 'folder-in-itself', 'folder-in-itself'],
      // Deciding about the root, and what becomes of it, is for managers.
      ...['folder-stays', 'folder-stays'],
    ]);
  });

  it('renames, tags, moves and copies, and saves a revision for a new name', async () => {
    const [from, to] = [await newFolder(OFFICE, 'From'), await newFolder(OFFICE, 'To')];
    const id = await newReport(OFFICE, 'Folio', from);
    const { body } = await as(LEAD, 'put', `/library/${id}`, {
      name: 'Stay folio',
      tags: ['bill', 'bill'],
      folder: to,
    });
    expect(body).toMatchObject({ name: 'Stay folio', tags: ['bill'], folder: to, revision: 2, published: 2 });
    expect((await as(OFFICE, 'get', `/reports/${id}`)).body.definition.name).toBe('Stay folio');
    const copy = await as(LEAD, 'post', `/library/${id}/copy`, { name: 'Copy of it' });
    expect(copy.body).toMatchObject({ name: 'Copy of it', folder: to, owner: 'Rui', revision: 1, note: 'a note' });
    expect(await names(LEAD, 'find=bill')).toEqual(['Stay folio']);
  });

  it('stars and finds again what each person has', async () => {
    const id = await newReport(OFFICE, 'Starred one');
    expect((await as(AUDITOR, 'put', `/library/${id}/star`, { starred: true })).body.isStarred).toBe(true);
    expect(await names(AUDITOR, 'place=starred')).toEqual(['Starred one']);
    expect(await names(OFFICE, 'place=starred')).toEqual([]);
    expect(await names(OFFICE, 'place=mine')).toContain('Starred one');
  });

  it('brings back from the bin what was deleted, to whoever may change it', async () => {
    const folder = await newFolder(OFFICE, 'Old seasons');
    await newReport(OFFICE, 'Ledger of 2019', folder);
    const alone = await newReport(OFFICE, 'Gone alone');
    expect((await as(AUDITOR, 'delete', `/folders/${folder}`)).status).toBe(403);
    expect((await as(LEAD, 'delete', `/folders/${folder}`)).status).toBe(204);
    await as(LEAD, 'delete', `/reports/${alone}`);
    const bin = (await as(OFFICE, 'get', '/library/bin')).body as { name: string }[];
    expect(bin.map(({ name }) => name)).toEqual(['Gone alone', 'Old seasons']);
    expect((await as(OFFICE, 'post', `/folders/${folder}/restore`)).body).toMatchObject({
      name: 'Old seasons',
      things: 1,
    });
    expect(await names(LEAD, 'find=2019')).toEqual(['Ledger of 2019']);
  });
});

describe('what was granted', () => {
  let closed: string;
  let id: string;
  beforeAll(async () => {
    closed = await newFolder(OFFICE, 'Office alone');
    await as(OFFICE, 'put', `/folders/${closed}/access`, { inherits: false });
    id = await newReport(OFFICE, 'Salaries', closed);
  });

  it('hides what somebody may not see from every call about it', async () => {
    const calls: ['get' | 'post' | 'put' | 'delete', string, object?][] = [
      ['get', `/library/${id}`],
      ['put', `/library/${id}`, { note: 'x' }],
      ['post', `/library/${id}/copy`, {}],
      ['put', `/library/${id}/star`, { starred: true }],
      ['get', `/library/${id}/access`],
      ['put', `/library/${id}/access`, { inherits: true }],
      ['get', `/reports/${id}`],
      ['get', `/reports/${id}/publications`],
      ['post', `/reports/${id}/publish`, { revision: 1 }],
      ['post', `/runs`, { report: id }],
    ];
    for (const [method, path, body] of calls)
      expect([path, (await as(LEAD, method, path, body)).body.code]).toEqual([path, 'unknown-report']);
    expect((await as(LEAD, 'get', `/folders/${closed}/access`)).body.code).toBe('unknown-folder');
    const { folders } = (await as(LEAD, 'get', '/folders')).body as { folders: { id: string }[] };
    expect(folders.map((one) => one.id)).not.toContain(closed);
    expect(await names(LEAD, 'find=salaries')).toEqual([]);
    expect(await names(LEAD, `place=folder&folder=${closed}`)).toEqual([]);
  });

  it('lets groups and people do as much as they were let, and tells makers who may', async () => {
    expect(
      (await as(OFFICE, 'put', `/folders/${closed}/access`, { principal: 'group:leads', may: 'see' })).status,
    ).toBe(200);
    expect((await as(LEAD, 'get', `/library/${id}`)).body.may).toBe('see');
    expect((await as(LEAD, 'post', '/runs', { report: id })).status).toBe(201);
    expect((await as(LEAD, 'put', `/reports/${id}`, { definition: HUTS, base: 1 })).body.code).toBe('not-allowed-here');
    expect((await as(LEAD, 'get', `/library/${id}/access`)).body.code).toBe('not-allowed-here');
    await as(OFFICE, 'put', `/library/${id}/access`, { principal: 'user:Rui', may: 'change' });
    const { places } = (await as(LEAD, 'get', `/library/${id}/access`)).body;
    expect(places).toMatchObject([
      { here: true, name: 'Salaries', owner: 'Inês', grants: [{ principal: 'user:Rui', may: 'change', by: 'Inês' }] },
      { here: false, name: 'Office alone', inherits: false, grants: [{ principal: 'group:leads', may: 'see' }] },
    ]);
    // Whoever may change it decides about nobody.
    expect((await as(LEAD, 'put', `/library/${id}/access`, { principal: 'everybody', may: 'see' })).status).toBe(403);
    expect((await as(MANAGER, 'get', `/library/${id}`)).body.may).toBe('manage');
    for (const principal of ['nobody', 'user:', 'team:office'])
      expect((await as(OFFICE, 'put', `/library/${id}/access`, { principal, may: 'see' })).body.code).toBe(
        'wrong-body',
      );
  });

  it('puts new things of those who may put nothing at the top into a folder of their own', async () => {
    await gaveta.store.grants.put({ folder: 'root' }, 'everybody', 'see', 'test');
    const own = await newReport(LEAD, 'Draft of Rui');
    const { body } = await as(LEAD, 'get', `/library/${own}`);
    const { folders } = (await as(LEAD, 'get', '/folders')).body as { folders: { id: string; isPersonal: boolean }[] };
    expect(folders.find((one) => one.id === body.folder)).toMatchObject({ isPersonal: true, may: 'manage' });
    expect((await as(OFFICE, 'get', `/library/${own}`)).body.code).toBe('unknown-report');
    expect((await as(MANAGER, 'get', `/library/${own}`)).body.code).toBe('unknown-report');
    const refused = await as(LEAD, 'post', '/reports', { definition: HUTS, folder: 'root' });
    expect(refused.body.code).toBe('not-allowed-in-folder');
    await gaveta.store.grants.put({ folder: 'root' }, 'everybody', 'publish', 'test');
  });

  it('runs inside a report only what its reader may run', async () => {
    const outer = {
      ...{ gaveta: 2, name: 'With salaries' },
      header: { height: 20, items: [{ kind: 'subreport', id: 's', report: id, x: 0, y: 0, width: 100, height: 10 }] },
    };
    const made = (await as(OFFICE, 'post', '/reports', { definition: outer })).body.id as string;
    const found = async (who: Session): Promise<string[]> => {
      const { body } = await as(who, 'post', '/runs', { report: made });
      await expect
        .poll(async () => (await as(who, 'get', `/runs/${body.id}`)).body.status, { timeout: 60_000 })
        .not.toMatch(/waiting|running/);
      return (await as(who, 'get', `/runs/${body.id}`)).body.problems.map(({ code }: { code: string }) => code);
    };
    expect(await found(OFFICE)).toEqual([]);
    expect(await found(AUDITOR)).toEqual(['unknown-subreport']);
  });
});

describe('what is published', () => {
  const text = (words: string) => ({ ...HUTS, name: 'Tariffs', description: words });

  it('stays before readers while makers go on, until it is published anew or taken back', async () => {
    const folder = await newFolder(OFFICE, 'By hand');
    await as(OFFICE, 'put', `/folders/${folder}`, { publishing: 'by-hand' });
    const { id } = (await as(OFFICE, 'post', '/reports', { definition: text('one'), folder })).body;
    expect((await as(AUDITOR, 'get', `/reports/${id}`)).body.code).toBe('unknown-report');
    expect((await as(OFFICE, 'post', `/reports/${id}/publish`, { revision: 1, note: 'first' })).body.published).toBe(1);
    await as(OFFICE, 'put', `/reports/${id}`, { definition: text('two'), base: 1 });
    const shown = async (who: Session, which = '') =>
      (await as(who, 'get', `/reports/${id}${which}`)).body.definition.description;
    expect([await shown(AUDITOR), await shown(AUDITOR, '?which=newest')]).toEqual(['one', 'one']);
    expect([await shown(OFFICE, '?which=published'), await shown(OFFICE)]).toEqual(['one', 'two']);
    expect((await as(OFFICE, 'post', `/reports/${id}/publish`, { revision: 7 })).body.code).toBe('unknown-revision');
    await as(LEAD, 'post', `/reports/${id}/publish`, { revision: 2, note: 'second' });
    expect(await shown(AUDITOR)).toBe('two');
    await as(OFFICE, 'post', `/reports/${id}/publish`, { revision: 1, note: 'back' });
    expect(await shown(AUDITOR)).toBe('one');
    await as(OFFICE, 'post', `/reports/${id}/publish`, { revision: null });
    expect((await as(AUDITOR, 'get', `/reports/${id}`)).body.code).toBe('unknown-report');
    const all = (await as(OFFICE, 'get', `/reports/${id}/publications`)).body as { revision: number; by: string }[];
    expect(all.map(({ revision, by }) => [revision, by])).toEqual([
      [null, 'Inês'],
      [1, 'Inês'],
      [2, 'Rui'],
      [1, 'Inês'],
    ]);
  });

  it('takes two people where it is so', async () => {
    const folder = await newFolder(OFFICE, 'Two people');
    await as(OFFICE, 'put', `/folders/${folder}`, { publishing: 'two-people' });
    const { id } = (await as(OFFICE, 'post', '/reports', { definition: text('one'), folder })).body;
    const publish = (who: Session) => as(who, 'post', `/reports/${id}/publish`, { revision: 1 });
    expect((await publish(OFFICE)).body.code).toBe('publish-not-asked');
    const asked = await as(OFFICE, 'post', `/reports/${id}/ask`, { revision: 1, note: 'please look' });
    expect(asked.body.asked).toEqual({ revision: 1, by: 'Inês', note: 'please look' });
    expect((await publish(OFFICE)).body.code).toBe('publish-own');
    expect((await publish(LEAD)).body).toMatchObject({ published: 1, asked: null });
  });
});

describe('a folder as files', () => {
  it('goes out and comes back, with other ids where somebody may not manage all', async () => {
    const folder = await newFolder(OFFICE, 'Taken along');
    const inner = await newFolder(OFFICE, 'Inside', folder);
    const id = await newReport(OFFICE, 'Taken', inner);
    const { files, revisions } = (await as(OFFICE, 'get', `/folders/${folder}/files`)).body;
    expect(files.map(({ path }: { path: string }) => path).sort()).toEqual([
      ...[`Inside/${id}.report.json`, 'Inside/folder.json', 'folder.json'],
    ]);
    expect(revisions).toEqual({ [id]: 1 });
    const to = await newFolder(LEAD, 'Brought in');
    const whats = async (who: Session, where: string, body: object) =>
      (await as(who, 'post', `/folders/${where}/files`, body)).body.changes.map(
        ({ kind, what, id: one }: { kind: string; what: string; id: string }) => [kind, what, one === id],
      );
    // It stays where it is: somebody who may change it moves it.
    expect(await whats(OFFICE, folder, { files })).toEqual([['report', 'same', true]]);
    expect(await whats(LEAD, to, { files })).toEqual([
      ['folder', 'added', false],
      ['report', 'moved', true],
    ]);
    await as(OFFICE, 'put', `/folders/${folder}/access`, { inherits: false });
    expect(await whats(LEAD, to, { files, apply: true })).toEqual([
      ['folder', 'added', false],
      ['report', 'added', false],
    ]);
    expect((await as(OFFICE, 'get', `/library/${id}`)).body).toMatchObject({ folder: inner, name: 'Taken' });
    expect((await as(AUDITOR, 'get', `/folders/${to}/files`)).status).toBe(403);
    expect((await as(LEAD, 'get', `/folders/${folder}/files`)).body.code).toBe('unknown-folder');
  });
});

it('leaves it all to the host’s function where there is one', async () => {
  const other = await gavetaOver(database, {
    authorize: (caller, action, thing) => caller.user === 'Inês' || (action === 'view' && thing?.name !== 'Secret'),
  });
  const app = express().use('/reports', other.router);
  const ask = async (who: Session, method: 'get' | 'put', path: string, body?: object) =>
    request(app)
      [method](`/reports/api${path}`)
      .set('Authorization', `Bearer ${await signToken(SECRET, who)}`)
      .send(body);
  await other.reports.put('secret', { ...HUTS, name: 'Secret' });
  await other.reports.put('open', { ...HUTS, name: 'Open' });
  const { body } = await ask(LEAD, 'get', '/library');
  expect(body.things.map(({ id }: { id: string }) => id)).toEqual(['open']);
  expect((await ask(LEAD, 'get', '/folders')).body.decides).toBe('host');
  expect((await ask(LEAD, 'put', '/library/open', { note: 'x' })).body.code).toBe('not-allowed-here');
  expect((await ask(OFFICE, 'put', '/library/open/access', { inherits: false })).body.code).toBe('host-decides');
  await other.close();
}, 60_000);
