import type { PlanItem } from '../data/item-planning.ts';
import type { ItemKind } from '../definition/schema.ts';
import { planBarcode } from './barcode/plan.ts';
import { planChart } from './chart/plan.ts';
import { planCheck } from './check/plan.ts';
import { planContents } from './contents/plan.ts';
import { planCrosstab } from './crosstab/plan.ts';
import { planField } from './field/plan.ts';
import { planFormatted } from './formatted/plan.ts';
import { planGauge } from './gauge/plan.ts';
import { planMap } from './map/plan.ts';
import { planPicture } from './picture/plan.ts';
import { planSparkline } from './sparkline/plan.ts';
import { planState } from './state/plan.ts';
import { planSubreport } from './subreport/plan.ts';
import { planText } from './text/plan.ts';

/** What only one kind of item has, planned; some have nothing of their own to plan. */
const nothing = () => ({});

export const ITEM_PLANS: { readonly [K in ItemKind]: PlanItem<K> } = {
  text: planText,
  field: planField,
  picture: planPicture,
  barcode: planBarcode,
  check: planCheck,
  line: nothing,
  rectangle: nothing,
  panel: nothing,
  formatted: planFormatted,
  crosstab: planCrosstab,
  chart: planChart,
  gauge: planGauge,
  map: planMap,
  sparkline: planSparkline,
  state: planState,
  contents: planContents,
  subreport: planSubreport,
};
