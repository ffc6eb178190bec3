import { type Band, pageSchema, paperSize, type Report, widthBetween } from '../definition/schema.ts';
import { applyEdit } from './edit.ts';
import { copyItems } from './ids.ts';
import { fitBands } from './paper.ts';
import type { Furniture, FurnitureBand, Theme } from './themes.ts';

/** Those that are measured from the corner of the paper. */
const ON_PAPER: readonly FurnitureBand[] = ['pageBackground', 'pageOverlay'];

/** The bands as they stand in a report: with ids that are free in it, and as wide as its paper. */
export const furnishedBands = (report: Report, { furniture = {}, page }: Theme): Furniture => {
  const drawnFor = page ?? pageSchema.parse({});
  const given = Object.entries(furniture) as [FurnitureBand, Band][];
  // Bands that give way lend their ids.
  let bare = report;
  for (const [band] of given) bare = applyEdit(bare, { do: 'removeBand', band: { drawer: null, band } });
  let furnished = bare;
  for (const [band, as] of given) {
    const address = { drawer: null, band };
    furnished = applyEdit(furnished, {
      do: 'addBand',
      band: address,
      as: { ...as, items: copyItems(furnished, as.items, 0, 0) },
    });
    const [before, after] = [drawnFor, report.page].map((one) =>
      ON_PAPER.includes(band) ? paperSize(one).width : widthBetween(one),
    ) as [number, number];
    if (before === after) continue;
    const at = { band: furnished[band]!, address };
    furnished = applyEdit(furnished, { do: 'all', edits: fitBands(furnished, [at], before, after) });
  }
  return Object.fromEntries(given.map(([band]) => [band, furnished[band]!]));
};
