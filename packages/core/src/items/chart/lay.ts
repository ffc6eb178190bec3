import { alternativeOf } from '../../chart/alternative.ts';
import { drawChart } from '../../chart/draw.ts';
import { sketchesOf } from '../../chart/sketches.ts';
import { chartWriters, PreparedFigure } from '../../layout/figure.ts';
import { layFigure } from '../../layout/figure-box.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';
import { problemText } from '../../problems/problem.ts';
import type { CellTable } from '../../shape/summary.ts';
import { type ChartData, ChartReader } from './data.ts';

export const prepareChart: PrepareItem<'chart'> = ({ item, figure: planned }, common, preparing) => {
  // An empty one says on the board that it is, and nothing on the page.
  if (item.measures.length === 0) return plainItem(common, { item, shapes: {}, lay: () => {} });
  if (!planned) return preparing.broken(common);
  const figure = new PreparedFigure(planned);
  const { summary } = figure;
  if (!summary) return preparing.broken(common);
  const { book, report } = preparing;
  const writerOf = chartWriters(book);
  /** What was read of a table: one that stands on several pages is the same on each. */
  const read = new WeakMap<CellTable, ChartData>();
  return {
    ...plainItem(common, {
      item,
      shapes: {},
      lay: (own, box, out) => {
        layFigure(summary, { id: own.id, box, look: own.look ?? {}, out }, (table, inner, look) => {
          let data = read.get(table);
          if (!data) {
            data = new ChartReader(item, figure, summary, table, out.context).read();
            read.set(table, data);
          }
          for (const found of data.problems) out.tell(found);
          const { chart } = data;
          if ('code' in chart) return { notice: problemText(chart) };
          // The same numbers as other kinds would draw them, for who chooses one.
          out.sketch?.(own.id, () => sketchesOf(chart, writerOf(look)) as Record<string, string>);
          return { ...alternativeOf(chart, report.language), marks: drawChart(chart, inner, writerOf(look)) };
        });
      },
    }),
    summaries: figure.summaries,
  };
};
