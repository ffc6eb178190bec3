import type { PlanItem } from '../../data/item-planning.ts';
import type { ItemOf } from '../../definition/schema.ts';
import { planChart } from '../chart/plan.ts';

/** A sparkline as a chart of nothing but its line: it is planned, read and drawn as one. */
export const asChart = (item: ItemOf<'sparkline'>): ItemOf<'chart'> => {
  const { type, rows, along, measure, format, from, to, color } = item;
  const { id, x, y, width, height } = item;
  return {
    kind: 'chart',
    id,
    x,
    y,
    width,
    height,
    type,
    ...(rows ? { rows } : {}),
    ...(along ? { along } : {}),
    measures:
      measure.trim() === '' ? [] : [{ formula: measure, ...(format ? { format } : {}), ...(color ? { color } : {}) }],
    legend: 'none',
    symbols: false,
    axis: { hidden: true },
    scale: { hidden: true, grid: false, ...(from ? { from } : {}), ...(to ? { to } : {}) },
  };
};

export const planSparkline: PlanItem<'sparkline'> = (item, planning) => planChart(asChart(item), planning);
