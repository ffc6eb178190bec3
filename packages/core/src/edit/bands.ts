import type { Band, Report } from '../definition/schema.ts';
import { type BandAddress, DRAWER_BANDS, drawersOf, findBand, REPORT_BANDS } from '../definition/walk.ts';
import type { Edit } from './edit.ts';
import { copyItems } from './ids.ts';

/** Every place that a band may stand in and where there is none yet: the report's, then those of each drawer. */
export const freeBands = (report: Report): BandAddress[] => {
  const ofReport: BandAddress[] = REPORT_BANDS.map((band) => ({ drawer: null, band }));
  const ofDrawers = [...drawersOf(report)].flatMap(({ drawer }): BandAddress[] => [
    ...DRAWER_BANDS.map((band) => ({ drawer: drawer.id, band })),
    ...(drawer.groups ?? []).flatMap((group): BandAddress[] =>
      (['header', 'footer'] as const).map((band) => ({ drawer: drawer.id, band, group: group.name })),
    ),
  ]);
  return [...ofReport, ...ofDrawers].filter((address) => findBand(report, address) === null);
};

/** A band as another place takes it: without what only headers or footers have. */
const suited = (band: Band, { band: place }: BandAddress): Band => {
  const { everyPage, keepWith, atBottom, ...rest } = band;
  return {
    ...rest,
    ...(place === 'header' && everyPage !== undefined ? { everyPage } : {}),
    ...(place === 'header' && keepWith !== undefined ? { keepWith } : {}),
    ...(place === 'footer' && atBottom !== undefined ? { atBottom } : {}),
  };
};

/** Moves a band with its items to a place that is free; null when there is nothing to move. */
export const moveBand = (report: Report, from: BandAddress, to: BandAddress): Edit | null => {
  const band = findBand(report, from);
  if (!band) return null;
  const edits: Edit[] = [
    { do: 'removeBand', band: from },
    { do: 'addBand', band: to, as: suited(band, to) },
  ];
  return { do: 'all', edits };
};

/** Puts a copy of a band, with items of its own, at a place that is free; null when there is nothing to copy. */
export const copyBand = (report: Report, from: BandAddress, to: BandAddress): Edit | null => {
  const band = findBand(report, from);
  return (
    band && {
      do: 'addBand',
      band: to,
      as: { ...suited(band, to), items: copyItems(report, band.items, 0, 0) },
    }
  );
};
