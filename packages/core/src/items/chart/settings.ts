import type { AlongSettings, Chart, ChartSettings, ScaleSettings } from '../../chart/chart.ts';
import { PALETTE } from '../../chart/colors.ts';
import { zonesOverlap } from '../../chart/zones.ts';
import type { ItemOf } from '../../definition/schema.ts';
import { type Problem, problem } from '../../problems/problem.ts';

type ChartItem = ItemOf<'chart'>;

const QUIET = '#6b7672';

/** The settings of a chart, whole. `kind`: of its axis; `at`: the number that a formula of it gives, by its path in the item. */
export const chartSettings = (
  item: ChartItem,
  kind: AlongSettings['kind'],
  at: (path: string) => number | null,
): ChartSettings => {
  const scaleOf = (name: 'scale' | 'secondScale'): ScaleSettings => {
    const { title = '', format = '', log = false, grid = name === 'scale', hidden = false } = item[name] ?? {};
    return { title, format, log, grid, hidden, from: at(`${name}/from`), to: at(`${name}/to`) };
  };
  const { axis = {} } = item;
  const along: AlongSettings = {
    kind,
    title: axis.title ?? '',
    format: axis.format ?? '',
    log: axis.log ?? false,
    grid: axis.grid ?? false,
    hidden: axis.hidden ?? false,
    from: at('axis/from'),
    to: at('axis/to'),
  };
  return {
    type: item.type,
    title: item.title ?? '',
    stack: item.stack ?? 'beside',
    curve: item.curve ?? 'straight',
    missing: item.missing ?? 'gap',
    symbols: item.symbols ?? null,
    patterns: item.patterns ?? false,
    labels: item.labels ?? 'none',
    legend: item.legend ?? 'right',
    palette: item.palette ?? PALETTE,
    along,
    scales: [scaleOf('scale'), scaleOf('secondScale')],
    lines: (item.lines ?? []).flatMap(({ caption = '', color = QUIET, dash = 'dashed', second = false }, i) => {
      const value = at(`lines/${i}/at`);
      return value === null ? [] : [{ at: value, caption, color, dash, isSecond: second }];
    }),
    zones: (item.zones ?? []).map(({ color, caption = '', second = false }, i) => ({
      from: at(`zones/${i}/from`),
      to: at(`zones/${i}/to`),
      color,
      caption,
      isSecond: second,
    })),
    panelColumns: item.panelColumns ?? null,
    bins: item.bins ?? null,
    ramp: [item.ramp?.from ?? '#eef3ef', item.ramp?.to ?? PALETTE[0]!],
    totalCaption: item.totalCaption ?? '',
    empty: item.empty ?? '',
  };
};

/** What of a chart is drawn, and not as somebody might expect. */
export const unexpectedIn = (item: ChartItem, { settings, panels }: Chart): Problem[] => {
  const problems: Problem[] = [];
  const place = { item: item.id };
  const values = (): number[] =>
    panels.flatMap(({ cells }) => cells.flat().flatMap((cell) => cell?.values.filter((value) => value !== null) ?? []));
  const [first, second] = settings.scales;
  if (first.log || second.log) {
    const count = values().filter((value) => value <= 0).length;
    if (count > 0) problems.push(problem('log-not-positive', place, { count }, 'warning'));
  }
  if (item.type === 'pie' || item.type === 'ring') {
    const count = values().filter((value) => value < 0).length;
    if (count > 0) problems.push(problem('slices-not-positive', place, { count }, 'warning'));
  }
  if (zonesOverlap(settings.zones)) problems.push(problem('zones-overlap', place, {}, 'warning'));
  return problems;
};
