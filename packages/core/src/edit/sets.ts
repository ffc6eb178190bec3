import type { Drawer, Report } from '../definition/schema.ts';
import { pageOfSet } from '../definition/sets.ts';
import { type Edit, rounded } from './edit.ts';
import { roomOf } from './paper.ts';

/** Space between sets of rows that stand side by side, in millimetres. */
const GAP = 6;

/** Where another set of rows goes: after the others, or next to them. */
export type SetPlace = 'below' | 'beside';

/** The 0-based places, from and until before, of the sets that stand side by side with the one at `place`. */
const rowOf = ({ body }: Report, place: number): { from: number; until: number } => {
  let from = place;
  let until = place + 1;
  if (body[place]?.beside) {
    while (body[from - 1]?.beside) from--;
    while (body[until]?.beside) until++;
  }
  return { from, until };
};

/** Adds an outermost drawer after or next to the one at `after`, 0-based; sets side by side share the page’s width evenly. */
export const addSet = (report: Report, drawer: Drawer, after: number, place: SetPlace): Edit => {
  const { from, until } = rowOf(report, after);
  if (place === 'below') return { do: 'addDrawer', parent: null, at: until, drawer };
  const count = until - from + 1;
  const width = (roomOf(pageOfSet(report, after)) - GAP * (count - 1)) / count;
  const share = (i: number): Drawer['beside'] => ({ x: rounded(i * (width + GAP)), width: rounded(width) });
  return {
    do: 'all',
    edits: [
      ...report.body
        .slice(from, until)
        .map(({ id }, i): Edit => ({ do: 'drawer', drawer: id, settings: { beside: share(i) } })),
      { do: 'addDrawer', parent: null, at: until, drawer: { ...drawer, beside: share(count - 1) } },
    ],
  };
};
