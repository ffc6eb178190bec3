import type { BandAddress, Drawer, Item, TextPiece } from '@gaveta/core';
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

/** What a piece of text shows on the board. */
export const pieceWords = (piece: TextPiece): string =>
  typeof piece === 'string' ? piece : 'text' in piece ? piece.text : piece.formula;

/** Names of stored reports by their ids. */
export type ReportNames = Readonly<Record<string, string>>;

export const reportNames = (list: readonly { id: string; name: string }[] | undefined): ReportNames =>
  Object.fromEntries((list ?? []).map(({ id, name }) => [id, name]));

/** What an item shows, in a few words. */
export const itemWords = (item: Item, reports: ReportNames): string => {
  switch (item.kind) {
    case 'text':
      return item.content.map(pieceWords).join('');
    case 'field':
    case 'barcode':
    case 'check':
      return item.formula;
    case 'picture':
      return item.formula ?? item.alternative;
    case 'subreport':
      return reports[item.report] ?? '';
    case 'line':
    case 'rectangle':
      return '';
    default:
      return item satisfies never;
  }
};

export const itemLabel = (t: TFunction, item: Item, reports: ReportNames): string =>
  t('designer.item', { kind: t(`kinds.${item.kind}`), text: itemWords(item, reports) }).trim();
