import { type Level, type Model, type Report, type RowFeed, readDefinition, type WireRow } from '@gaveta/core/internal';

export const CHARGES = 100_000;

const number = (name: string) => ({ name, label: name, type: 'number' as const });
const text = (name: string) => ({ name, label: name, type: 'text' as const });

export const chargeModel: Model = {
  name: 'bench',
  label: 'Bench',
  entities: [
    {
      name: 'hut',
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: [number('id'), text('name')],
      relations: [{ name: 'stays', label: 'Stays', to: 'stay', kind: 'many', on: [{ here: 'id', there: 'hut_id' }] }],
    },
    {
      name: 'stay',
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      fields: [number('id'), number('hut_id'), text('guest'), { name: 'arrival', label: 'arrival', type: 'date' }],
      relations: [
        { name: 'charges', label: 'Charges', to: 'charge', kind: 'many', on: [{ here: 'id', there: 'stay_id' }] },
      ],
    },
    {
      name: 'charge',
      label: 'Charge',
      plural: 'Charges',
      key: 'id',
      fields: [
        number('id'),
        number('stay_id'),
        text('kind'),
        text('note'),
        number('quantity'),
        number('unit_price'),
        number('amount'),
      ],
      relations: [],
    },
  ],
};

const field = (id: string, formula: string, x: number, width: number, more: object = {}) => ({
  kind: 'field',
  id,
  formula,
  x,
  y: 0,
  width,
  height: 4.2,
  ...more,
});
const right = { look: { size: 8, align: 'right' } };
const total = (id: string) =>
  field(id, 'SUM(amount)', 140, 35, { format: '#,##0.00', look: { size: 8, bold: true, align: 'right' } });

const read = readDefinition({
  gaveta: 2,
  name: 'Charges',
  model: 'bench',
  pageFooter: {
    height: 8,
    items: [
      {
        kind: 'text',
        id: 'pages',
        x: 100,
        y: 2,
        width: 75,
        height: 4,
        content: ['Page ', { formula: 'page.number' }, ' of ', { formula: 'page.count' }],
        ...right,
      },
    ],
  },
  footer: { height: 6, items: [total('all')] },
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: { height: 6, items: [field('hut', 'name', 0, 80, { look: { bold: true } })] },
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          detail: {
            height: 4.4,
            items: [
              field('guest', 'guest', 4, 80, { look: { size: 8, bold: true } }),
              field('arrival', 'arrival', 90, 30, { format: 'd mmm yyyy', look: { size: 8 } }),
            ],
          },
          footer: { height: 5, items: [total('ofHut')] },
          drawers: [
            {
              id: 'charges',
              name: 'charge',
              rows: { relation: 'charges' },
              detail: {
                height: 4.2,
                items: [
                  field('kind', 'kind', 8, 40, { look: { size: 8 } }),
                  field('note', 'note', 50, 50, { look: { size: 8 } }),
                  field('quantity', 'quantity', 100, 18, right),
                  field('price', 'unit_price', 118, 22, { format: '#,##0.00', ...right }),
                  field('amount', 'amount', 140, 35, { format: '#,##0.00', ...right }),
                ],
              },
              footer: { height: 4.4, items: [total('ofStay')] },
            },
          ],
        },
      ],
    },
  ],
});
if (!read.ok) throw new Error(JSON.stringify(read.problems));
export const chargeReport: Report = read.report;

type Named = Record<string, string | number>;
const KINDS = ['bunk', 'half board', 'linen', 'firewood', 'rescue levy'];

/** The i-th row of an entity, and the ordinal of its parent, as a database would send them: decimals and dates as text. */
const rowAt = (entity: string, i: number, charges: number): { parent: number; row: Named } => {
  const stays = charges / 5;
  const huts = Math.max(1, stays / 100);
  if (entity === 'hut') return { parent: 1, row: { id: i + 1, name: `Hut number ${i + 1}` } };
  if (entity === 'stay') {
    const arrival = `2025-0${(i % 4) + 6}-${String((i % 28) + 1).padStart(2, '0')}`;
    const row = { id: i + 1, guest: `Guest ${(i * 7919) % 10007} of the ridge`, arrival };
    return { parent: Math.floor((i * huts) / stays) + 1, row };
  }
  const quantity = (i % 12) + 1;
  const price = 150 + ((i * 37) % 9000);
  return {
    parent: Math.floor((i * stays) / charges) + 1,
    row: {
      id: i + 1,
      kind: KINDS[i % 5]!,
      note: `note ${i}`,
      quantity,
      unit_price: (price / 100).toFixed(2),
      amount: ((price * quantity) / 100).toFixed(2),
    },
  };
};

const countOf = (entity: string, charges: number): number =>
  entity === 'charge' ? charges : entity === 'stay' ? charges / 5 : Math.max(1, charges / 500);

const wireOf = (level: Level, { parent, row }: ReturnType<typeof rowAt>): WireRow => [
  parent,
  ...level.columns.map((c) => (c.kind === 'field' ? (row[c.path[0]!] ?? null) : null)),
];

const BATCH = 2000;

/** Rows that are made while they are read, so that memory holds none of them. */
export const chargesOf = (charges: number) =>
  async function* (level: Level): AsyncGenerator<WireRow[]> {
    const count = countOf(level.entity.name, charges);
    for (let at = 0; at < count; at += BATCH) {
      const length = Math.min(BATCH, count - at);
      yield Array.from({ length }, (_, i) => wireOf(level, rowAt(level.entity.name, at + i, charges)));
    }
  } satisfies (level: Level) => RowFeed;

let made: Record<string, ReturnType<typeof rowAt>[]> | null = null;

/** All rows of {@link CHARGES}, made once, so that making them is no part of what is measured. */
export const sourceRows = (): NonNullable<typeof made> => {
  const all = (entity: string) => Array.from({ length: countOf(entity, CHARGES) }, (_, i) => rowAt(entity, i, CHARGES));
  made ??= { hut: all('hut'), stay: all('stay'), charge: all('charge') };
  return made;
};

export const chargeSource = async function* (level: Level): AsyncGenerator<WireRow[]> {
  const rows = sourceRows()[level.entity.name]!;
  for (let at = 0; at < rows.length; at += BATCH) yield rows.slice(at, at + BATCH).map((row) => wireOf(level, row));
} satisfies (level: Level) => RowFeed;
