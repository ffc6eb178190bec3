import { type Drawer, type Item, isWords, type Look, type Report, styleLook } from '../definition/schema.ts';
import { allBands } from '../definition/walk.ts';
import type { Edit } from './edit.ts';
import { furnishedBands } from './furniture.ts';
import { roleOf, STYLE_OF, type Theme, themedItem, themeStyles } from './themes.ts';

/** What of an item's own look gives way to the theme's. */
const THEMED = ['font', 'size', 'color', 'bold', 'italic', 'underline', 'background'] as const;

/**
 * Gives the whole report the look of a theme: styles, lines, backgrounds of captions and of every second row. Bands that the theme
 * brings along, as a letterhead, come in the place of the report's own.
 */
export const themeEdit = (report: Report, chosen: Theme): Edit => {
  const bands = furnishedBands(report, chosen);
  const edits: Edit[] = [
    { do: 'report', settings: { theme: chosen.name, styles: { ...report.styles, ...themeStyles(chosen) }, ...bands } },
  ];
  const innermost = new Set<string>();
  for (const { band, address } of allBands(report)) {
    if (address.drawer === null && address.band in bands) continue;
    for (const item of band.items) {
      if (item.kind === 'line') edits.push({ do: 'set', items: [item.id], settings: { color: chosen.rule } });
      const themed = themedItem(item.kind, chosen);
      if (Object.keys(themed).length > 0) edits.push({ do: 'set', items: [item.id], settings: themed });
      const role = roleOf(item, address);
      if (role === null) continue;
      edits.push({ do: 'set', items: [item.id], settings: { style: STYLE_OF[role] } });
      const look = { ...ownOf(report, item), ...Object.fromEntries(THEMED.map((key) => [key, null])) };
      edits.push({ do: 'look', items: [item.id], look });
    }
    if (address.drawer !== null && address.band === 'header' && address.group === undefined)
      edits.push({ do: 'band', band: address, settings: { background: chosen.captionBand } });
    if (address.drawer !== null && address.band === 'detail') innermost.add(address.drawer);
  }
  for (const drawer of leaves(report)) {
    if (innermost.has(drawer)) edits.push({ do: 'drawer', drawer, settings: { alternate: chosen.alternate } });
  }
  return { do: 'all', edits };
};

const ROLE_STYLES: ReadonlySet<string> = new Set(Object.values(STYLE_OF));

/** What an item has of a style that gives way to the theme’s, and no theme decides on, as how it is aligned. */
const ownOf = ({ styles }: Report, item: Item): Look => {
  const style = isWords(item) ? item.style : undefined;
  if (style === undefined || ROLE_STYLES.has(style)) return {};
  return { ...styleLook(styles, style), ...(isWords(item) ? item.look : {}) };
};

/** Ids of the drawers that have no inner ones: their rows stand one below the other. */
const leaves = (report: Report): string[] => {
  const found: string[] = [];
  const walk = (drawer: Drawer): void => {
    if (!drawer.drawers?.length) found.push(drawer.id);
    drawer.drawers?.forEach(walk);
  };
  report.body.forEach(walk);
  return found;
};
