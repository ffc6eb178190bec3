import { expect, it } from 'vitest';
import { planReport } from '../data/plan.ts';
import { band, definition, field, hutModel, lay, layPlan, line, nest } from '../layout/huts.test-support.ts';
import { type Page, type RegionMark, structureOf } from './page.ts';

const structure = (page: Page): string[] =>
  page.marks
    .flatMap((mark) => (mark.kind === 'region' ? [] : [`${mark.item ?? mark.kind}: ${structureOf(mark)}`]))
    .sort();

it('marks say what they are to who reads a page without seeing it', async () => {
  const box = { kind: 'rectangle', id: 'box', x: 0, y: 0, width: 9, height: 9, stroke: '#000000' };
  const code = { kind: 'barcode', id: 'code', x: 70, y: 0, width: 20, height: 20, formula: 'name', code: 'qr' };
  const { pages } = await lay(
    definition({
      pageHeader: line('top', '"Huts"'),
      pageFooter: line('bottom', 'page.number & " of " & page.count'),
      body: [
        {
          id: 'h',
          name: 'hut',
          rows: { entity: 'hut' },
          groups: [{ name: 'initial', by: 'LEFT(name)', header: line('initial', 'LEFT(name)', {}) }],
          header: line('caption', '"Name"'),
          detail: band(20, box, field('name', 'name', { outline: 1 }), field('plain', 'id', { y: 10 }), code),
        },
      ],
    }),
    { hut: [{ id: 1, name: 'Pedra Longa' }] },
  );
  expect(structure(pages[0]!)).toEqual([
    'bottom: artifact',
    'box: artifact',
    'caption: header',
    'code: figure',
    'initial: content',
    'name: artifact',
    'name: heading',
    'plain: content',
    'top: artifact',
  ]);
});

it('regions name rows by their keys, wherever they stand among others; rows of a nested report with those around it', async () => {
  const stays = definition({ body: [{ id: 's', name: 'stay', rows: { entity: 'stay' }, detail: line('g', 'guest') }] });
  const huts = definition({
    body: [
      {
        id: 'h',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: band(10, field('n', 'name'), nest('stays', { y: 5, rows: { relation: 'stays' } })),
      },
    ],
  });
  const named = {
    ...hutModel,
    entities: hutModel.entities.map((entity) => ({
      ...entity,
      fields: entity.fields.map((f) =>
        entity.name === 'hut' && f.name === 'id' ? { ...f, type: 'text' as const } : f,
      ),
    })),
  };
  const context = { models: [named], report: () => stays, rowKeys: true };
  const { pages } = await layPlan(planReport(huts, context), {
    hut: [
      { id: '71', name: 'Pedra Longa' },
      { id: 'a/b', name: 'Lago Frio' },
    ],
    stay: [
      { in: 1, id: 5, guest: 'a' },
      { in: 2, id: 9, guest: 'b' },
    ],
  });
  const regions = pages[0]!.marks.filter((mark): mark is RegionMark => mark.kind === 'region');
  expect(regions.map(({ band: key, rows }) => `${key} ${rows}`)).toEqual([
    'h/detail hut:71',
    's/detail hut:71/stay:5',
    'h/detail hut:a%2Fb',
    's/detail hut:a%2Fb/stay:9',
  ]);
});

it('a hidden key never leaves with a page', () => {
  const hidden = {
    ...hutModel,
    entities: hutModel.entities.map((entity) => ({
      ...entity,
      fields: entity.fields.map((f) => (f.name === entity.key ? { ...f, hidden: true } : f)),
    })),
  };
  const huts = definition({ body: [{ id: 'h', name: 'hut', rows: { entity: 'hut' }, detail: line('n', 'name') }] });
  const [level] = planReport(huts, { models: [hidden], report: () => null, rowKeys: true }).levels;
  expect(level).toMatchObject({ keyColumn: 0, columns: [{ kind: 'field', path: ['name'] }] });
});

it('says once to who does not see it what stands on every page again, and keeps the place of words that come late', async () => {
  const { pages } = await lay(
    definition({
      body: [
        {
          id: 'h',
          name: 'hut',
          rows: { entity: 'hut' },
          header: { ...line('caption', '"Name"'), everyPage: true },
          detail: { ...band(20, field('name', 'name'), field('of', 'page.count', { x: 60 })), pageBreak: 'between' },
        },
      ],
    }),
    {
      hut: [
        { id: 1, name: 'Pedra Longa' },
        { id: 2, name: 'Lago Frio' },
      ],
    },
  );
  expect(pages.map((page) => structure(page).filter((said) => said.startsWith('caption')))).toEqual([
    ['caption: header'],
    ['caption: artifact'],
  ]);
  const [first] = pages;
  const places = first!.marks.flatMap(({ kind, item }) =>
    item === 'of' || item === 'name' ? [`${item}: ${kind}`] : [],
  );
  expect(places).toEqual(['name: text', 'of: slot', 'of: text']);
});

it('numbers the parts of formatted text, and says which are headings, items and what counts them', async () => {
  const text = { kind: 'formatted', id: 'f', x: 0, y: 0, width: 150, height: 20, written: 'markdown' };
  const { pages } = await lay(
    definition({
      body: [
        {
          id: 'h',
          name: 'hut',
          rows: { entity: 'hut' },
          detail: band(40, { ...text, formula: 'name' }),
        },
      ],
    }),
    { hut: [{ id: 1, name: '## Water\n\nFrom the spring.\n\n- Cold' }] },
  );
  const said = pages[0]!.marks.flatMap((mark) =>
    mark.kind === 'text' ? [`${mark.part} ${structureOf(mark)} ${mark.level ?? ''} ${mark.text}`] : [],
  );
  expect(said).toEqual(['0 heading 2 Water', '1 content  From the spring.', '2 item  Cold', '3 label  •']);
});
