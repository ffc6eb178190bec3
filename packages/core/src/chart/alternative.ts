import type { Chart, ChartType } from './chart.ts';
import { seriesOf, textAt } from './series.ts';

interface Words {
  types: Record<ChartType, string>;
  of: string;
  along: (count: number) => string;
  series: (names: string) => string;
  range: (low: string, high: string) => string;
  thinned: (count: string) => string;
  empty: string;
  more: (count: number) => string;
  map: (count: number) => string;
}

const EN: Words = {
  types: {
    column: 'Column chart',
    bar: 'Bar chart',
    line: 'Line chart',
    area: 'Area chart',
    pie: 'Pie chart',
    ring: 'Ring chart',
    scatter: 'Scatter chart',
    bubble: 'Bubble chart',
    heat: 'Heat grid',
    box: 'Box plot',
    histogram: 'Histogram',
    waterfall: 'Waterfall chart',
    range: 'Range chart',
  },
  of: ' of ',
  along: (count) => `${count} values along its axis`,
  series: (names) => `series: ${names}`,
  range: (low, high) => `from ${low} to ${high}`,
  thinned: (count) => `drawn from ${count} points, of which those that make its shape are shown`,
  empty: 'no values',
  more: (count) => `and ${count} more`,
  map: (count) => `Map of ${count} places`,
};

const PT: Words = {
  types: {
    column: 'Gráfico de colunas',
    bar: 'Gráfico de barras',
    line: 'Gráfico de linhas',
    area: 'Gráfico de áreas',
    pie: 'Gráfico circular',
    ring: 'Gráfico em anel',
    scatter: 'Gráfico de dispersão',
    bubble: 'Gráfico de bolhas',
    heat: 'Grelha de calor',
    box: 'Diagrama de extremos e quartis',
    histogram: 'Histograma',
    waterfall: 'Gráfico em cascata',
    range: 'Gráfico de intervalos',
  },
  of: ' de ',
  along: (count) => `${count} valores ao longo do eixo`,
  series: (names) => `séries: ${names}`,
  range: (low, high) => `de ${low} a ${high}`,
  thinned: (count) => `desenhado a partir de ${count} pontos, dos quais se mostram os que lhe dão a forma`,
  empty: 'sem valores',
  more: (count) => `e mais ${count}`,
  map: (count) => `Mapa de ${count} lugares`,
};

/** Most names and most rows and columns of numbers that are written out. */
const MOST_NAMES = 8;
const MOST_ROWS = 200;
const MOST_COLUMNS = 13;
/** From so many points on, a line is thinned at any width of a page. */
const THINNED = 8_000;

const wordsIn = (language: string): Words => (/^pt\b/i.test(language) ? PT : EN);

/** The same of a map. */
export const mapSentence = (title: string, count: number, language: string): string =>
  `${wordsIn(language).map(count)}${title === '' ? '' : `: ${title}`}.`;

/** What a chart says to who does not see it: a sentence, and its numbers as a table. */
export const alternativeOf = (
  chart: Chart,
  language: string,
): { alternative: string; table: readonly (readonly string[])[] } => {
  const words = wordsIn(language);
  const { settings, places, panels, measures } = chart;
  const series = seriesOf(chart);
  const list = (names: readonly string[]): string =>
    [...names.slice(0, MOST_NAMES), ...(names.length > MOST_NAMES ? [words.more(names.length - MOST_NAMES)] : [])].join(
      ', ',
    );
  const title =
    settings.title || list([...new Set(measures.map(({ caption }) => caption))].filter((one) => one !== ''));
  const parts: string[] = [];
  if (places.length > 1) parts.push(words.along(places.length));
  if (series.length > 1) parts.push(words.series(list(series.map(({ name }) => name))));
  let [low, high]: [{ value: number; text: string } | null, { value: number; text: string } | null] = [null, null];
  for (const { cells } of panels)
    for (const cell of cells.flat()) {
      const value = cell?.values[0] ?? null;
      if (value === null) continue;
      const found = { value, text: cell!.texts[0] ?? '' };
      if (!low || value < low.value) low = found;
      if (!high || value > high.value) high = found;
    }
  if (low && high) parts.push(words.range(low.text, high.text));
  const isLine = settings.type === 'line' || settings.type === 'area' || settings.type === 'range';
  if (isLine && places.length > THINNED) parts.push(words.thinned(chart.saying.number(places.length, '#,##0')));
  if (!low && !panels.some(({ cells }) => cells.flat().some((cell) => cell?.spread?.length))) parts.push(words.empty);
  const alternative = `${words.types[settings.type]}${title === '' ? '' : `${words.of}${title}`}${parts.length > 0 ? `: ${parts.join('; ')}` : ''}.`;
  const columns = series.slice(0, MOST_COLUMNS);
  const table = low
    ? [
        ['', ...columns.map(({ name }) => name)],
        ...panels
          .flatMap((panel) =>
            places
              .slice(0, MOST_ROWS)
              .map((place, p) => [
                [panel.title, place.label].filter((part) => part !== '').join(', '),
                ...columns.map((one) => textAt(panel, one, p)),
              ]),
          )
          .slice(0, MOST_ROWS),
      ]
    : [];
  return { alternative, table };
};
