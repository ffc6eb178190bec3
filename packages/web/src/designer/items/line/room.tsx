import { Minus } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import type { Chosen } from '../../settings/item-context.ts';
import { DashChoice, ItemColor, Stretch, Thickness } from '../../settings/look-parts.tsx';
import { Section } from '../../settings/setting.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';

/** How lines look. */
const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section title={t('designer.look')} section="look">
      <ItemColor chosen={chosen} />
      <Thickness chosen={chosen} />
      <DashChoice chosen={chosen} />
      <Stretch chosen={chosen} />
    </Section>
  );
};

/** On the board. */
const Board = ({ item, scale }: BoardProps<'line'>) => {
  return item.height > 0 ? (
    <div
      className="absolute top-0 left-0 origin-left"
      style={{
        width: Math.hypot(item.width, item.height) * scale,
        borderTop: `${Math.max(1, item.thickness * scale)}px ${item.dash} ${item.color}`,
        transform: `rotate(${Math.atan2(item.height, item.width)}rad)`,
      }}
    />
  ) : (
    <div style={{ borderTop: `${Math.max(1, item.thickness * scale)}px ${item.dash} ${item.color}` }} />
  );
};

export const lineRoom: ItemRoom<'line'> = { Board, Look, add: { id: 'line', icon: Minus } };
