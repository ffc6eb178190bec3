import type { Look } from '../definition/schema.ts';
import type { EvaluationContext } from '../formula/functions/context.ts';
import type { Mark } from '../page/page.ts';
import { problemText } from '../problems/problem.ts';
import { CellContext, CellTable, type PreparedSummary } from '../shape/summary.ts';
import { FormulaError } from '../value/value.ts';
import { DEFAULT_LOOK, dashOf } from './default-look.ts';
import type { PreparedFigure } from './figure.ts';
import { noticeBlock } from './notice.ts';
import { type Box, type LayingOut, POINTS } from './prepared.ts';

/** What is drawn in the box of a figure, or the words in its place. */
export type Drawn = { marks: Mark[]; alternative: string; table: readonly (readonly string[])[] } | { notice: string };

interface Place {
  id: string;
  box: Box;
  look: Look;
  out: LayingOut;
}

/** Lays a figure out in its box: background and border, what it says to who does not see it, and what is drawn inside. */
export const layFigure = (
  summary: PreparedSummary,
  place: Place,
  draw: (table: CellTable, inner: Box, look: Look) => Drawn,
): void => {
  const { out, look } = place;
  const table = out.cellsOf(summary);
  if (table instanceof FormulaError) putDrawn(place, { notice: table.code });
  else if (!(table instanceof CellTable)) putDrawn(place, { notice: problemText(table) });
  else putDrawn(place, draw(table, insideOf(place), look));
};

/** As {@link layFigure}, for one that shows formulas over all rows of its groups, or where it stands when it groups none. */
export const layNumber = (
  { summary }: PreparedFigure,
  place: Place,
  draw: (context: EvaluationContext, inner: Box, look: Look) => Drawn,
): void => {
  const { context } = place.out;
  if (!summary) {
    putDrawn(place, draw(context, insideOf(place), place.look));
    return;
  }
  layFigure(summary, place, (table, inner, look) => {
    const cell = new CellContext(context, summary, table.empty());
    cell.at(table.down, table.across);
    return draw(cell.context, inner, look);
  });
};

/** The room for what is drawn: the box without its padding. */
export const insideOf = ({ box, look }: Pick<Place, 'box' | 'look'>): Box => {
  const { padding = 0 } = look;
  const side = (name: 'top' | 'right' | 'bottom' | 'left'): number =>
    (typeof padding === 'number' ? padding : (padding[name] ?? 0)) * POINTS;
  return {
    x: box.x + side('left'),
    y: box.y + side('top'),
    width: Math.max(0, box.width - side('left') - side('right')),
    height: Math.max(0, box.height - side('top') - side('bottom')),
  };
};

/** Adds what is drawn of a figure to the marks of its band. */
export const putDrawn = ({ id, box, look, out }: Place, drawn: Drawn): void => {
  out.hasContent = true;
  const { background, border } = look;
  const edge = border?.top ?? border?.left;
  if (background || edge?.width)
    out.marks.push({
      kind: 'rectangle',
      ...box,
      item: id,
      ...(background ? { fill: background } : {}),
      ...(edge?.width
        ? { stroke: edge.color ?? DEFAULT_LOOK.color, thickness: edge.width * POINTS, ...dashed(edge) }
        : {}),
      ...(look.radius ? { radius: look.radius * POINTS } : {}),
    });
  if ('notice' in drawn) {
    for (const mark of noticeBlock(drawn.notice, box.width, out.book).marks)
      if ('y' in mark && mark.kind === 'text')
        out.marks.push({ ...mark, x: mark.x + box.x, y: mark.y + box.y, item: id });
    return;
  }
  const { alternative, table, marks } = drawn;
  out.marks.push({ kind: 'figure', ...box, alternative, table, item: id });
  for (const mark of marks) {
    mark.item = id;
    out.marks.push(mark);
  }
};

const dashed = ({ dash, width }: { dash?: 'solid' | 'dashed' | 'dotted' | undefined; width: number }) => {
  const found = dashOf(dash, width * POINTS);
  return found ? { dash: found } : {};
};
