import { once } from 'node:events';

/** Asks every 20 ms who is calling, until it is told to stop; tells how many milliseconds each answer took. */
const [, , address, token] = process.argv;
const headers = { Authorization: `Bearer ${token}` };
const pings: number[] = [];
const open = new Set<Promise<void>>();
const ping = async (): Promise<void> => {
  const from = performance.now();
  await (await fetch(`${address}/api/session`, { headers })).arrayBuffer();
  pings.push(performance.now() - from);
};
// The first one opens the connection.
await ping();
pings.length = 0;
const timer = setInterval(() => {
  const one = ping().finally(() => open.delete(one));
  open.add(one);
}, 20);
process.send!('ready');
await once(process, 'message');
clearInterval(timer);
await Promise.all(open);
process.send!(pings);
process.disconnect();
