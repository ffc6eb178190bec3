import type { TotalPlan } from '../data/level.ts';
import type { PlannedFormula, PlannedHighlight, PlannedItem, PlannedLink, ReportPlan } from '../data/planned.ts';
import type { ItemKind, ItemOf, Report } from '../definition/schema.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled } from '../formula/functions/context.ts';
import type { Problem } from '../problems/problem.ts';
import type { FontBook } from '../text/fonts.ts';
import type {
  Box,
  FlowingItem,
  LayingOut,
  PreparedCommon,
  PreparedHighlight,
  PreparedItem,
  PreparedLink,
  PreparedReport,
  SettingShapes,
} from './prepared.ts';

/** What preparing a report has in common for all its items. */
export interface Preparing {
  report: Report;
  book: FontBook;
  totals: readonly TotalPlan[];
  /** Ids of items whose text did not fit its box; added to as rows are laid out. */
  cutOff: Set<string>;
  found: (problem: Problem) => void;
  /** Text begins at the right, and so does what stands in a row. */
  isMirrored: boolean;
  /** A nested report whose bands are so many points wide. */
  nested: (plan: ReportPlan, width: number) => PreparedReport;
  /** What stands in the place of an item that cannot be shown. */
  broken: (common: PreparedCommon) => PreparedItem;
}

/** Prepares an item of one kind. */
export type PrepareItem<K extends ItemKind = ItemKind> = (
  planned: PlannedItem<ItemOf<K>>,
  common: PreparedCommon,
  preparing: Preparing,
) => PreparedItem | FlowingItem;

/** The formula that gives what an item shows; null when it is wrong or there is none. */
export const shownBy = (planned: PlannedFormula | undefined): Compiled | null =>
  planned && 'formula' in planned ? compileFormula(planned.formula) : null;

export const preparedHighlight = ({ when, look, hide }: PlannedHighlight): PreparedHighlight => ({
  when: compileFormula(when),
  look,
  hide,
});

/** What an item without text of its own says of how it is laid out. */
export interface PlainItem<I> {
  item: I;
  /** The settings of its kind. */
  shapes: SettingShapes;
  stretches?: boolean;
  /** Adds its marks to a box whose top is where it is to stand. Its height stays as it is. */
  lay: (item: I, box: Box, out: LayingOut) => void;
}

/** An item that is as high as it was drawn. */
export const plainItem = <I>(common: PreparedCommon, plain: PlainItem<I>): PreparedItem => {
  const { item, shapes, stretches = false, lay } = plain;
  const { box } = common;
  return {
    ...common,
    stretches,
    absentHeight: box.height,
    lay: (top, out) => {
      lay(item, { ...box, y: top }, out);
      return box.height;
    },
    deciding: {
      shapes,
      look: null,
      styles: null,
      withSettings: (decidedBox, { own }) =>
        plainItem({ ...common, box: decidedBox }, { ...plain, item: { ...item, ...own } }),
    },
  };
};

/** A link as closures. */
export const preparedLink = (link: PlannedLink): PreparedLink =>
  link.to === 'report'
    ? {
        to: 'report',
        report: link.report,
        parameters: Object.fromEntries(Object.entries(link.parameters).map(([name, f]) => [name, compileFormula(f)])),
      }
    : { to: link.to, evaluate: compileFormula(link.formula) };
