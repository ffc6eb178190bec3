import {
  type BandAddress,
  type Drawer,
  findDrawer,
  type Item,
  itemWords,
  partAtPath,
  type Report,
  type ReportNames,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

export const nameLabel = (name: string): string => name.charAt(0).toUpperCase() + name.slice(1).replace(/_/g, ' ');

export const drawerLabel = (drawer: Drawer): string => nameLabel(drawer.name);

export const bandLabel = (t: TFunction, address: BandAddress, drawer: Drawer | null): string =>
  address.drawer === null
    ? t(`bands.${address.band}`)
    : [drawer && drawerLabel(drawer), drawerBandLabel(t, address)].filter(Boolean).join(' ');

/** Name of a drawer's band without the drawer's: a group's band has the group's name. */
export const drawerBandLabel = (t: TFunction, address: BandAddress & { drawer: string }): string =>
  [address.group && nameLabel(address.group), t(`bands.drawer.${address.band}`)].filter(Boolean).join(' ');

/** The place that a path into a report leads to: an item, a parameter, a query, or the drawer or band that it is a part of. */
export const placeWords = (t: TFunction, report: Report, path: string, reports: ReportNames): string | null => {
  const parts = path.split('/');
  const at = parts.lastIndexOf('items');
  if (at >= 0) {
    const found = parts
      .slice(0, at + 2)
      .reduce<unknown>((value, part) => (value as Record<string, unknown> | undefined)?.[part], report);
    if (found) return itemLabel(t, found as Item, reports);
  }
  const place = Number(parts[1]);
  if (parts[0] === 'parameters') return report.parameters[place]?.label ?? null;
  if (parts[0] === 'queries') return report.queries?.[place]?.label ?? report.queries?.[place]?.name ?? null;
  const found = partAtPath(report, path);
  if (!found) return null;
  const drawerOf = (id: string | null): Drawer | null =>
    id === null ? null : (findDrawer(report, id)?.drawer ?? null);
  if (found.kind === 'band') return bandLabel(t, found.band, drawerOf(found.band.drawer));
  const drawer = drawerOf(found.drawer);
  return drawer && drawerLabel(drawer);
};

export const reportNames = (list: readonly { id: string; name: string }[] | undefined): ReportNames =>
  Object.fromEntries((list ?? []).map(({ id, name }) => [id, name]));

export const itemLabel = (t: TFunction, item: Item, reports: ReportNames): string =>
  t('designer.item', { kind: t(`kinds.${item.kind}`), text: itemWords(item, reports) }).trim();
