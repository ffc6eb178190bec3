import { alternativeOf } from '../../chart/alternative.ts';
import { drawChart } from '../../chart/draw.ts';
import { sketchesOf } from '../../chart/sketches.ts';
import { switchable } from '../../chart/switches.ts';
import type { EvaluationContext } from '../../formula/functions/context.ts';
import { chartWriters, PreparedFigure } from '../../layout/figure.ts';
import { layFigure } from '../../layout/figure-box.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';
import { problemText } from '../../problems/problem.ts';
import type { CellAsk, CellTable } from '../../shape/summary.ts';
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
  const readOf = (table: CellTable, context: EvaluationContext, asks: CellAsk | null = null): ChartData => {
    let data = read.get(table);
    // Whoever asks is told of the cells as they are read.
    if (!data || asks) {
      data = new ChartReader(item, figure, summary, table, context, asks).read();
      read.set(table, data);
    }
    return data;
  };
  return {
    ...plainItem(common, {
      item,
      shapes: {},
      lay: (own, box, out) => {
        layFigure(summary, { id: own.id, box, look: own.look ?? {}, out }, (table, inner, look) => {
          const data = readOf(table, out.context, out.asks);
          for (const found of data.problems) out.tell(found);
          if ('code' in data.chart) return { notice: problemText(data.chart) };
          const chart = { ...data.chart, switches: out.switchedOf(summary) };
          // The same numbers as other kinds would draw them, for who chooses one.
          out.sketch?.(own.id, () => sketchesOf(chart, writerOf(look)) as Record<string, string>);
          return { ...alternativeOf(chart, report.language), marks: drawChart(chart, inner, writerOf(look)) };
        });
      },
    }),
    summaries: figure.summaries,
    switches: {
      item: item.id,
      summary,
      names: (table, context) => {
        const { chart } = readOf(table, context);
        return 'code' in chart ? [] : switchable(chart);
      },
    },
  };
};
