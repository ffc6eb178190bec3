import type { ItemOf } from '@gaveta/core/internal';
import { Pilcrow } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Check } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemType } from '../../settings/item-type.tsx';
import { OwnFormula } from '../../settings/own-formula.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';

/** On the board: its formula; the form is that of each text. */
const Board = ({ item }: BoardProps<'formatted'>) => (
  <div className="size-full overflow-hidden border border-rule-soft bg-pine-soft/40 p-0.5 text-[10.5px]">
    <Pilcrow size={10} aria-hidden className="me-0.5 inline text-ink-3" />
    <span className="text-chip">{item.formula}</span>
  </div>
);

const Content = ({ item, chosen }: { item: ItemOf<'formatted'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section title={t('designer.content')} section="content">
      <OwnFormula label={t('formatted.says')} item={item} chosen={chosen} />
      <Setting label={t('formatted.written')}>
        <Select
          label={t('formatted.written')}
          value={item.written ?? 'auto'}
          choices={(['auto', 'html', 'markdown'] as const).map((value) => ({
            value,
            label: t(`formatted.written_${value}`),
          }))}
          onPick={(written) => chosen.set(t('formatted.written'), { written: written === 'auto' ? null : written })}
        />
      </Setting>
    </Section>
  );
};

const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  if (item?.kind !== 'formatted') return null;
  return (
    <Section title={t('designer.look')} section="look">
      <ItemType look={item.look ?? {}} onChange={(look) => chosen.set(t('designer.look'), { look })} />
      <Check
        label={t('formatted.shrink')}
        checked={item.shrink ?? false}
        onChange={(on) => chosen.set(t('formatted.shrink'), { shrink: on || null })}
      />
    </Section>
  );
};

export const formattedRoom: ItemRoom<'formatted'> = {
  Board,
  Content,
  Look,
  add: { id: 'formatted', icon: Pilcrow, words: 'formattedStart' },
};
