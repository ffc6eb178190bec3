import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import { type Session, signToken } from '@gaveta/server';
import { median } from './measure.ts';

/**
 * The demo's server under many people at once, from another process of the same machine: 200 who open one report that
 * nobody opened before, then 50 who each run one that is nobody else's. While they wait, pings ask who is calling. The baseline of each is one person alone.
 */
const READERS = 200;
const RUNS = 50;
const REPORT = 'season-ledger';

const secret = randomBytes(32).toString('hex');
const server = fork(fileURLToPath(new URL('load-server.ts', import.meta.url)), [secret], {
  execArgv: ['--import', 'tsx'],
});
const [{ address }] = (await once(server, 'message')) as [{ address: string }];
const api = `${address}/api`;

const office = (user: string, claims: Session['claims'] = { role: 'office' }): Promise<string> =>
  signToken(secret, { user, rights: ['view'], claims }, 3600);

interface Seen {
  /** Seconds until the first page was read, and until the run had ended. */
  first: number;
  whole: number;
  run: string;
}

/** Opens a report as the viewer does: starts a run, follows it, reads its first page, and waits for its end. */
const open = async (token: string, parameters: object): Promise<Seen> => {
  const headers = { Authorization: `Bearer ${token}` };
  const started = performance.now();
  const since = (): number => (performance.now() - started) / 1000;
  const asked = await fetch(`${api}/runs`, {
    method: 'POST',
    headers: { ...headers, 'Content-Type': 'application/json' },
    body: JSON.stringify({ report: REPORT, parameters }),
  });
  if (asked.status !== 201) throw new Error(`${asked.status} ${await asked.text()}`);
  const { id } = (await asked.json()) as { id: string };
  const events = await fetch(`${api}/runs/${id}/events`, { headers });
  let first: number | null = null;
  let rest = '';
  const decoder = new TextDecoder();
  for await (const bytes of events.body as unknown as AsyncIterable<Uint8Array>) {
    rest += decoder.decode(bytes, { stream: true });
    for (let at = rest.indexOf('\n\n'); at >= 0; at = rest.indexOf('\n\n')) {
      const state = JSON.parse(rest.slice('data: '.length, at)) as { status: string; pages: number };
      rest = rest.slice(at + 2);
      if (first === null && state.pages > 0) {
        const pages = await (await fetch(`${api}/runs/${id}/pages?from=1&count=1`, { headers })).json();
        if (!Array.isArray(pages) || pages.length !== 1) throw new Error('the first page did not come');
        first = since();
      }
      if (state.status === 'failed' || state.status === 'cancelled') throw new Error(`the run ${state.status}`);
    }
  }
  if (first === null) throw new Error('the run ended without a page');
  return { first, whole: since(), run: id };
};

/** Milliseconds that pings took over connections that were open, and over new ones. */
interface Pings {
  open: number[];
  fresh: number[];
}

/** What `work` gives, and how another process was answered meanwhile. */
const pinging = async <T>(work: () => Promise<T>): Promise<{ value: T; pings: Pings }> => {
  const ping = fork(fileURLToPath(new URL('load-ping.ts', import.meta.url)), [address, await office('ping')], {
    execArgv: ['--import', 'tsx'],
  });
  await once(ping, 'message');
  const value = await work();
  ping.send('stop');
  const [pings] = (await once(ping, 'message')) as [Pings];
  return { value, pings };
};

const part = (list: readonly number[], share: number): number =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))]!;

/** Everybody at once; those whose connection was cut, or who got no report, are counted. */
const all = async (people: readonly (() => Promise<Seen>)[]): Promise<{ seen: Seen[]; lost: number }> => {
  const settled = await Promise.allSettled(people.map((person) => person()));
  for (const one of settled.filter((s) => s.status === 'rejected').slice(0, 3)) console.log(`  ${one.reason}`);
  const seen = settled.flatMap((s) => (s.status === 'fulfilled' ? [s.value] : []));
  return { seen, lost: settled.length - seen.length };
};

const tell = (name: string, { seen, lost }: { seen: Seen[]; lost: number }, pings: Pings, alone: number): void => {
  const whole = seen.map((s) => s.whole);
  const first = seen.map((s) => s.first);
  const seconds = (value: number): string => `${value.toFixed(2)} s`;
  console.log(`  ${name}`);
  console.log(`    first page: p50 ${seconds(median(first))}, p95 ${seconds(part(first, 0.95))}`);
  console.log(
    `    whole: p50 ${seconds(median(whole))}, p95 ${seconds(part(whole, 0.95))}; p95 is ${(part(whole, 0.95) / alone).toFixed(1)} times one alone`,
  );
  for (const [over, list] of Object.entries({ 'an open': pings.open, 'a new': pings.fresh })) {
    const [p50, p95, p99] = [0.5, 0.95, 0.99].map((share) => `${part(list, share).toFixed(0)} ms`);
    console.log(
      `    ping over ${over} connection: p50 ${p50}, p95 ${p95}, p99 ${p99}, most ${Math.max(...list).toFixed(0)} ms (${list.length})`,
    );
  }
  console.log(`    cut or without a report: ${lost}; runs made: ${new Set(seen.map((s) => s.run)).size}`);
};

console.log(`${READERS} readers of one report, and ${RUNS} different runs (${REPORT})`);
// Threads and databases are warm, as on a server that runs.
for (let i = 0; i < 2; i++) await open(await office(`warm ${i}`, { role: 'office', warm: i }), {});
const times: number[] = [];
for (let i = 0; i < 5; i++)
  times.push((await open(await office(`alone ${i}`, { role: 'office', alone: i }), {})).whole);
const alone = median(times);
console.log(`  one alone: ${alone.toFixed(2)} s`);

const readers = await Promise.all(Array.from({ length: READERS }, (_, i) => office(`reader ${i}`)));
const together = await pinging(() => all(readers.map((token) => () => open(token, { season: 2024 }))));
tell(`${READERS} readers at once`, together.value, together.pings, alone);

const owners = await Promise.all(
  Array.from({ length: RUNS }, (_, i) => office(`runner ${i}`, { role: 'office', desk: i })),
);
const apart = await pinging(() => all(owners.map((token) => () => open(token, {}))));
tell(`${RUNS} different runs at once`, apart.value, apart.pings, alone);
server.disconnect();
await once(server, 'exit');
