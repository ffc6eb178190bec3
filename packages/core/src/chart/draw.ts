import type { Mark } from '../page/page.ts';
import type { Chart } from './chart.ts';
import { type Box, Drawing } from './drawing.ts';
import { CHART_KINDS } from './kinds.ts';
import { type LaidLegend, type LegendEntry, layLegend } from './legend.ts';
import { withoutOff } from './switches.ts';
import { type ChartWriter, labelOf } from './writer.ts';

/** Size of a chart’s title, of that of its other words. */
const TITLE_SCALE = 1.2;
const QUIET = '#6b7672';

const isEmpty = ({ panels }: Chart): boolean =>
  panels.every(({ cells }) =>
    cells.every((split) =>
      split.every((cell) => !cell || (cell.values.every((value) => value === null) && !cell.spread?.length)),
    ),
  );

/** The marks of a chart in a box, in points; nothing of them lies outside of it. */
export const drawChart = (whole: Chart, box: Box, writer: ChartWriter): Mark[] => {
  const out = new Drawing();
  const { settings, switches } = whole;
  const chart = withoutOff(whole);
  const kind = CHART_KINDS[settings.type];
  let rest = box;
  const title = labelOf(settings.title);
  if (title !== '') {
    const large = writer.sized(writer.size * TITLE_SCALE);
    const height = large.lineHeight + 4;
    if (height < box.height) {
      const text = large.shortened(title, box.width, true);
      out.words(large, text, box.x, box.y + large.size, { bold: true, ...(text === title ? {} : { tip: title }) });
      rest = { ...rest, y: rest.y + height, height: rest.height - height };
    }
  }
  if (isEmpty(whole)) {
    const words = writer.shortened(labelOf(settings.empty), rest.width);
    const middle = rest.y + rest.height / 2 + writer.capHeight / 2;
    if (writer.lineHeight <= rest.height)
      out.words(writer, words, rest.x + rest.width / 2, middle, { align: 'middle', color: QUIET });
    return out.marks;
  }
  const { legend: side } = settings;
  const entries = (): LegendEntry[] =>
    kind.legend(whole).map((entry) => ({ ...entry, switch: switches?.get(entry.name) }));
  let legend: LaidLegend = { rest, draw: () => {} };
  if (side !== 'none')
    legend = kind.ramp ? kind.ramp(chart, side, rest, writer) : layLegend(entries(), side, rest, writer);
  if (legend.rest.width > 4 && legend.rest.height > 4) {
    kind.draw(chart, legend.rest, writer, out);
    legend.draw(out);
  }
  return out.marks;
};
