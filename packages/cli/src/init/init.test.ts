import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { postgresConnection } from '@gaveta/server';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startPostgres, type TestServer } from '../../../server/src/connection/server.test-support.ts';
import { gaveta } from '../cli.test-support.ts';
import { VERSIONS } from './init.ts';

let root: string;
let server: TestServer;

beforeAll(async () => {
  // Inside the repository, so that what is written finds Gaveta's packages.
  mkdirSync('.data', { recursive: true });
  root = mkdtempSync('.data/init-');
  server = await startPostgres();
}, 60_000);
afterAll(async () => {
  await server.stop();
  rmSync(root, { recursive: true });
});

const text = (...path: string[]): string => readFileSync(join(root, ...path), 'utf8');
const json = (...path: string[]) => JSON.parse(text(...path));

it('writes a whole application with made-up rows, whose report runs', async () => {
  const folder = join(root, 'My Office');
  const { status, stdout } = await gaveta('init', folder);
  expect(status).toBe(0);
  expect(stdout).toContain('npm install\n  npm start');
  expect(json('My Office', 'package.json')).toMatchObject({ name: 'my-office', type: 'module' });
  const secret = /GAVETA_SECRET=(\S{43})\n/.exec(text('My Office', '.env'))![1]!;
  expect(statSync(join(folder, '.env')).mode & 0o077).toBe(0);
  expect(text('My Office', '.gitignore')).toContain('.env');
  for (const file of ['server.mjs', 'gaveta.mjs', 'model.mjs', 'public/index.html'])
    expect(text('My Office', file)).not.toContain(secret);
  const out = join(root, 'stays.csv');
  const call = ['--config', join(folder, 'gaveta.config.mjs'), 'render', 'stays', '--format', 'csv', '--out', out];
  expect((await gaveta(...call)).status).toBe(0);
  expect(readFileSync(out, 'utf8').trim().split('\n')).toHaveLength(121);
});

it('leaves what is there as it is, and says what is in the way', async () => {
  const folder = join(root, 'taken');
  mkdirSync(folder);
  writeFileSync(join(folder, 'model.mjs'), 'mine');
  const { status, stderr } = await gaveta('init', folder);
  expect([status, stderr]).toEqual([2, expect.stringContaining('model.mjs is there already, and nothing was written')]);
  expect(text('taken', 'model.mjs')).toBe('mine');
  expect(existsSync(join(folder, 'package.json'))).toBe(false);
  expect((await gaveta('init', folder, '--template', 'raect')).stderr).toContain('Did you mean react?');
});

it('adds itself to an application that is there, and keeps its packages', async () => {
  const folder = join(root, 'office');
  expect((await gaveta('init', folder, '--template', 'express')).stderr).toContain('there is no package.json');
  mkdirSync(folder);
  writeFileSync(join(folder, 'package.json'), '{"name":"office","dependencies":{"express":"^4.21.0"}}');
  writeFileSync(join(folder, '.env'), 'PORT=80\n');
  const { status, stdout } = await gaveta('init', folder, '--template', 'express');
  expect(status).toBe(0);
  expect(stdout).toContain("import { mountGaveta } from './gaveta.mjs';");
  expect(json('office', 'package.json')).toMatchObject({
    name: 'office',
    dependencies: { express: '^4.21.0', '@gaveta/server': expect.stringMatching(/^\^\d/) },
  });
  expect(text('office', '.env')).toBe('PORT=80\n');
  expect(text('office', '.env.gaveta')).toContain('GAVETA_SECRET=');
});

it('makes model and report of the tables of a database', async () => {
  const { host, port, user, password, database } = server;
  const client = new pg.Client({ host, port, user, password, database });
  await client.connect();
  await client.query(`
    create table hut (id int primary key, name text not null, "odd name's" text);
    create table stay (id int primary key, hut_id int references hut, arrival date, amount numeric(10,2));
    insert into hut values (1, 'Pedra Longa', 'a'), (2, 'Vale Frio', null);
    insert into stay values (1, 1, '2026-06-01', 58.10), (2, 1, '2026-06-02', 6.50), (3, 2, '2026-06-03', 29)`);
  await client.end();
  const address = `postgres://${user}:${encodeURIComponent(password)}@${host}:${port}/${database}`;
  expect(await postgresConnection({ connectionString: address }).tables()).toHaveLength(2);
  const folder = join(root, 'own');
  expect((await gaveta('init', folder, '--database', address)).status).toBe(0);
  expect(text('own', 'model.mjs')).toContain("label: 'Odd name\\'s'");
  expect(text('own', 'model.mjs')).not.toContain(encodeURIComponent(password));
  const config = ['--config', join(folder, 'gaveta.config.mjs')];
  // In a process of its own: what the configuration closes stays closed in one.
  const said = execFileSync(process.execPath, ['packages/cli/bin/gaveta.mjs', ...config, 'doctor']).toString();
  expect(said).toContain('Everything fits: 1 models with 2 entities');
  const out = join(root, 'hut.csv');
  const { status, stderr } = await gaveta(...config, 'render', 'hut', '--format', 'csv', '--out', out);
  expect({ status, stderr }).toEqual({ status: 0, stderr: '' });
  expect(readFileSync(out, 'utf8')).toContain('58.1');

  const away = await gaveta('init', join(root, 'away'), '--database', 'postgres://nobody@127.0.0.1:9/none');
  expect([away.status, away.stderr]).toEqual([3, expect.stringContaining('the database cannot be read')]);
  const wrong = await gaveta('init', join(root, 'away'), '--database', 'office');
  expect([wrong.status, wrong.stderr]).toEqual([3, expect.stringContaining('begins with “postgres://”')]);
  expect(existsSync(join(root, 'away'))).toBe(false);
}, 60_000);

it('asks for versions that Gaveta itself is tested with', () => {
  const own = ['package.json', 'packages/server/package.json', 'packages/web/package.json'].map(
    (file) => JSON.parse(readFileSync(file, 'utf8')) as Record<string, Record<string, string>>,
  );
  const major = (range: string): string => /\d+/.exec(range)![0];
  for (const [name, range] of Object.entries(VERSIONS)) {
    const used = own.map((one) => one.dependencies?.[name] ?? one.devDependencies?.[name]).find(Boolean);
    expect([name, major(range)]).toEqual([name, major(used!)]);
  }
});
