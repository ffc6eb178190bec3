import type { Band, Report } from '../definition/schema.ts';
import { type BandAddress, drawersOf, findDrawer, partAtPath } from '../definition/walk.ts';
import type { Edit } from './edit.ts';
import { groupValue } from './grouping.ts';
import { freshId } from './ids.ts';
import { roomIn } from './paper.ts';
import { dressed } from './themes.ts';

/**
 * Where the sign of a drawer’s fold stands: its own header, or the row around it where it has none; null where no band can have
 * it.
 */
export const foldHeading = (report: Report, id: string): BandAddress | null => {
  const found = findDrawer(report, id);
  if (!found) return null;
  const { drawer, parent } = found;
  if (drawer.header) return { drawer: id, band: 'header' };
  if (!parent?.detail) return null;
  const bearer = (parent.drawers ?? []).find((one) => !one.header && (one.fold || one === drawer));
  return bearer === drawer ? { drawer: parent.id, band: 'detail' } : null;
};

/** A header for what is folded and has none; null when the problem is of something else. */
export const addHeading = (
  report: Report,
  { drawer: id, path = '' }: { drawer?: string; path?: string },
): Edit | null => {
  const found = [...drawersOf(report)].find(({ drawer }) => drawer.id === id);
  if (!found || partAtPath(report, path) === null) return null;
  const { drawer } = found;
  const place = /\/groups\/(\d+)\//.exec(path.slice(found.path.length));
  const group = place ? drawer.groups?.[Number(place[1])] : undefined;
  const band: BandAddress = { drawer: drawer.id, band: 'header', ...(group ? { group: group.name } : {}) };
  const box = { x: 0, y: 1.5, width: roomIn(report, band), height: 6 };
  const look = dressed(report, 'heading');
  const words = drawer.name.charAt(0).toUpperCase() + drawer.name.slice(1).replaceAll('_', ' ');
  const as: Band = {
    height: 8,
    items: [
      group
        ? { kind: 'field', id: freshId(report, 'field'), ...box, ...groupValue(group.name, group.per), ...look }
        : { kind: 'text', id: freshId(report, 'text'), ...box, content: [words], ...look },
    ],
  };
  return { do: 'addBand', band, as };
};
