import type { ItemOf } from '@gaveta/core/internal';
import { PanelTop } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { Check, NumberBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { Section, Setting } from '../../settings/setting.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';

/** On the board: its frame; what it holds is drawn as itself. */
const Board = ({ item, scale }: BoardProps<'panel'>) => (
  <div
    className={`size-full ${item.stroke ? '' : 'border border-dashed border-brass'}`}
    style={{
      background: item.fill,
      border: item.stroke && `${Math.max(1, item.thickness * scale)}px ${item.dash ?? 'solid'} ${item.stroke}`,
      borderRadius: item.radius * scale,
    }}
  />
);

/** How it stacks what lies inside it. */
const Content = ({ item, chosen }: { item: ItemOf<'panel'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const length = (key: 'gap' | 'padding') => (
    <Setting label={t(`frame.${key}`)}>
      <NumberBox
        label={t(`frame.${key}`)}
        value={item[key]}
        most={100}
        onCommit={(next) => chosen.set(t(`frame.${key}`), { [key]: next })}
      />
    </Setting>
  );
  return (
    <Section title={t('designer.content')} section="content">
      <p className="mb-1 text-[12px] text-ink-3">{t('frame.hint')}</p>
      <Setting label={t('frame.stack')}>
        <Select
          label={t('frame.stack')}
          value={item.stack}
          choices={(['column', 'row'] as const).map((value) => ({ value, label: t(`frame.stack_${value}`) }))}
          onPick={(stack) => chosen.set(t('frame.stack'), { stack })}
        />
      </Setting>
      <Setting label={t('frame.align')}>
        <Select
          label={t('frame.align')}
          value={item.align ?? 'drawn'}
          choices={(['drawn', 'start', 'middle', 'end'] as const).map((value) => ({
            value,
            label: t(`frame.align_${value}`),
          }))}
          onPick={(align) => chosen.set(t('frame.align'), { align: align === 'drawn' ? null : align })}
        />
      </Setting>
      {length('gap')}
      {length('padding')}
      <Check
        label={t('frame.leaveOutEmpty')}
        checked={item.leaveOutEmpty ?? false}
        onChange={(on) => chosen.set(t('frame.leaveOutEmpty'), { leaveOutEmpty: on || null })}
      />
    </Section>
  );
};

const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  if (item?.kind !== 'panel') return null;
  const color = (key: 'fill' | 'stroke') => (
    <Setting label={t(`look.${key}`)}>
      <ColorBox
        label={t(`look.${key}`)}
        value={item[key]}
        onPick={(next) => chosen.set(t(`look.${key}`), { [key]: next })}
        onClear={() => chosen.set(t(`look.${key}`), { [key]: null })}
      />
    </Setting>
  );
  return (
    <Section title={t('designer.look')} section="look">
      {color('fill')}
      {color('stroke')}
      <Setting label={t('look.radius')}>
        <NumberBox
          label={t('look.radius')}
          value={item.radius}
          onCommit={(radius) => chosen.set(t('look.radius'), { radius })}
        />
      </Setting>
    </Section>
  );
};

export const panelRoom: ItemRoom<'panel'> = { Board, Content, Look, add: { id: 'stack', icon: PanelTop } };
