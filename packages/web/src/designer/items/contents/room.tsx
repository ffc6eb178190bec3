import { ListTree } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Check, NumberBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemType } from '../../settings/item-type.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';

const SAMPLE = ['42%', '55%', '36%', '48%'] as const;
const DEFAULT_LEVELS = 3;

/** On the board: lines as they will be, without words, which only a run knows. */
const Board = ({ item }: BoardProps<'contents'>) => {
  const { t } = useTranslation();
  return (
    <div className="flex size-full flex-col gap-1 overflow-hidden border border-brass bg-white/60 p-1 text-[10.5px] text-ink-3">
      <b className="font-semibold text-ink-2">{t('kinds.contents')}</b>
      {SAMPLE.map((width, i) => (
        <div key={width} aria-hidden className="flex items-end gap-1" style={{ paddingLeft: i === 0 ? 0 : 10 }}>
          <span className="h-1.5 rounded bg-ink-3/40" style={{ width }} />
          <span className={`flex-1 border-ink-3/60 ${item.leader === 'none' ? '' : 'border-b border-dotted'}`} />
          <span className="h-1.5 w-3 rounded bg-ink-3/40" />
        </div>
      ))}
    </div>
  );
};

/** Which entries it lists, and with which numbers. */
const Content = ({ item, chosen }: { item: Extract<BoardProps<'contents'>['item'], object>; chosen: Chosen }) => {
  const { t } = useTranslation();
  return (
    <Section title={t('designer.content')} section="content">
      <Setting label={t('contents.levels')}>
        <NumberBox
          label={t('contents.levels')}
          unit=""
          value={item.levels ?? DEFAULT_LEVELS}
          least={1}
          most={6}
          onCommit={(levels) => chosen.set(t('contents.levels'), { levels: Math.round(levels) })}
        />
      </Setting>
      <Setting label={t('contents.numbers')}>
        <Select
          label={t('contents.numbers')}
          value={item.numbers ?? 'page'}
          choices={(['page', 'part'] as const).map((value) => ({ value, label: t(`contents.numbers_${value}`) }))}
          onPick={(numbers) => chosen.set(t('contents.numbers'), { numbers })}
        />
      </Setting>
      <p className="mt-1 text-[12px] text-ink-3">{t('contents.hint')}</p>
    </Section>
  );
};

const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  if (item?.kind !== 'contents') return null;
  const length = (key: 'indent' | 'lineHeight', usual: string) => (
    <Setting label={t(`contents.${key}`)}>
      <NumberBox
        label={t(`contents.${key}`)}
        value={item[key]}
        placeholder={usual}
        onCommit={(next) => chosen.set(t(`contents.${key}`), { [key]: next })}
        onClear={() => chosen.set(t(`contents.${key}`), { [key]: null })}
      />
    </Setting>
  );
  return (
    <Section title={t('designer.look')} section="look">
      <ItemType look={item.look ?? {}} onChange={(look) => chosen.set(t('designer.look'), { look })} />
      <Check
        label={t('contents.dots')}
        checked={item.leader !== 'none'}
        onChange={(on) => chosen.set(t('contents.dots'), { leader: on ? null : 'none' })}
      />
      {length('indent', '5')}
      {length('lineHeight', '6')}
    </Section>
  );
};

export const contentsRoom: ItemRoom<'contents'> = {
  Board,
  Content,
  Look,
  add: { id: 'contents', icon: ListTree },
};
