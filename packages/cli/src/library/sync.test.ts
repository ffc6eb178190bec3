import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { createGaveta, type Gaveta, signToken } from '@gaveta/server';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { gaveta as command } from '../cli.test-support.ts';
import { digestOf } from './folder-on-disk.ts';
import { bothSides } from './two-sides.ts';

const SECRET = 'a secret of at least thirty-two letters';
const folder = mkdtempSync(join(tmpdir(), 'gaveta-sync-'));
const files = join(folder, 'library');
const report = (name: string, more: object = {}) => ({ gaveta: 2, name, ...more });

let gaveta: Gaveta;
let server: Server;
let address: string;
let token: string;
beforeAll(async () => {
  gaveta = await createGaveta({
    store: join(folder, 'store'),
    models: [],
    connections: {},
    secret: SECRET,
    web: false,
    firstPages: false,
    log: () => {},
  });
  server = createServer(gaveta.handler);
  await new Promise<void>((resolve) => server.listen(0, resolve));
  address = `http://localhost:${(server.address() as AddressInfo).port}/`;
  token = await signToken(SECRET, { user: 'Inês', rights: ['view', 'design', 'manage'], claims: {} }, 3600);
  await gaveta.library.putFolder('season', { name: 'Season' });
  await gaveta.library.putFolder('closed', { name: 'Closed: 2019/2020', parent: 'season' });
  await gaveta.reports.put('ledger', report('Ledger'));
  await gaveta.reports.put('old ledger', report('Old ledger'));
  await gaveta.library.move('ledger', 'season');
  await gaveta.library.move('old ledger', 'closed');
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await gaveta.close();
  rmSync(folder, { recursive: true });
});

/** A PNG of one dot. */
const DOT = Buffer.from(
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'base64',
);

const call = (name: string, ...more: string[]) =>
  command(name, files, '--server', address, '--token', token, '--library', 'season', ...more);
const read = (path: string): { name: string } => JSON.parse(readFileSync(join(files, path), 'utf8'));
const write = (path: string, value: unknown): void => writeFileSync(join(files, path), JSON.stringify(value));

describe('a folder of the library as files', () => {
  it('is shown first and written then, and stays the same', async () => {
    const shown = await call('pull');
    expect(shown.status).toBe(0);
    expect(shown.stdout).toContain('Nothing was written yet. Say --yes to do it.');
    expect(existsSync(files)).toBe(false);
    expect((await call('pull', '--yes')).status).toBe(0);
    expect(read('ledger.report.json').name).toBe('Ledger');
    expect(read('Closed%3A 2019%2F2020/old%20ledger.report.json').name).toBe('Old ledger');
    expect((await call('pull')).stdout).toContain('Nothing to do');
    // The server and the folder are known by now.
    expect(await command('diff', files, '--token', token)).toMatchObject({
      status: 0,
      stdout: 'Both sides are the same.\n',
    });
  });

  it('says on which side something changed, and what', async () => {
    write('ledger.report.json', report('Ledger of the season'));
    await gaveta.reports.put('old ledger', report('Oldest ledger'));
    const { status, stdout } = await call('diff');
    expect(status).toBe(1);
    expect(stdout).toMatch(/^here +ledger\.report\.json$/m);
    expect(stdout).toMatch(/^there +Closed%3A 2019%2F2020\/old%20ledger\.report\.json$/m);
    expect(stdout).toContain('report changed name');
  });

  it('brings each side what changed on the other', async () => {
    expect((await call('push')).stdout).toMatch(/^update +ledger\.report\.json/m);
    expect((await gaveta.reports.get('ledger'))?.name).toBe('Ledger');
    expect((await call('pull', '--yes')).stdout).toMatch(/^update +Closed/m);
    expect(read('Closed%3A 2019%2F2020/old%20ledger.report.json').name).toBe('Oldest ledger');
    expect(read('ledger.report.json').name).toBe('Ledger of the season');
    expect((await call('push', '--yes')).status).toBe(0);
    expect(await gaveta.reports.get('ledger')).toMatchObject({ name: 'Ledger of the season', revision: 2 });
    expect((await call('diff')).status).toBe(0);
  });

  it('leaves what changed on both sides, and says so', async () => {
    write('ledger.report.json', report('Ledger by hand'));
    await gaveta.reports.put('ledger', report('Ledger on the server'));
    const pulled = await call('pull', '--yes');
    expect(pulled).toMatchObject({ status: 1 });
    expect(pulled.stdout).toMatch(/^conflict +ledger\.report\.json/m);
    expect(read('ledger.report.json').name).toBe('Ledger by hand');
    const pushed = await call('push', '--yes');
    expect(pushed.status).toBe(1);
    expect(pushed.stdout).toMatch(/^conflict +ledger\.report\.json/m);
    expect((await gaveta.reports.get('ledger'))?.name).toBe('Ledger on the server');
    expect((await call('push', '--yes', '--force')).status).toBe(0);
    expect((await gaveta.reports.get('ledger'))?.name).toBe('Ledger by hand');
    expect((await call('diff')).status).toBe(0);
  });

  it('holds recipes, pictures and themes as well', async () => {
    await gaveta.library.putTheme('look', { name: 'Look', accent: '#2f4b6e' }, 'season');
    await gaveta.library.putPicture('mark', { name: 'Mark', data: DOT, folder: 'season' });
    const steps = [{ step: 'take' as const, from: { model: 'huts', entity: 'hut' } }];
    await gaveta.store.data.createRecipe({ name: 'Huts', steps, parameters: [] }, 'test', 'huts', { folder: 'season' });
    expect((await call('pull', '--yes')).stdout).toMatch(/^add +huts\.recipe\.json/m);
    expect([read('look.theme.json').name, read('mark.picture.json').name]).toEqual(['Look', 'Mark']);
    expect((await call('diff')).status).toBe(0);
    write('look.theme.json', { gavetaTheme: 1, name: 'Look', accent: '#445566' });
    write('huts.recipe.json', { name: 'All huts', steps, parameters: [] });
    expect((await call('push', '--yes')).stdout).toMatch(/^update +look\.theme\.json/m);
    expect((await gaveta.store.get('look'))?.house).toMatchObject({ accent: '#445566' });
    expect(await gaveta.store.data.recipe('huts')).toMatchObject({ name: 'All huts', revision: 2 });
    expect((await call('diff')).status).toBe(0);
  });

  it('takes new folders and reports in under their own ids, and refuses what is none', async () => {
    mkdirSync(join(files, 'New ones'));
    write('New ones/folder.json', {
      id: 'new-ones',
      name: 'New ones',
      things: { fresh: { note: 'brought', tags: ['a'] } },
    });
    write('New ones/fresh.report.json', report('Fresh'));
    write('New ones/broken.report.json', { gaveta: 2 });
    writeFileSync(join(files, 'New ones/notes.txt'), 'left alone');
    const pushed = await call('push', '--yes');
    expect(pushed.status).toBe(1);
    expect(pushed.stdout).toMatch(/^add +New ones\/folder\.json/m);
    expect(pushed.stdout).toMatch(/^add +New ones\/fresh\.report\.json/m);
    expect(pushed.stdout).toMatch(/^refused +New ones\/broken\.report\.json +\S/m);
    const [fresh] = (await gaveta.reports.list()).filter(({ id }) => id === 'fresh');
    expect(fresh).toMatchObject({ folder: 'new-ones', note: 'brought', tags: ['a'] });
  });

  it('tells what is wrong with a call', async () => {
    expect((await command('push', join(folder, 'nothing'), '--server', address, '--token', token)).status).toBe(2);
    expect((await command('pull', join(folder, 'nothing'))).stderr).toContain('which server?');
    expect((await command('pull', files, '--server', address)).stderr).toContain('it wants a token');
    expect((await command('pull', files, '--server', address, '--token', token, '--library', 'no')).stderr).toContain(
      'no folder',
    );
  });
});

it('two sides are told apart by what they were when both were the same', () => {
  const file = (path: string, text: string) => ({ path, text });
  const known = {
    files: Object.fromEntries(
      [
        ['a', '1'],
        ['b', '1'],
        ['c', '1'],
        ['d', '1'],
      ].map(([path, text]) => [path, digestOf({ path: path!, text: text! })]),
    ),
  };
  const sides = bothSides(
    [file('a', '1'), file('b', '2'), file('c', '2'), file('e', '5')],
    [file('a', '1'), file('b', '1'), file('c', '3'), file('d', '1'), file('f', '6')],
    known,
  );
  expect(sides.map(({ path, standing }) => `${path} ${standing}`)).toEqual([
    ...['a same', 'b here', 'c both', 'd here', 'e here', 'f there'],
  ]);
});
