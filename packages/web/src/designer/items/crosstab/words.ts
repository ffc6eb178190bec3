import { type AxisGroup, type CrosstabCell, totalParts } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** “arrival, by month”: a group of a crosstab in words. */
export const groupWords = (t: TFunction, { caption, name, per = 'value' }: AxisGroup): string => {
  const label = caption || name;
  return per === 'value' ? label : t(`crosstab.by_${per}`, { label });
};

/** “sum of nights”: a value of the cells in words. */
export const cellWords = (t: TFunction, { caption, formula, shows = 'value' }: CrosstabCell): string => {
  const parts = totalParts(formula);
  const label = caption || parts?.of || formula;
  const words = parts && isNamed(parts.name) ? t(`crosstab.of_${parts.name}`, { label }) : label;
  return shows === 'value' ? words : `${words}, ${t(`crosstab.shows_${shows}`)}`;
};

/** Totals that are offered for a value, the likeliest first. */
export const CELL_TOTALS = ['SUM', 'AVERAGE', 'COUNT', 'COUNTA', 'COUNTDISTINCT', 'MIN', 'MAX', 'MEDIAN'] as const;

const isNamed = (name: string): name is (typeof CELL_TOTALS)[number] =>
  (CELL_TOTALS as readonly string[]).includes(name);
