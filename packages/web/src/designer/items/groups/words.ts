import { type ItemField, type RowGroup, totalParts } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** “arrival, by month”: a group in words. */
export const groupWords = (t: TFunction, { caption, name, per = 'value' }: RowGroup): string => {
  const label = caption || name;
  return per === 'value' ? label : t(`crosstab.by_${per}`, { label });
};

/** “sum of nights”: what is counted, in words. */
export const totalWords = (
  t: TFunction,
  { caption, formula }: { caption?: string | undefined; formula: string },
): string => {
  const parts = totalParts(formula);
  const label = caption || parts?.of || formula;
  return parts && isNamed(parts.name) ? t(`crosstab.of_${parts.name}`, { label }) : label;
};

/** A formula in words, its fields by their labels where it is one of them, or a total of one. */
export const formulaWords = (t: TFunction, fields: readonly ItemField[], formula: string): string => {
  const of = totalParts(formula)?.of ?? formula;
  const caption = fields.find((field) => field.formula === of)?.label;
  return totalWords(t, { formula, ...(caption ? { caption } : {}) });
};

/** Totals that are offered for a value, the likeliest first. */
export const CELL_TOTALS = ['SUM', 'AVERAGE', 'COUNT', 'COUNTA', 'COUNTDISTINCT', 'MIN', 'MAX', 'MEDIAN'] as const;

const isNamed = (name: string): name is (typeof CELL_TOTALS)[number] =>
  (CELL_TOTALS as readonly string[]).includes(name);
