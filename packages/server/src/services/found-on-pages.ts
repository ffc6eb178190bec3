import type { AnswerOf } from '@gaveta/core/contract';
import { findOnPage, type Mark, type Page, type PlaceInRun } from '@gaveta/core/internal';
import type { Run } from '../runs/run.ts';

type Found = AnswerOf<'GET /runs/:id/found'>;

/** Where words stand on the pages of a run: how often on which, and the places from one on, counted from 0. */
export const foundIn = async (
  run: Run,
  text: string,
  { from, count }: { from: number; count: number },
): Promise<Found> => {
  const letGo = run.hold();
  try {
    const pages = (await run.find(text)) ?? [];
    const places: Found['places'] = [];
    let passed = 0;
    for (const [page, here] of pages) {
      if (places.length >= count) break;
      passed += here;
      if (passed <= from) continue;
      const written = await run.page(page);
      if (!written) break;
      const words = findOnPage(JSON.parse(written.toString()) as Page, text);
      for (const [nth, { before, match, after }] of words.entries()) {
        if (passed - here + nth < from || places.length >= count) continue;
        places.push({ page, nth, before, match, after });
      }
    }
    return { count: pages.reduce((sum, [, here]) => sum + here, 0), pages, places };
  } finally {
    letGo();
  }
};

/** Where the first mark stands that has a value under a name; null where no page has one. */
const firstWith = async (run: Run, name: 'rows' | 'item', value: string): Promise<PlaceInRun | null> => {
  const letGo = run.hold();
  try {
    const number = await run.pageWith(Buffer.from(`"${name}":${JSON.stringify(value)}`));
    const written = number === null ? null : await run.page(number);
    if (!written) return null;
    const { marks } = JSON.parse(written.toString()) as Page;
    const mark = marks.find((one) => name in one && one[name as keyof Mark] === value);
    if (!mark || !('y' in mark)) return null;
    // A text stands on its line.
    return { page: number!, y: mark.kind === 'text' ? mark.y - mark.size : mark.y };
  } finally {
    letGo();
  }
};

/** Where the first band of a row stands, by the name that regions have; null where no page has one. */
export const rowsOn = (run: Run, name: string): Promise<PlaceInRun | null> => firstWith(run, 'rows', name);

/** Where an item of the report first stands, by its id; null where no page has it. */
export const itemOn = (run: Run, id: string): Promise<PlaceInRun | null> => firstWith(run, 'item', id);
