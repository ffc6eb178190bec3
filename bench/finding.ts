import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import { findOnPage, type Page } from '@gaveta/core/internal';
import { signToken } from '@gaveta/server';
import { manyPages } from './many-pages.ts';
import { median } from './measure.ts';

/**
 * Looking for words in a run of 10,000 pages by the API, in one process, from another. The baseline fetches all pages and looks on
 * each: what a viewer that keeps no words of pages must do.
 */
const PAGES = 10_000;
/** Pages that the API gives at once. */
const AT_ONCE = 20;
const SOUGHT = ['linen', 'RESCUE levy', `page ${PAGES} of`, 'no such words', 'e'];

const secret = randomBytes(32).toString('hex');
const server = fork(fileURLToPath(new URL('load-server.ts', import.meta.url)), [secret], {
  execArgv: ['--import', 'tsx'],
});
const [{ address }] = (await once(server, 'message')) as [{ address: string }];
const api = `${address}/api`;
const token = await signToken(secret, { user: 'Ana', rights: ['view', 'design'], claims: { role: 'office' } }, 3600);
const headers = { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' };
const get = async <T>(path: string): Promise<T> => (await fetch(`${api}${path}`, { headers })).json() as Promise<T>;

try {
  const asked = await fetch(`${api}/runs`, {
    method: 'POST',
    headers,
    body: JSON.stringify({ definition: manyPages(PAGES) }),
  });
  if (asked.status !== 201) throw new Error(await asked.text());
  const { id } = (await asked.json()) as { id: string };
  await (await fetch(`${api}/runs/${id}/events`, { headers })).text();
  const { pages, status, problems } = await get<{ pages: number; status: string; problems: unknown[] }>(`/runs/${id}`);
  if (status !== 'done' || pages < PAGES) throw new Error(JSON.stringify({ status, pages, problems }));

  const all: Page[][] = [];
  const fetched = performance.now();
  for (let from = 1; from <= pages; from += AT_ONCE)
    all.push(await get<Page[]>(`/runs/${id}/pages?from=${from}&count=${AT_ONCE}`));
  const seconds = (performance.now() - fetched) / 1000;
  console.log(`finding words on ${pages} pages: all of them fetched in ${seconds.toFixed(1)} s, and looked on in`);
  for (const text of SOUGHT) {
    const started = performance.now();
    const count = all.flat().reduce((sum, page) => sum + findOnPage(page, text).length, 0);
    const baseline = performance.now() - started;
    const taken: number[] = [];
    for (let turn = 0; turn < 7; turn++) {
      const began = performance.now();
      const query = new URLSearchParams({ text, count: '20' });
      const found = await get<{ count: number }>(`/runs/${id}/found?${query}`);
      taken.push(performance.now() - began);
      if (found.count !== count) throw new Error(`${text}: ${found.count} instead of ${count}`);
    }
    const [first, later] = [taken[0]!, median(taken.slice(1))];
    console.log(
      `  “${text}”: ${count} in ${baseline.toFixed(0)} ms; the server's answer ${first.toFixed(0)} ms at first, then ${later.toFixed(0)} ms (aim 300), ${((seconds * 1000 + baseline) / later).toFixed(0)} times as fast`,
    );
  }
} finally {
  server.kill();
}
