import type { BandAddress, Drawer, Item } from '@gaveta/core';
import type { TFunction } from 'i18next';

const sentence = (name: string): string => name.charAt(0).toUpperCase() + name.slice(1).replace(/_/g, ' ');

export const drawerLabel = (drawer: Drawer): string => sentence(drawer.name);

export const bandLabel = (t: TFunction, address: BandAddress, drawer: Drawer | null): string =>
  address.drawer === null
    ? t(`bands.${address.band}`)
    : `${drawer ? drawerLabel(drawer) : ''} ${t(`bands.drawer.${address.band}`)}`;

/** What an item shows, in a few words. */
export const itemWords = (item: Item): string => {
  switch (item.kind) {
    case 'text':
      return item.content.map((piece) => (typeof piece === 'string' ? piece : piece.formula)).join('');
    case 'field':
      return item.formula;
    case 'picture':
      return item.formula ?? item.alternative;
    case 'subreport':
      return item.report;
    case 'line':
    case 'rectangle':
      return '';
    default:
      return item satisfies never;
  }
};

export const itemLabel = (t: TFunction, item: Item): string =>
  t('designer.item', { kind: t(`kinds.${item.kind}`), text: itemWords(item) }).trim();
