import { mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { createGaveta } from '@gaveta/server';
import { openDemoSources } from '@gaveta-examples/cumeeira';

/**
 * A statement of each member’s stays and charges, for a thousand members: as one report with a part of its own for each, put into a
 * folder as files. Baseline: one run of the whole, put into the same folder as one file, in the same run.
 */
const MEMBERS = Number(process.argv[2] ?? 1000);
const SECRET = 'a secret that only benchmarks know, long enough';

const amount = (id: string, formula: string, y: number): object => ({
  ...{ kind: 'field', id, formula, x: 120, y, width: 40, height: 5, format: '#,##0.00', look: { align: 'right' } },
});
const statement = {
  gaveta: 2,
  name: 'Statement',
  model: 'cumeeira',
  parameters: [
    { name: 'member', label: 'Member', type: 'text' },
    { name: 'last', label: 'Last number', type: 'text' },
  ],
  body: [
    {
      id: 'stays',
      name: 'stay',
      rows: { entity: 'stay' },
      filter: 'AND(stay.member.number <= last; OR(ISBLANK(member); stay.member.number = member))',
      sort: [{ by: 'arrival' }],
      groups: [
        {
          name: 'member_number',
          by: 'stay.member.number',
          header: {
            height: 14,
            pageBreak: 'between',
            items: [
              { kind: 'field', id: 'name', formula: 'stay.member.name', x: 0, y: 0, width: 100, height: 8 },
              { kind: 'field', id: 'number', formula: 'stay.member.number', x: 120, y: 0, width: 40, height: 6 },
            ],
          },
          footer: { height: 8, items: [amount('total', 'SUM(charge.amount)', 1)] },
        },
      ],
      detail: {
        height: 6,
        items: [
          { kind: 'field', id: 'hut', formula: 'stay.hut.name', x: 0, y: 0, width: 60, height: 5 },
          { kind: 'field', id: 'arrival', formula: 'arrival', x: 70, y: 0, width: 40, height: 5 },
        ],
      },
      drawers: [
        {
          id: 'charges',
          name: 'charge',
          rows: { relation: 'charges' },
          detail: {
            height: 5,
            items: [
              { kind: 'field', id: 'kind', formula: 'charge.kind', x: 10, y: 0, width: 60, height: 5 },
              amount('amount', 'charge.amount', 0),
            ],
          },
        },
      ],
    },
  ],
};

const folder = mkdtempSync(join(tmpdir(), 'gaveta-deliveries-'));
const sources = await openDemoSources(resolve('.data'));
const gaveta = await createGaveta({
  models: sources.models,
  connections: sources.connections,
  store: join(folder, 'store'),
  secret: SECRET,
  web: false,
  firstPages: false,
  deliveries: { folders: { out: join(folder, 'out') } },
  limits: { maxRows: 1_000_000 },
});
await gaveta.reports.put('statement', statement);
const owner = {
  ...{ owner: 'bench', groups: [], rights: ['view', 'manage', 'deliver'] as ('view' | 'manage' | 'deliver')[] },
  ...{ claims: { role: 'office' }, hostParameters: {} },
};
const take = { step: 'take' as const, from: { model: 'cumeeira', entity: 'member' } };
const sort = { step: 'sort' as const, by: [{ field: 'number' }] };
const steps = [take, sort, { step: 'first' as const, count: MEMBERS }] as never[];
const last = `C-${String(MEMBERS).padStart(5, '0')}`;

const seconds = async (work: () => Promise<unknown>): Promise<number> => {
  const started = performance.now();
  await work();
  return (performance.now() - started) / 1000;
};
const whole = async (): Promise<void> => {
  const to = join(folder, 'whole.pdf');
  const { pages } = await gaveta.render('statement', {
    ...{ format: 'pdf', to, claims: owner.claims, user: owner.owner },
    parameters: { last: last },
  });
  console.log(`  ${pages} pages, ${(statSync(to).size / 1e6).toFixed(1)} MB`);
};
const parts = async (): Promise<void> => {
  const delivery = await gaveta.store.deliveries.create(
    {
      ...{ gavetaDelivery: 1, name: 'Statements', report: 'statement', zip: false, onlyWithRows: false },
      values: { member: { formula: 'number' }, last: last },
      each: { steps, rowsOf: 'owner' },
      ...{ files: [{ output: 'pdf', options: {} }], fileName: 'Statement of {number}' },
      when: { kind: 'event', name: 'go' },
      to: [{ kind: 'folder', name: 'out' }],
    },
    owner,
    null,
  );
  await gaveta.deliveries.event('go');
  for (;;) {
    const [run] = await gaveta.store.deliveryRuns.list(delivery.id, { count: 1 });
    if (run?.endedAt) {
      const counts = (await gaveta.store.deliveryRuns.countsOf([run.id])).get(run.id);
      console.log(
        `  ${run.state}: ${counts?.sent} sent, ${counts?.failed} failed; ${readdirSync(join(folder, 'out')).length} files`,
      );
      return;
    }
    await new Promise((done) => setTimeout(done, 50));
  }
};

// Threads and fonts are ready, and the database has its pages in memory.
await whole();
const one = await seconds(whole);
const split = await seconds(parts);
console.log(
  `deliveries: the whole ${one.toFixed(2)} s; ${MEMBERS} parts ${split.toFixed(2)} s; ratio ${(split / one).toFixed(2)}`,
);
await gaveta.close();
await sources.close();
rmSync(folder, { recursive: true, force: true });
process.exit(0);
