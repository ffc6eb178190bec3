import { describe, expect, it } from 'vitest';
import type { Report } from '../definition/schema.ts';
import { band, definition, field, lay, layPlan, nest, plan, type Rows, words } from './huts.test-support.ts';

const ROWS: Rows = {
  hut: [
    { id: 1, name: 'Lago' },
    { id: 2, name: 'Sino' },
    { id: 3, name: 'Brecha' },
  ],
  stay: [
    { in: 1, id: 10, hut_id: 1, guest: 'Ana', arrival: '2025-07-12', nights: 1 },
    { in: 2, id: 11, hut_id: 2, guest: 'Elif', arrival: '2025-07-13', nights: 2 },
    { in: 2, id: 12, hut_id: 2, guest: 'Zoë', arrival: '2025-07-14', nights: 5 },
    { in: 3, id: 13, hut_id: 3, guest: 'Rui', arrival: '2025-07-15', nights: 22 },
  ],
};

const LANGUAGE = 'SWITCH(id; 1; "pt-PT"; 2; "pl"; 3; "xx")';

const billed = (more: Record<string, unknown> = {}): Report =>
  definition({
    language: 'en',
    translations: [
      {
        language: 'pt-PT',
        texts: { Bill: 'Conta', Stays: 'Estadias', 'night | nights': 'noite | noites', 'Page {1}': 'Página {1}' },
      },
      { language: 'pl', texts: { Bill: 'Rachunek', 'night | nights': 'noc | noce | nocy' } },
    ],
    header: band(5, words('all', 'Bill', 0)),
    body: [
      {
        ...{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, language: LANGUAGE },
        detail: band(5, words('bill', 'Bill', 0), field('half', 'id + 0.5', { x: 40 })),
        drawers: [
          {
            ...{ id: 'stays', name: 'stay', rows: { relation: 'stays' } },
            header: band(5, words('caption', 'Stays', 0)),
            detail: band(
              5,
              field('arrival', 'arrival'),
              field('nights', 'nights & " " & PLURAL(nights; "night"; "nights")', { x: 60 }),
            ),
          },
        ],
      },
    ],
    footer: band(5, words('end', 'Bill', 0)),
    ...more,
  });

const SAID = [
  'Bill',
  ...['Conta', '1,5', 'Estadias', '12 jul 2025', '1 noite'],
  ...['Rachunek', '2,5', 'Stays', '13 lip 2025', '2 noce', '14 lip 2025', '5 nocy'],
  // A language that the report does not speak leaves its own.
  ...['Bill', '3.5', 'Stays', '15 Jul 2025', '22 nights'],
  'Bill',
];

describe('rows that decide on their language', () => {
  it('are shown in it with all that is inside them, and nothing around them is', async () => {
    const { text, result } = await lay(billed(), ROWS);
    expect(result.problems).toEqual([]);
    expect(text.flat()).toEqual(SAID);
  });

  it('keep it in a run that is in another language', async () => {
    const planned = plan(billed(), {}, 'pl');
    expect(planned.report.language).toBe('pl');
    const { text } = await layPlan(planned, ROWS);
    const unspoken = ['Rachunek', '3,5', 'Stays', '15 lip 2025', '22 noce'];
    expect(text.flat()).toEqual(['Rachunek', ...SAID.slice(1, 13), ...unspoken, 'Rachunek']);
  });

  it('give it to nested reports, as far as these speak it', async () => {
    const stays = definition({
      translations: [{ language: 'pl', texts: { Guests: 'Goście' } }],
      parameters: [{ name: 'hut', label: 'Hut', type: 'number' }],
      header: band(5, words('guests', 'Guests', 0)),
      body: [
        {
          id: 's',
          name: 's',
          rows: { entity: 'stay' },
          filter: 'hut_id = hut',
          detail: band(5, field('n', 'nights + 0.5')),
        },
      ],
    });
    const huts = {
      ...{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, language: LANGUAGE },
      detail: band(10, words('bill', 'Bill', 0), nest('stays', { y: 5, links: { hut: 'id' } })),
    };
    const { text, result } = await layPlan(plan(billed({ body: [huts] }), { stays }), ROWS);
    expect(result.problems).toEqual([]);
    expect(text.flat()).toEqual([
      'Bill',
      ...['Conta', 'Guests', '1.5'],
      ...['Rachunek', 'Goście', '2,5', '5,5'],
      ...['Bill', 'Guests', '22.5'],
      'Bill',
    ]);
  });

  it('have the bands of their pages in it', async () => {
    const page = {
      kind: 'text',
      id: 'page',
      x: 0,
      y: 0,
      width: 60,
      height: 5,
      content: ['Page ', { formula: 'page.count' }],
    };
    const [huts] = billed().body;
    const report = billed({
      header: undefined,
      footer: undefined,
      pageHeader: band(6, page),
      body: [{ ...huts, detail: { ...huts!.detail, pageBreak: 'between' } }],
    });
    const { text } = await lay(report, ROWS);
    expect(text.map(([first]) => first)).toEqual(['Página 3', 'Page 3', 'Page 3']);
  });

  it('are told of when their formula gives no text', () => {
    const [huts] = billed().body;
    const { problems } = plan(billed({ body: [{ ...huts, language: 'id' }] }));
    expect(problems.map(({ code, place }) => [code, place.path])).toEqual([['wrong-type', 'body/0/language']]);
  });
});
