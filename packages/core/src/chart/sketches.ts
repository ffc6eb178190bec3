import { marksToSvg, pageToMarks } from '../page/svg.ts';
import { CHART_TYPES, type Chart, type ChartType } from './chart.ts';
import { drawChart } from './draw.ts';
import { CHART_KINDS } from './kinds.ts';
import type { ChartWriter } from './writer.ts';

/** A small picture of a kind, in points. */
const SIZE = { width: 34, height: 22 };
/** Past so many values a picture of that size shows nothing of them. */
const MOST = 3_000;

/** The same numbers as each other kind that they suffice for would draw them, as SVG by kind. */
export const sketchesOf = (chart: Chart, writer: ChartWriter): Partial<Record<ChartType, string>> => {
  const { settings, measures, panels, places, splits } = chart;
  if (places.length * splits.length * measures.length > MOST) return {};
  const isSpread = CHART_KINDS[settings.type].isSpread ?? false;
  const found: Partial<Record<ChartType, string>> = {};
  for (const type of CHART_TYPES) {
    const { roles, isSpread: spread = false, takes } = CHART_KINDS[type];
    if (spread !== isSpread || measures.length < roles.length) continue;
    const isRound = type === 'pie' || type === 'ring';
    const hidden = { title: '', hidden: true, grid: false };
    const drawn: Chart = {
      ...chart,
      // A chart of one split alone shows the first, and so do pies: two of them are too small to be seen.
      splits: takes.split && !isRound ? splits : splits.slice(0, 1),
      panels: panels.slice(0, 1).map((panel) => ({ ...panel, title: '' })),
      settings: {
        ...settings,
        type,
        title: '',
        legend: 'none',
        labels: 'none',
        symbols: type === 'scatter' ? null : false,
        lines: [],
        zones: [],
        totalCaption: '',
        along: { ...settings.along, ...hidden },
        scales: [
          { ...settings.scales[0], ...hidden },
          { ...settings.scales[1], ...hidden },
        ],
      },
    };
    const marks = drawChart(drawn, { x: 0, y: 0, ...SIZE }, writer).map((mark) =>
      'tip' in mark ? { ...mark, tip: undefined, to: undefined } : mark,
    );
    const svg = pageToMarks({ number: 1, ...SIZE, marks }, () => '');
    // Without the paper of a page, on the ground of the button.
    found[type] = marksToSvg(svg).replace('<rect width="100%" height="100%" fill="#fff"/>', '');
  }
  return found;
};
