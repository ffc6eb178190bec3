import { createWriteStream, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  type Level,
  type Mark,
  type Page,
  planReport,
  readDefinition,
  runReport,
  type WireRow,
} from '@gaveta/core/internal';
import fc from 'fast-check';
import { afterAll, expect, it } from 'vitest';
import { loadShippedFonts } from '../equipment.ts';
import { checkConformance } from './conformance.test-support.ts';
import { createPdfWriter } from './pdf.ts';
import { PictureThreads } from './pictures.ts';

const folder = mkdtempSync(join(tmpdir(), 'gaveta-random-'));
const book = await loadShippedFonts();
const threads = new PictureThreads();
afterAll(async () => {
  await threads.close();
  rmSync(folder, { recursive: true });
});

const fieldsOf = (names: readonly string[]) => names.map((name) => ({ name, label: name, type: 'text' as const }));
const model = {
  name: 'huts',
  label: 'Huts',
  entities: [
    {
      name: 'hut',
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: fieldsOf(['id', 'name', 'text']),
      relations: [
        { name: 'stays', label: 'Stays', to: 'stay', kind: 'many' as const, on: [{ here: 'id', there: 'hut_id' }] },
      ],
    },
    {
      name: 'stay',
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      fields: fieldsOf(['id', 'hut_id', 'guest', 'note']),
      relations: [],
    },
  ],
};

/** Texts that each tell where they come from, so that their order can be told; some of them no font has. */
const odd = fc.constantFrom('', ' é—ß', ' 你好', ' \u0000\u0007', ' \ud800', ' 🏔', ' يوسف', ' =1+1', ' \u00a0\u00ad');
const stays = fc.array(fc.tuple(odd, odd), { maxLength: 6 });
const huts = fc.array(fc.tuple(odd, stays), { minLength: 1, maxLength: 5 });
const small = fc.integer({ min: 6, max: 70 });
const shapes = fc.record({
  heading: fc.constantFrom(null, 1, 2, 4),
  detail: small,
  list: fc.boolean(),
  barcode: fc.boolean(),
  link: fc.constantFrom(null, 'address', 'anchor'),
  late: fc.boolean(),
  captions: fc.constantFrom('none', 'columns', 'group'),
  everyPage: fc.boolean(),
  rowNumber: fc.boolean(),
  stay: fc.integer({ min: 5, max: 40 }),
  footer: fc.boolean(),
  columns: fc.boolean(),
  turned: fc.boolean(),
  restart: fc.boolean(),
});
type Shape = typeof shapes extends fc.Arbitrary<infer T> ? T : never;

const box = (id: string, x: number, y: number, width: number, more: object) => ({
  id,
  x,
  y,
  width,
  height: 5,
  ...more,
});
const field = (id: string, formula: string, x: number, width: number, more: object = {}) =>
  box(id, x, 0, width, { kind: 'field', formula, ...more });
const words = (id: string, text: string, x: number, width: number) =>
  box(id, x, 0, width, { kind: 'text', content: [text] });

const definitionOf = (s: Shape) => {
  const captions = [words('cGuest', 'Guest', 10, 60), words('cNote', 'Note', 75, 60)];
  const header = { height: 6, items: captions, everyPage: s.everyPage };
  const rows = [
    ...(s.rowNumber ? [field('no', 'ROWNUMBER(stay)', 0, 8)] : []),
    field('guest', 'guest', 10, 60, { grow: true }),
    field('note', 'note', 75, 60, { look: { align: 'right', ...(s.turned ? { turn: 10 } : {}) } }),
  ];
  const link =
    s.link === null ? {} : { link: s.link === 'address' ? { address: '"https://a.example/" & id' } : { anchor: 'id' } };
  const read = readDefinition({
    gaveta: 2,
    name: 'Random & “odd”',
    model: 'huts',
    pageHeader: { height: 8, items: [words('top', 'At the top', 0, 60)] },
    pageFooter: { height: 8, items: [field('of', 'page.number & " of " & page.count', 0, 60)] },
    body: [
      {
        id: 'h',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: {
          height: s.detail,
          ...(s.restart ? { pageBreak: 'between', restartPages: true } : {}),
          items: [
            field('hut', 'name', 0, 80, { anchor: 'id', ...link, ...(s.heading ? { outline: s.heading } : {}) }),
            ...(s.late ? [field('late', '"in " & page.count', 90, 40)] : []),
            ...(s.list ? [box('list', 90, 6, 60, { kind: 'formatted', formula: 'text', written: 'markdown' })] : []),
            ...(s.barcode ? [box('code', 150, 0, 12, { kind: 'barcode', formula: 'id', code: 'qr', height: 12 })] : []),
          ],
        },
        drawers: [
          {
            id: 's',
            name: 'stay',
            rows: { relation: 'stays' },
            ...(s.captions === 'columns' ? { header } : {}),
            ...(s.captions === 'group' ? { groups: [{ name: 'g', by: 'LEFT(guest; 4)', header }] } : {}),
            ...(s.columns && s.captions === 'none' ? { columns: { count: 2, gap: 4, order: 'down' } } : {}),
            detail: { height: s.stay, items: rows },
            ...(s.footer ? { footer: { height: 6, items: [field('count', 'COUNT(stay) & " stays"', 75, 60)] } } : {}),
          },
        ],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};

const TEXT =
  '# Water\n\nFrom the **spring**, see [the map](https://b.example/).\n\n- cold\n- clear\n\n| a | b |\n|---|---|\n| 1 | 2 |';

const rowsOf = (all: readonly (readonly [string, readonly (readonly [string, string])[]])[]) => {
  const rows = { hut: [] as Record<string, unknown>[], stay: [] as Record<string, unknown>[] };
  for (const [name, inside] of all) {
    const hut = rows.hut.push({
      in: 1,
      id: `${rows.hut.length + 1}`,
      name: `hut${rows.hut.length}${name}`,
      text: TEXT,
    });
    for (const [guest, note] of inside) {
      const i = rows.stay.length;
      rows.stay.push({ in: hut, id: `${i + 1}`, guest: `guest${i}${guest}`, note: `note${i}${note}` });
    }
  }
  return rows;
};

/** What of a page is to be read, and not decoration. */
const readable = (mark: Mark): string[] => (mark.kind === 'text' && mark.as !== 'artifact' ? [mark.text] : []);

const letters = (texts: readonly string[]): string[] => {
  const all = texts
    .join('')
    .replace(/\p{Cs}/gu, '\uFFFD')
    .replace(/[\s\u00a0\u00ad\u200b]/g, '');
  return [...all].sort();
};

let count = 0;

it('writes any report so that it can be kept and read aloud, and reads all of it, once and in order', async () => {
  await fc.assert(
    fc.asyncProperty(shapes, huts, async (shape, all) => {
      const plan = planReport(definitionOf(shape), { models: [model], report: () => null });
      const rows = rowsOf(all);
      const source = async function* (level: Level): AsyncGenerator<WireRow[]> {
        for (const row of rows[level.entity.name as 'hut' | 'stay'])
          yield [
            [row.in as number, ...level.columns.map((c) => (c.kind === 'field' ? (row[c.path[0]!] as string) : null))],
          ];
      };
      const file = join(folder, `${count++}.pdf`);
      const writer = createPdfWriter(createWriteStream(file), book, {
        title: plan.report.name,
        language: 'en',
        threads,
      });
      const pages: Page[] = [];
      const result = await runReport({
        plan,
        book,
        parameters: {},
        regions: true,
        open: () => ({ source }),
        onPage: async (page) => {
          pages.push(page);
          await writer.page(page);
        },
      });
      const late = [...result.late];
      await writer.end(late);
      const { complaints, read } = checkConformance(file);
      expect(complaints).toEqual([]);
      const shown = [...pages.flatMap(({ marks }) => marks), ...late.flatMap(({ marks }) => marks)].flatMap(readable);
      expect(letters(read.map(({ text }) => text))).toEqual(letters(shown));
      const order = read.flatMap(({ text }) => text.match(/(?:hut|guest)\d+/g) ?? []);
      const expected = pages.flatMap(({ marks }) =>
        marks.flatMap(readable).flatMap((t) => t.match(/(?:hut|guest)\d+/g) ?? []),
      );
      expect(order).toEqual(expected);
    }),
    { numRuns: Number(process.env.GAVETA_LONGER ?? 1) * 40, seed: 20_261_128 },
  );
}, 180_000);
