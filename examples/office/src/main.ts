import { randomBytes } from 'node:crypto';
import { mkdirSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { listen, startDemo } from '@gaveta-examples/cumeeira';
import { claimStore } from './lock.ts';
import { createOffice } from './office.ts';

const argument = (name: string): string | undefined => {
  const at = process.argv.indexOf(`--${name}`);
  return at < 0 ? undefined : process.argv[at + 1];
};

const scale = Number(argument('scale') ?? 1);
if (!Number.isInteger(scale) || scale < 1 || scale > 1000) {
  console.error('--scale takes a whole number from 1 to 1000.');
  process.exit(2);
}
const data = resolve(argument('data') ?? '.data');
const secret = randomBytes(32).toString('hex');

// The office's origin goes into Gaveta's list of hosts, and Gaveta's into the office's pages: both ports come first.
const hosts: string[] = [];
const started = performance.now();
const say = (step: string): void => console.log(`  ${step} …`);
mkdirSync(data, { recursive: true });
const own = claimStore(data);
if (!own) say('Another demo runs here; this one keeps its reports only until it stops');
const demo = await startDemo({
  data,
  secret,
  hosts,
  scale,
  say,
  ...(own ? {} : { store: mkdtempSync(join(tmpdir(), 'gaveta-store-')) }),
});
const gaveta = await listen(demo.server, Number(process.env.GAVETA_PORT ?? 4170));
const office = createOffice({ gaveta, secret });
const officeAddress = await listen(office, Number(process.env.OFFICE_PORT ?? 4180));
hosts.push(officeAddress);

console.log(`
Ready in ${((performance.now() - started) / 1000).toFixed(1)} s.
  The office, which embeds Gaveta:  ${officeAddress}/
  Gaveta by itself:                 ${gaveta}/demo/sign-in
Stop with Ctrl C.
`);

let stopping = false;
const stop = async (): Promise<void> => {
  // A terminal may tell more than once.
  if (stopping) return;
  stopping = true;
  office.closeAllConnections();
  office.close();
  await demo.close();
  process.exit(0);
};
process.on('SIGINT', stop);
process.on('SIGTERM', stop);
