import { MessageChannel } from 'node:worker_threads';
import type { WireRow } from '@gaveta/core/internal';
import { afterEach, describe, expect, it } from 'vitest';
import type { Claims } from '../access/claims.ts';
import type { ReportConnection, RowStream } from '../connection/connection.ts';
import { modelOf, number, table } from '../model/fields.test-support.ts';
import type { Bench } from '../staging/workbench.ts';
import { joined } from './calls.ts';
import type { RowCalls } from './job.ts';
import { benchOver, connectionsOver, modelsOver } from './row-client.ts';
import { plainConnections, RowServer } from './row-server.ts';

const unfit: string[] = [];
const scope = ({ region }: Claims) => {
  if (region === undefined) throw new Error('no region');
  return region === 0 ? ('everything' as const) : { keep: `region = ${region}` };
};
const hut = modelOf('huts', 'main', { hut: table('Hut', { id: number }, { scope }) });
const models = new Map([['huts', { ...hut, unfitClaim: (entity: string) => void unfit.push(entity) }]]);

/** A database of three batches, and rows of the host's that take what they are asked with. */
const opened = { read: 0, closed: 0 };
const stream = (): RowStream => ({
  async *[Symbol.asyncIterator]() {
    for (let batch = 1; batch <= 3; batch++) {
      opened.read++;
      yield [[batch]] as WireRow[];
    }
  },
  close: async () => void opened.closed++,
});
const connections = new Map<string, ReportConnection>([
  [
    'main',
    {
      kind: 'database',
      reader: ['set role reader'],
      textOrder: async () => '"unicode"',
      open: async (q) => q.map(stream),
    },
  ],
  [
    'host',
    {
      kind: 'rows',
      async *read(entity, { claims, fields, parameters }) {
        yield [[entity, JSON.stringify(claims), fields[0]!.name, String(parameters.season)]];
      },
    },
  ],
]);
const tables: string[] = [];
const bench = {
  make: async () => `t${tables.push('made')}`,
  copy: async (name: string, csv: string) => void tables.push(`${name} ${csv}`),
  ready: async () => {},
  drop: async (names: readonly string[]) => void tables.push(`dropped ${names.join()}`),
} as unknown as Bench;

let server: RowServer;
let rows: ReturnType<typeof joined<RowCalls>>;
const between = (claims: Claims): void => {
  const { port1, port2 } = new MessageChannel();
  server = new RowServer({ models, modelsKey: 'k', connections, workbench: () => bench }, claims, 5);
  joined(port1, server.calls);
  rows = joined<RowCalls>(port2, {});
};
afterEach(async () => {
  await server.close();
  Object.assign(opened, { read: 0, closed: 0 });
  tables.length = 0;
});
const client = () => connectionsOver(rows, plainConnections(connections));

describe('rows asked for by another thread', () => {
  it('of a database come in order, batch by batch, and are closed when they are read or left', async () => {
    between({});
    const main = client().get('main')!;
    if (main.kind !== 'database') throw new Error('it is one');
    expect([main.reader, await main.textOrder()]).toEqual([['set role reader'], '"unicode"']);
    const [whole, left, unread] = await main.open([1, 2, 3].map(() => ({ text: 'select', values: [] })));
    const read: unknown[] = [];
    for await (const batch of whole!) read.push(...batch.flat());
    expect([read, opened.closed]).toEqual([[1, 2, 3], 1]);
    for await (const batch of left!) {
      expect(batch).toEqual([[1]]);
      break;
    }
    expect(opened.closed).toBe(2);
    // Whoever never reads does not close either: the end of the task does.
    expect(unread).toBeDefined();
    await server.close();
    expect(opened.closed).toBe(3);
  });

  it('of the host’s code are asked for with the claims of the caller, which the other thread cannot set', async () => {
    between({ region: 3 });
    const host = client().get('host')!;
    if (host.kind !== 'rows') throw new Error('they are');
    const asked = { fields: [number].map((f) => ({ name: 'id', type: f.type })), parameters: { season: 2025 } };
    const forged = { ...asked, claims: { region: 0 }, signal: new AbortController().signal };
    const read: unknown[] = [];
    for await (const batch of host.read('hut', forged)) read.push(...batch);
    expect(read).toEqual([['hut', '{"region":3}', 'id', '2025']]);
  });

  it('are cut as the host says for the caller; what it could not say keeps every row away', async () => {
    const scopeOf = async (asked: string[]) =>
      modelsOver(rows, await rows.models(), await rows.scopes(asked))
        .get('huts')!
        .tables.get('hut')!
        .scope({});
    between({ region: 3 });
    expect(await scopeOf(['huts'])).toEqual({ keep: 'region = 3' });
    expect(await scopeOf([])).toBe('nothing');
    between({ region: 0 });
    expect(await scopeOf(['huts'])).toBe('everything');
    between({});
    await expect(scopeOf(['huts'])).rejects.toThrow('no region');
    await rows.unfitClaim('huts', 'hut', 'region', 'number');
    expect(unfit).toEqual(['hut']);
  });

  it('that were copied are dropped by the end of the task, and tables of others never', async () => {
    between({});
    const remote = benchOver(rows);
    const name = await remote.make([{ name: 'id', type: 'number' }]);
    await remote.copy(name, '1');
    await remote.drop(['t99']);
    expect(tables).toEqual(['made', 't1 1']);
    await server.close();
    expect(tables.at(-1)).toBe('dropped t1');
  });
});
