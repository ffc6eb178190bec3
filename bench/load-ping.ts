import { once } from 'node:events';
import { Agent, get } from 'node:http';

/**
 * Asks every 20 ms who is calling, until it is told to stop, in turns over connections that are open already, as those who
 * work with the application have them, and over new ones. Tells how many milliseconds each answer took.
 */
const [, , address, token] = process.argv;
const url = new URL('/api/session', address);
const headers = { Authorization: `Bearer ${token}` };
const kept = new Agent({ keepAlive: true });

const ask = (agent: Agent | false): Promise<number> =>
  new Promise((resolve, reject) => {
    const from = performance.now();
    get(url, { headers, agent }, (answer) => {
      answer.resume().on('end', () => resolve(performance.now() - from));
    }).on('error', reject);
  });

await Promise.all(Array.from({ length: 100 }, () => ask(kept)));
const pings = { open: [] as number[], fresh: [] as number[] };
const waiting = new Set<Promise<void>>();
let isFresh = false;
const timer = setInterval(() => {
  const list = isFresh ? pings.fresh : pings.open;
  const one = ask(isFresh ? false : kept)
    .then((milliseconds) => void list.push(milliseconds))
    .finally(() => waiting.delete(one));
  waiting.add(one);
  isFresh = !isFresh;
}, 20);
process.send!('ready');
await once(process, 'message');
clearInterval(timer);
await Promise.all(waiting);
kept.destroy();
process.send!(pings);
process.disconnect();
