import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Desktop, startDesktop } from './desktop.ts';
import { installEntry } from './entry.ts';
import type { Shell } from './shell.ts';
import { becomeFirst } from './single-instance.ts';

const folder = mkdtempSync(join(tmpdir(), 'gaveta-desktop-'));
const focused: string[] = [];
/** A shell that shows nothing. */
const shell: Shell = {
  open: (address) => ({ closed: new Promise(() => {}), focus: () => void focused.push(address), close: () => {} }),
};

let desktop: Desktop;
beforeAll(async () => {
  desktop = await startDesktop({ data: join(folder, 'data'), shell });
});
afterAll(async () => {
  await desktop.close();
  rmSync(folder, { recursive: true, force: true });
});

const call = async (method: string, path: string, body?: object) => {
  const response = await fetch(`${desktop.address}${path}`, {
    method,
    ...(body ? { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) } : {}),
  });
  return { status: response.status, body: await response.json() };
};

const report = (name: string) => JSON.stringify({ gaveta: 2, name });

it('answers nobody without the secret of its launch, and this machine alone', async () => {
  const { origin, hostname, pathname } = new URL(desktop.address);
  expect(hostname).toBe('127.0.0.1');
  expect(pathname.length).toBeGreaterThan(30);
  for (const path of ['/', '/token', '/documents', '/gaveta/', '/gaveta/api/session', `${pathname.slice(0, -3)}/token`])
    expect([path, (await fetch(`${origin}${path}`)).status]).toEqual([path, 404]);
  const { token } = (await call('GET', 'token')).body;
  const session = await fetch(`${desktop.address}gaveta/api/session`, {
    headers: { Authorization: `Bearer ${token}` },
  });
  expect(await session.json()).toMatchObject({ user: 'Me' });
});

it('opens files, remembers them, and writes them back where they belong', async () => {
  const file = join(folder, 'first.report.json');
  writeFileSync(file, report('First'));
  const { body: opened } = await call('POST', 'documents', { path: file });
  expect(opened).toMatchObject({ name: 'First', path: file });
  expect((await call('PUT', `documents/${opened.id}`, {})).body).toEqual({ path: file });
  expect(JSON.parse(readFileSync(file, 'utf8'))).toMatchObject({ gaveta: 2, name: 'First' });
  const other = join(folder, 'other.report.json');
  expect((await call('PUT', `documents/${opened.id}`, { path: other })).body).toEqual({ path: other });
  expect((await call('PUT', `documents/${opened.id}`, {})).body).toEqual({ path: other });
  expect((await call('GET', 'documents')).body).toEqual([other, file]);
  // The same file is the same document, with its own revisions.
  expect((await call('POST', 'documents', { path: file })).body.id).toBe(opened.id);
  const { body: unnamed } = await call('POST', 'documents', { text: report('Text'), name: 'text.json' });
  expect(unnamed).toMatchObject({ name: 'Text', path: null });
  expect((await call('PUT', `documents/${unnamed.id}`, {})).body).toEqual({ path: null });
});

it('says what is wrong with a file, and loses nothing', async () => {
  const wrong = join(folder, 'wrong.report.json');
  writeFileSync(wrong, '{"gaveta": 2, "nam": "x"}');
  const said = async (body: object): Promise<string> => {
    const answer = await call('POST', 'documents', body);
    expect(answer.status).toBe(400);
    return answer.body.said;
  };
  expect(await said({ path: wrong })).toContain('wrong.report.json is no report:');
  expect(await said({ path: join(folder, 'none.json') })).toContain('cannot be read');
  expect(await said({ text: 'not json', name: 'a.json' })).toContain('a.json is no report');
  expect((await call('PUT', 'documents/none', {})).status).toBe(200);
  expect((await call('PUT', 'documents/none', { path: wrong })).body.said).toBe('The report is gone.');
  expect(readFileSync(wrong, 'utf8')).toBe('{"gaveta": 2, "nam": "x"}');
});

it('brings its window to the front for a file that is opened from outside', () => {
  desktop.open(join(folder, 'first.report.json'));
  expect(focused).toEqual([desktop.address]);
});

it('runs once over a folder: later starts hand their files over', async () => {
  const data = mkdtempSync(join(folder, 'once-'));
  const asked: string[][] = [];
  const first = await becomeFirst(data, [], (files) => void asked.push(files));
  expect(first).not.toBeNull();
  expect(await becomeFirst(data, ['/a.json', '/b.json'], () => {})).toBeNull();
  await expect.poll(() => asked).toEqual([['/a.json', '/b.json']]);
  await first!.close();
  // What a start that was killed leaves behind keeps nobody out.
  writeFileSync(join(data, 'instance.sock'), '');
  const next = await becomeFirst(data, [], () => {});
  expect(next).not.toBeNull();
  await next!.close();
});

it('has a desktop open its files by double click', async () => {
  const written = await installEntry('/opt/reports/main.ts', join(folder, 'home'));
  const [entry, type] = written.split('\n');
  expect(readFileSync(entry!, 'utf8')).toMatch(/Exec=".*" --import tsx "\/opt\/reports\/main\.ts" %F\nMimeType=/);
  expect(readFileSync(type!, 'utf8')).toContain('glob pattern="*.report.json"');
});
