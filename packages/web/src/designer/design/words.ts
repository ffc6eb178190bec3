import { type BandAddress, type Drawer, type Item, itemWords, type ReportNames } from '@gaveta/core/internal';
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

export const reportNames = (list: readonly { id: string; name: string }[] | undefined): ReportNames =>
  Object.fromEntries((list ?? []).map(({ id, name }) => [id, name]));

export const itemLabel = (t: TFunction, item: Item, reports: ReportNames): string =>
  t('designer.item', { kind: t(`kinds.${item.kind}`), text: itemWords(item, reports) }).trim();
