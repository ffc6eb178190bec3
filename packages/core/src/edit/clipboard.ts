import { type Item, isWords, itemSchema, type Report, type Style, styleSchema } from '../definition/schema.ts';
import type { BandAddress } from '../definition/walk.ts';
import { findItem } from '../definition/walk.ts';
import { z } from '../definition/zod.ts';
import type { Edit } from './edit.ts';
import { copyItems } from './ids.ts';

/** What is copied: items with the styles that they name, so that they look the same in another report. */
const clipSchema = z.strictObject({
  gavetaItems: z.literal(1),
  items: z.array(itemSchema).min(1).max(2000),
  styles: z.record(z.string().max(80), styleSchema).default({}),
});
export type Clip = z.infer<typeof clipSchema>;

/** The items with these ids, in their order on the page; null when none is there. */
export const clipOf = (report: Report, ids: readonly string[]): Clip | null => {
  const items = ids.map((id) => findItem(report, id)?.item).filter((item) => item !== undefined);
  if (items.length === 0) return null;
  const styles: Record<string, Style> = {};
  for (const item of items) {
    const name = 'style' in item ? item.style : undefined;
    if (name !== undefined && report.styles[name]) styles[name] = report.styles[name];
  }
  return { gavetaItems: 1, items, styles };
};

/** Reads what was copied back from text; null for any other text. */
export const readClip = (text: string): Clip | null => {
  if (!text.startsWith('{"gavetaItems"')) return null;
  try {
    return clipSchema.safeParse(JSON.parse(text)).data ?? null;
  } catch {
    return null;
  }
};

/** Puts copied items into a band, a little beside where they stood; `ids` are those of the new ones. */
export const pasteClip = (report: Report, clip: Clip, band: BandAddress): { edit: Edit; ids: string[] } => {
  const items = copyItems(report, clip.items, 2, 0);
  const styles = { ...clip.styles, ...report.styles };
  const isNew = Object.keys(styles).length > Object.keys(report.styles).length;
  return {
    ids: items.map((item) => item.id),
    edit: {
      do: 'all',
      edits: [...(isNew ? [{ do: 'report' as const, settings: { styles } }] : []), { do: 'add', band, items }],
    },
  };
};

/** What of an item is its look, and none of its content or place. */
const LOOKS = [
  'style',
  'look',
  'highlights',
  'color',
  'thickness',
  'dash',
  'fill',
  'stroke',
  'radius',
  'opacity',
] as const;

/** Gives items the look of another one, as far as their kind has it. */
export const pasteLook = (report: Report, from: Item, to: readonly string[]): Edit => {
  const source = from as unknown as Record<string, unknown>;
  const edits = to.flatMap((id): Edit[] => {
    const item = findItem(report, id)?.item;
    if (!item || item.id === from.id) return [];
    if (item.kind !== from.kind && !(isWords(item) && isWords(from))) return [];
    const settings = Object.fromEntries(
      LOOKS.filter((key) => source[key] !== undefined || key === 'look' || key === 'style').map((key) => [
        key,
        source[key] ?? null,
      ]),
    );
    return [{ do: 'set', items: [id], settings: isWords(item) ? settings : withoutNulls(settings) }];
  });
  return { do: 'all', edits };
};

const withoutNulls = (settings: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(Object.entries(settings).filter(([, value]) => value !== null));
