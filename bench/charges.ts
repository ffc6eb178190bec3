import { type Level, type Model, type Report, type RowFeed, readDefinition, type WireRow } from '@gaveta/core';

export const CHARGES = 100_000;
const STAYS = 20_000;
const HUTS = 200;

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
  gaveta: 1,
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
  body: {
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
});
if (!read.ok) throw new Error(JSON.stringify(read.problems));
export const chargeReport: Report = read.report;

type Named = Record<string, string | number>;
let made: Record<string, { parent: number; row: Named }[]> | null = null;

/** The rows as a database would send them: decimals and dates as text. */
export const sourceRows = (): NonNullable<typeof made> => {
  made ??= {
    hut: Array.from({ length: HUTS }, (_, i) => ({ parent: 1, row: { id: i + 1, name: `Hut number ${i + 1}` } })),
    stay: Array.from({ length: STAYS }, (_, i) => ({
      parent: Math.floor((i * HUTS) / STAYS) + 1,
      row: {
        id: i + 1,
        guest: `Guest ${(i * 7919) % 10007} of the ridge`,
        arrival: `2025-0${(i % 4) + 6}-${String((i % 28) + 1).padStart(2, '0')}`,
      },
    })),
    charge: Array.from({ length: CHARGES }, (_, i) => {
      const quantity = (i % 12) + 1;
      const price = 150 + ((i * 37) % 9000);
      return {
        parent: Math.floor((i * STAYS) / CHARGES) + 1,
        row: {
          id: i + 1,
          kind: ['bunk', 'half board', 'linen', 'firewood', 'rescue levy'][i % 5]!,
          note: `note ${i}`,
          quantity,
          unit_price: (price / 100).toFixed(2),
          amount: ((price * quantity) / 100).toFixed(2),
        },
      };
    }),
  };
  return made;
};

export const chargeSource = async function* (level: Level): AsyncGenerator<WireRow[]> {
  const rows = sourceRows()[level.entity.name]!;
  for (let at = 0; at < rows.length; at += 2000) {
    yield rows
      .slice(at, at + 2000)
      .map(
        ({ parent, row }): WireRow => [
          parent,
          ...level.columns.map((c) => (c.kind === 'field' ? (row[c.path[0]!] ?? null) : null)),
        ],
      );
  }
} satisfies (level: Level) => RowFeed;
