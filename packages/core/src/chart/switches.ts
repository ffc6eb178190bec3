import type { Chart, ChartCell } from './chart.ts';
import { byPlaces } from './kinds/round.ts';
import { CHART_KINDS } from './kinds.ts';
import { seriesOf } from './series.ts';

/** Names of what the legend of a chart can switch off, each once. */
export const switchable = (chart: Chart): string[] => {
  const { type, legend } = chart.settings;
  if (legend === 'none') return [];
  const names = CHART_KINDS[type].legend(chart).map(({ name }) => name);
  return names.length > 1 ? [...new Set(names)] : [];
};

/** A cell without some of its measures; null when nothing is left. */
const cellWithout = (cell: ChartCell, isOff: (measure: number) => boolean): ChartCell | null => {
  const values = cell.values.map((value, measure) => (isOff(measure) ? null : value));
  if (values.every((value) => value === null)) return null;
  return { values, texts: cell.texts, ...(cell.colors ? { colors: cell.colors } : {}), link: cell.link ?? null };
};

/** A chart as if what is switched off had no values: the rest stacks, adds up and is measured without it. */
export const withoutOff = (chart: Chart): Chart => {
  const { switches, settings, places, panels } = chart;
  const off = new Set([...(switches ?? [])].flatMap(([name, { isOff }]) => (isOff ? [name] : [])));
  if (off.size === 0) return chart;
  const { roles } = CHART_KINDS[settings.type];
  const isRound = settings.type === 'pie' || settings.type === 'ring';
  const isOfPlaces = isRound && byPlaces(chart);
  const isEach = roles[0] === 'value';
  const series = seriesOf(chart, isEach ? undefined : 1);
  const nameOf = (split: number, measure: number): string =>
    series.find((one) => one.split === split && one.measure === (isEach ? measure : 0))?.name ?? '';
  return {
    ...chart,
    panels: panels.map(({ title, cells }) => ({
      title,
      cells: cells.map((row, split) =>
        row.map((cell, place) => {
          if (!cell) return null;
          if (isOfPlaces) return off.has(places[place]!.label) ? null : cell;
          if (!isEach) return off.has(nameOf(split, 0)) ? null : cell;
          return cellWithout(cell, (measure) => off.has(nameOf(split, measure)));
        }),
      ),
    })),
  };
};
