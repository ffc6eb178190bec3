import type { Level } from '../data/level.ts';
import { bandsOf, plansOf } from '../data/plan.ts';
import type { PlannedBand, PlannedItem, ReportPlan } from '../data/planned.ts';
import type { PlannedSummary } from '../data/summary.ts';
import { isPageBand } from '../definition/walk.ts';
import type { PieceFormula } from '../listing/piece-formulas.ts';
import { askedFormulas } from './asked-formulas.ts';
import type { AskedValue } from './explanation.ts';

/** Where the item that is asked about stands, in one of the reports. */
export interface Target {
  plan: ReportPlan;
  band: PlannedBand;
  planned: PlannedItem;
  formulas: PieceFormula[];
}

const isOfPage = (key: string): boolean => isPageBand(key.split('/').at(-1) as Parameters<typeof isPageBand>[0]);

/** The places where the item stands that is asked about: several where a report is nested more than once. */
export const targetsOf = (plan: ReportPlan, { item, band: key, cell }: AskedValue): Target[] =>
  [...plansOf(plan)].flatMap((one) =>
    [...bandsOf(one)]
      .filter((band) => (key === null ? isOfPage(band.key) : band.key === key))
      .flatMap((band) =>
        band.items
          .filter((planned) => planned.item.id === item)
          .map((planned) => ({ plan: one, band, planned, formulas: askedFormulas(planned, cell) })),
      ),
  );

/** The groups of an item, where it has any. */
export const summaryOf = ({ figure, crosstab }: PlannedItem): PlannedSummary | null =>
  figure?.summary ?? crosstab?.summary ?? null;

/** How many of its groups, the first ones, lead down. */
export const downKeysOf = ({ item, figure }: PlannedItem): number =>
  figure ? figure.downKeys : item.kind === 'crosstab' ? item.down.length : 0;

/** Levels of an item's own rows. */
export const ownLevels = (planned: PlannedItem): Level[] =>
  (summaryOf(planned)?.parts ?? []).flatMap(({ counted }) => (counted.item === null ? [] : [counted]));

/** Whether rows must be read that the run itself did not fetch: those of an item that only their groups were read of. */
export const needsRows = (plan: ReportPlan, asked: AskedValue): boolean =>
  targetsOf(plan, asked).some(({ planned }) => ownLevels(planned).some(({ isFetched }) => !isFetched));
