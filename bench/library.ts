import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { PGlite } from '@electric-sql/pglite';
import { readDefinition } from '@gaveta/core/internal';
import { createGaveta, signToken } from '@gaveta/server';
import { median } from './measure.ts';

/**
 * A library of 10,000 reports in 500 folders, on which something was granted to 200 groups: how long it takes over HTTP to list,
 * search and check, for 40 people of one to eight groups each. Baseline: the same rows in the order of their names, asked for by
 * nobody in particular, in the same run.
 */
const [REPORTS, FOLDERS, GROUPS, PEOPLE, TIMES] = [10_000, 500, 200, 40, 120];
const SECRET = 'a secret that only benchmarks know, long enough';

/** The same numbers in each run (mulberry32). */
let state = 20_251_130;
const random = (): number => {
  state = (state + 0x6d2b79f5) | 0;
  let t = Math.imul(state ^ (state >>> 15), 1 | state);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
};
const below = (most: number): number => Math.floor(random() * most);

const client = new PGlite();
const gaveta = await createGaveta({ store: client, models: [], connections: {}, secret: SECRET, web: false });
const read = readDefinition({ gaveta: 2, name: 'Season ledger', description: 'Charges of each stay, hut and region' });
if (!read.ok) throw new Error('the definition is wrong');
await gaveta.store.create(read.report, 'bench', 'first', { note: 'Closes the season' });

const folders: string[] = ['root'];
await client.exec(`delete from grants`);
for (let i = 0; i < FOLDERS; i++) {
  const id = `f${i}`;
  await client.query(
    `insert into folder (id, parent_id, name, inherits, changed_by) values ($1, $2, $3, $4, 'bench')`,
    [id, folders[Math.floor(below(folders.length) * random())], `Folder ${i}`, i % 7 !== 0],
  );
  folders.push(id);
  for (let g = 0; g < 3; g++)
    await client.query(
      `insert into grants (folder_id, principal, level, granted_by) values ($1, $2, $3, 'bench') on conflict do nothing`,
      [id, `group:g${below(GROUPS)}`, 1 + below(4)],
    );
}
await client.exec(`
  insert into report (id, name, folder, note, owner, revision, published, changed_by, changed_at, search, name_search, published_search)
  select 'r' || i, n.name, 'f' || ((i * 7919) % ${FOLDERS}), '', 'user ' || i % 300, 1, case when i % 10 > 0 then 1 end, 'bench',
    now() - (i * 37 % 5000) * interval '1 hour', w.words || t.search, w.words, w.words || t.search
  from generate_series(1, ${REPORTS}) i
  cross join lateral (select (array['Season', 'Winter', 'Hut', 'Warden', 'Charge', 'Nights'])[1 + i % 6] || ' ' ||
    (array['ledger', 'folio', 'roster', 'matrix', 'list'])[1 + (i / 6) % 5] || ' ' || i as name) n
  cross join lateral (select to_tsvector('simple', n.name) as words) w
  cross join (select search from report where id = 'first') t;
  insert into revision (report_id, number, definition, author)
  select 'r' || i, 1, v.definition, 'bench' from generate_series(1, ${REPORTS}) i
  cross join (select definition from revision where report_id = 'first') v;
  insert into grants (report_id, principal, level, granted_by)
  select 'r' || i, 'group:g' || i % ${GROUPS}, 1 + i % 3, 'bench' from generate_series(1, ${REPORTS}, 20) i;
  analyze;
`);

const server = createServer(gaveta.handler);
await new Promise<void>((resolve) => server.listen(0, resolve));
const base = `http://localhost:${(server.address() as AddressInfo).port}/api`;
const tokens = await Promise.all(
  Array.from({ length: PEOPLE }, (_, i) => {
    const groups = Array.from({ length: 1 + (i % 8) }, () => `g${below(GROUPS)}`);
    return signToken(SECRET, { user: `user ${i}`, groups, rights: ['view', 'design'], claims: {} }, 3600);
  }),
);

const timesOf = async (ask: (i: number) => Promise<unknown>): Promise<number[]> => {
  for (let i = 0; i < 5; i++) await ask(i);
  const found: number[] = [];
  for (let i = 0; i < TIMES; i++) {
    const started = performance.now();
    await ask(i);
    found.push(performance.now() - started);
  }
  return found.sort((a, b) => a - b);
};
const get = async (path: string, i: number): Promise<unknown> => {
  const response = await fetch(`${base}${path}`, { headers: { Authorization: `Bearer ${tokens[i % PEOPLE]}` } });
  const answer = await response.json();
  if (!response.ok && response.status !== 404) throw new Error(JSON.stringify(answer));
  return answer;
};

const baseline = median(
  await timesOf(() => client.query('select * from report where deleted_at is null order by lower(name) limit 100')),
);
const WORDS = ['ledger', 'winter list', 'season', 'charges', 'hut 7'];
const calls: Record<string, (i: number) => Promise<unknown>> = {
  'all folders with how much is in each': (i) => get('/folders', i),
  'one folder': (i) => get(`/library?place=folder&folder=f${(i * 13) % FOLDERS}`, i),
  'the first 100 of all, by name': (i) => get('/library?place=all', i),
  'the newest 100 of all': (i) => get('/library?sort=changed&descending=true', i),
  'found by words, the best first': (i) => get(`/library?find=${encodeURIComponent(WORDS[i % 5]!)}&sort=best`, i),
  mine: (i) => get('/library?place=mine', i),
  'what somebody may do with one report': (i) => get(`/library/r${(i * 37) % REPORTS}`, i),
};
console.log(`A library of ${REPORTS} reports in ${FOLDERS} folders, ${GROUPS} groups; ${PEOPLE} people`);
console.log(`  baseline, 100 rows by name without asking who: ${baseline.toFixed(1)} ms`);
for (const [name, ask] of Object.entries(calls)) {
  const times = await timesOf(ask);
  const p95 = times[Math.floor(times.length * 0.95)]!;
  const middle = median(times);
  console.log(
    `  ${name.padEnd(42)} median ${middle.toFixed(1).padStart(6)} ms  p95 ${p95.toFixed(1).padStart(6)} ms  ${(middle / baseline).toFixed(1)} x`,
  );
}
server.closeAllConnections();
server.close();
await gaveta.close();
