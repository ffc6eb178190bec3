import { alternativeOf } from '../../chart/alternative.ts';
import { drawSparkline } from '../../chart/sparkline.ts';
import { PreparedFigure } from '../../layout/figure.ts';
import { layFigure } from '../../layout/figure-box.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';
import { problemText } from '../../problems/problem.ts';
import { ChartReader } from '../chart/data.ts';
import { asChart } from './plan.ts';

export const prepareSparkline: PrepareItem<'sparkline'> = ({ item, figure: planned }, common, preparing) => {
  // An empty one says on the board that it is, and nothing on the page.
  if (item.measure.trim() === '') return plainItem(common, { item, shapes: {}, lay: () => {} });
  const figure = planned && new PreparedFigure(planned);
  if (!figure?.summary) return preparing.broken(common);
  const { summary } = figure;
  const chartItem = asChart(item);
  const { type, color = null, marks = 'last' } = item;
  return {
    ...plainItem(common, {
      item,
      shapes: {},
      lay: (own, box, out) =>
        layFigure(summary, { id: own.id, box, look: {}, out }, (table, inner) => {
          const { chart, problems } = new ChartReader(chartItem, figure, summary, table, out.context).read();
          for (const found of problems) out.tell(found);
          if ('code' in chart) return { notice: problemText(chart) };
          const { alternative } = alternativeOf(chart, preparing.report.language);
          return { alternative, table: [], marks: drawSparkline(chart, inner, { type, color, marks }) };
        }),
    }),
    summaries: figure.summaries,
  };
};
