import type {
  ContentBlock,
  ContentEvent,
  ContentPart,
  ContentSection,
  RunLook,
  TextContent,
  TextRun,
} from '@gaveta/core/internal';
import { loadEquipment } from './equipment.ts';
import { collecting } from './sink.test-support.ts';

export const LOOK: RunLook = {
  family: 'Source Sans 3',
  size: 10,
  bold: false,
  italic: false,
  underline: false,
  strike: false,
  color: '#1f2a2e',
};

export const section = (more: Partial<ContentSection> = {}): ContentSection => ({
  kind: 'section',
  width: 595,
  height: 842,
  margins: { top: 40, right: 40, bottom: 40, left: 40 },
  header: null,
  footer: null,
  ...more,
});

type TextMore = Partial<Omit<TextContent, 'kind' | 'runs'>> & { runs?: TextRun[]; look?: Partial<RunLook> };

/** A text in a box as high as a line. */
export const text = (
  words: string,
  x: number,
  width: number,
  { look, runs, ...more }: TextMore = {},
  part: Partial<ContentPart> = {},
): ContentPart => ({
  x,
  y: 0,
  width,
  height: 14,
  content: {
    kind: 'text',
    runs: runs ?? [{ text: words, look: { ...LOOK, ...look } }],
    align: 'left',
    stands: 'top',
    padding: { top: 0, right: 0, bottom: 0, left: 0 },
    spacing: 1.25,
    wraps: true,
    turn: 0,
    ...more,
  },
  ...part,
});

/** A number at the right of its box. */
export const number = (value: number, x: number, width: number, more: TextMore = {}): ContentPart =>
  text(value.toFixed(2), x, width, { value, format: '0.00', align: 'right', ...more });

export const block = (parts: ContentPart[], more: Partial<ContentBlock> = {}): ContentBlock => ({
  kind: 'block',
  height: Math.max(14, ...parts.map(({ y, height }) => y + height)),
  parts,
  fills: [],
  lines: [],
  bands: [],
  depth: 0,
  keepNext: false,
  repeats: false,
  isCollapsed: false,
  ...more,
});

const equipment = await loadEquipment();

/** A file of a document in an output. */
export const documentOf = async (
  name: string,
  events: readonly ContentEvent[],
  options: Record<string, unknown> = {},
  pictures: ReadonlyMap<string, Uint8Array> = new Map(),
  signal = new AbortController().signal,
): Promise<Buffer> => {
  const output = equipment.output(name);
  if (output?.takes !== 'content') throw new Error(`no output ${name}`);
  const { sink, bytes } = collecting();
  await output.write(
    {
      title: 'A “report” & more',
      language: 'en',
      timeZone: 'UTC',
      styles: { Caption: { bold: true } },
      book: await equipment.book(),
      pictures: async (hash) => pictures.get(hash) ?? null,
      content: async (listener) => {
        for (const event of events) await listener(event);
      },
      options,
    },
    sink,
    signal,
  );
  return bytes();
};

/** A table of two columns with captions, rows and a total under its numbers. */
export const tableEvents = (rows: readonly (readonly [string, number])[]): ContentEvent[] => {
  const caption = { as: 'header' as const, look: { bold: true } };
  const total = rows.reduce((sum, [, value]) => sum + value, 0);
  return [
    { kind: 'begins', part: 'drawer', drawer: 'huts' },
    block([text('Hut', 0, 200, caption), text('Nights', 200, 100, { ...caption, align: 'right' })], { repeats: true }),
    ...rows.map(([name, value]) =>
      block([text(name, 0, 200, { value: name, source: 'name' }), number(value, 200, 100, { source: 'nights' })]),
    ),
    block([text('Total', 0, 200), number(total, 200, 100, { source: 'sum', total: { name: 'SUM', of: 'nights' } })]),
    { kind: 'ends' },
  ];
};
