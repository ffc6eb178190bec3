import { bandsOf, plansOf } from '../data/plan.ts';
import type { ReportPlan } from '../data/planned.ts';
import { ITEM_LOADS } from '../items/layouts.ts';
import { type PrepareOptions, prepareReport } from '../layout/prepare.ts';
import type { PreparedReport } from '../layout/prepared.ts';
import type { FontBook } from '../text/fonts.ts';

/** Loads what the items of a planned report, and of those nested in it, need to be laid out. */
export const loadForItems = async (plan: ReportPlan): Promise<void> => {
  const items = [...plansOf(plan)].flatMap((one) => [...bandsOf(one)].flatMap((band) => band.items));
  await Promise.all([...new Set(items.map(({ item }) => item.kind))].map((kind) => ITEM_LOADS[kind]?.()));
};

/** A planned report, ready to be laid out. */
export const preparedReport = async (
  plan: ReportPlan,
  book: FontBook,
  options?: PrepareOptions,
): Promise<PreparedReport> => {
  await loadForItems(plan);
  return prepareReport(plan, book, options);
};
