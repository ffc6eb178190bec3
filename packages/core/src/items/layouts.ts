import type { ItemKind } from '../definition/schema.ts';
import type { PrepareItem } from '../layout/preparing.ts';
import { prepareBarcode } from './barcode/lay.ts';
import { loadEncoders } from './barcode/shape.ts';
import { prepareChart } from './chart/lay.ts';
import { prepareCheck } from './check/lay.ts';
import { prepareContents } from './contents/lay.ts';
import { prepareCrosstab } from './crosstab/lay.ts';
import { prepareField } from './field/lay.ts';
import { loadReaders } from './formatted/form.ts';
import { prepareFormatted } from './formatted/lay.ts';
import { prepareGauge } from './gauge/lay.ts';
import { prepareLine } from './line/lay.ts';
import { prepareMap } from './map/lay.ts';
import { preparePanel } from './panel/lay.ts';
import { preparePicture } from './picture/lay.ts';
import { prepareRectangle } from './rectangle/lay.ts';
import { prepareSparkline } from './sparkline/lay.ts';
import { prepareState } from './state/lay.ts';
import { prepareSubreport } from './subreport/lay.ts';
import { prepareTextItem } from './text/lay.ts';

/** How an item of each kind is laid out. */
export const ITEM_LAYOUTS: { readonly [K in ItemKind]: PrepareItem<K> } = {
  text: prepareTextItem,
  field: prepareField,
  picture: preparePicture,
  barcode: prepareBarcode,
  check: prepareCheck,
  line: prepareLine,
  rectangle: prepareRectangle,
  panel: preparePanel,
  formatted: prepareFormatted,
  crosstab: prepareCrosstab,
  chart: prepareChart,
  gauge: prepareGauge,
  map: prepareMap,
  sparkline: prepareSparkline,
  state: prepareState,
  contents: prepareContents,
  subreport: prepareSubreport,
};

/** What kinds need before their items are laid out: libraries that take a while to load. */
export const ITEM_LOADS: { readonly [K in ItemKind]?: () => Promise<void> } = {
  barcode: loadEncoders,
  formatted: loadReaders,
};
