import { type ContentPart, phrase, SaidError } from '@gaveta/core/internal';
import type { Archive } from '../archive.ts';
import { Media } from '../office/media.ts';
import type { ContentRun } from '../output.ts';
import { type CollectOptions, Collector, type WaitingSheet } from './collect.ts';
import { MOST_COLUMNS } from './limits.ts';
import { SheetRows } from './rows.ts';

/** A picture of a workbook: its files, and what it says to who does not see it. */
export interface Pictured {
  file: string;
  svg?: string;
  alternative: string;
}

export interface SheetOptions {
  sheets: 'one' | 'pages' | 'groups';
  formulas: boolean;
}

/** Sorts a report into sheets, with its pictures in a folder of the archive. */
export const collecting = (
  { options, book, pictures }: ContentRun<SheetOptions>,
  archive: Archive,
  folder: string,
): { collector: Collector; pictured: readonly Pictured[] } => {
  const media = new Media(archive, folder, pictures, book);
  const pictured: Pictured[] = [];
  const picture = async (part: ContentPart): Promise<number | null> => {
    await media.addPart(part);
    const files = media.of(part.content);
    const alternative = 'alternative' in part.content ? part.content.alternative : '';
    return files ? pictured.push({ ...files, alternative }) - 1 : null;
  };
  const split: CollectOptions['split'] = options.sheets === 'one' ? 'none' : options.sheets;
  return { collector: new Collector({ split, picture }), pictured };
};

/** The rows of a sheet that waits. Throws where it would have more columns than programs take. */
export const rowsOfSheet = (waiting: WaitingSheet, collector: Collector, { formulas }: SheetOptions): SheetRows => {
  const rows = new SheetRows(waiting, { looks: collector.looks.all, headings: collector.headings }, formulas);
  const count = rows.columns.length - 1;
  if (count > MOST_COLUMNS) throw new SaidError(phrase('sheet-many-columns', { count, most: MOST_COLUMNS }));
  return rows;
};
