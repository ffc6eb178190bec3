import { FLAT_CODES } from '@gaveta/core/internal';
import { Barcode, QrCode } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemColor } from '../../settings/look-parts.tsx';
import { Section } from '../../settings/setting.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';
import { BarcodeContent } from './content.tsx';

/** How barcodes look. */
const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section title={t('designer.look')} section="look">
      <ItemColor chosen={chosen} />
    </Section>
  );
};

/** On the board. */
const Board = ({ item }: BoardProps<'barcode'>) => {
  const Bars = FLAT_CODES.has(item.code) ? Barcode : QrCode;
  return (
    <div className="relative size-full overflow-hidden" style={{ color: item.color }}>
      <Bars
        aria-hidden
        size="100%"
        strokeWidth={1.6}
        preserveAspectRatio={Bars === Barcode ? 'none' : 'xMidYMid meet'}
        className="opacity-60"
      />
      <span className="absolute inset-x-0 bottom-0 truncate bg-pine-soft/90 px-0.5 text-center text-[10px] text-chip">
        {item.formula}
      </span>
    </div>
  );
};

export const barcodeRoom: ItemRoom<'barcode'> = {
  Board,
  Content: BarcodeContent,
  Look,
  add: { id: 'barcode', icon: Barcode, words: 'barcodeStart' },
};
