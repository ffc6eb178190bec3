import { size } from './basics.ts';
import { z } from './zod.ts';

/** An ISO 216 or 269 series: each size is the one before, folded in half, rounded down to whole millimetres. */
const series = (letter: string, width: number, height: number, last: number): Record<string, [number, number]> => {
  const papers: Record<string, [number, number]> = {};
  for (let n = 0; n <= last; n++) {
    papers[`${letter}${n}`] = [width, height];
    [width, height] = [Math.floor(height / 2), width];
  }
  return papers;
};

const inches = (width: number, height: number): [number, number] => [
  Math.round(width * 254) / 10,
  Math.round(height * 254) / 10,
];

/** Width and height in millimetres, upright: ISO 216 and 269, DL, the North American sizes and ANSI/ASME Y14.1. */
export const PAPERS: Readonly<Record<string, readonly [number, number]>> = {
  ...series('A', 841, 1189, 10),
  ...series('B', 1000, 1414, 10),
  ...series('C', 917, 1297, 10),
  DL: [110, 220],
  Letter: inches(8.5, 11),
  Legal: inches(8.5, 14),
  Tabloid: inches(11, 17),
  Executive: inches(7.25, 10.5),
  Statement: inches(5.5, 8.5),
  Folio: inches(8.5, 13),
  'ANSI C': inches(17, 22),
  'ANSI D': inches(22, 34),
  'ANSI E': inches(34, 44),
  'Arch A': inches(9, 12),
  'Arch B': inches(12, 18),
  'Arch C': inches(18, 24),
  'Arch D': inches(24, 36),
  'Arch E': inches(36, 48),
};

const paperNames: [string, ...string[]] = ['custom', ...Object.keys(PAPERS)];

const plainPageSchema = z.strictObject({
  paper: z.enum(paperNames).default('A4'),
  orientation: z.enum(['portrait', 'landscape']).default('portrait'),
  /** For custom paper only. */
  width: z.number().min(10).max(5000).optional(),
  height: z.number().min(10).max(5000).optional(),
  /** One page as long as its content, for screens; a new one starts only where {@link LONGEST_PAGE} is reached. */
  continuous: z.boolean().optional(),
  margins: z
    .strictObject({ top: size, right: size, bottom: size, left: size })
    .default({ top: 15, right: 15, bottom: 15, left: 15 }),
});
type PlainPageSchema = typeof plainPageSchema;
export interface PageSchema extends PlainPageSchema {}
export const pageSchema: PageSchema = plainPageSchema;

export type PageSetup = z.infer<typeof pageSchema>;

/** In millimetres: the longest page that every reader of PDF shows (ISO 32000-1, annex C.2). */
export const LONGEST_PAGE = 5000;

/** Width and height of the paper as it lies, in millimetres. */
export const paperSize = (page: PageSetup): { width: number; height: number } => {
  const [w, h] = page.paper === 'custom' ? [page.width ?? 210, page.height ?? 297] : (PAPERS[page.paper] ?? [210, 297]);
  return page.orientation === 'portrait' ? { width: w, height: h } : { width: h, height: w };
};

/** Width between the margins, in millimetres. */
export const widthBetween = (page: PageSetup): number => paperSize(page).width - page.margins.left - page.margins.right;
