import { type ItemOf, STATE_SHAPES, type StateCase } from '@gaveta/core/internal';
import { CircleDot } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { CommitBox } from '../../../ui/commit.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import type { Chosen } from '../../settings/item-context.ts';
import { ItemType } from '../../settings/item-type.tsx';
import { Section, Setting } from '../../settings/setting.tsx';
import { LiveDrawing } from '../groups/live-drawing.tsx';
import { without } from '../groups/use-grouping.ts';
import { AddButton, ListedSetting } from '../groups/zone-list.tsx';
import type { BoardProps, ItemRoom } from '../room.ts';

/** Colours and shapes of new states, one after the other. */
const NEW_CASES = [
  { shape: 'circle', color: '#2d7a5f' },
  { shape: 'up', color: '#d9a441' },
  { shape: 'diamond', color: '#b3402e' },
] as const;

const Board = ({ item }: BoardProps<'state'>) => {
  const { t } = useTranslation();
  return (
    <div className="relative size-full border border-brass/50 bg-white/60">
      {item.cases.length === 0 ? (
        <span className="block truncate px-1 text-[10.5px] leading-[15px] text-ink-3">{t('state.empty')}</span>
      ) : (
        <LiveDrawing id={item.id} />
      )}
    </div>
  );
};

const Content = ({ item, chosen }: { item: ItemOf<'state'>; chosen: Chosen }) => {
  const { t } = useTranslation();
  const { cases } = item;
  const put = (next: StateCase[]): void => chosen.set(t('state.cases'), { cases: next });
  const changed = (at: number, next: { [K in keyof StateCase]?: StateCase[K] | null }): StateCase[] =>
    cases.map((one, i) => (i === at ? (without({ ...one, ...next }) as StateCase) : one));
  return (
    <Section title={t('designer.content')} section="content">
      <p className="text-[11.5px] text-ink-3">{t('state.help')}</p>
      {cases.map((one, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
        <ListedSetting key={i} label={t('state.remove')} onRemove={() => put(cases.filter((_, at) => at !== i))}>
          <Setting label={t('state.when')} wide>
            <FormulaBox
              label={t('state.when')}
              value={one.when}
              address={chosen.address}
              onCommit={(when) => when.trim() !== '' && put(changed(i, { when }))}
            />
          </Setting>
          <Setting label={t('state.shape')}>
            <span className="flex items-center gap-1">
              <Select
                label={t('state.shape')}
                value={one.shape}
                choices={STATE_SHAPES.map((value) => ({ value, label: t(`state.shape_${value}`) }))}
                onPick={(shape) => put(changed(i, { shape }))}
                className="min-w-0 flex-1"
              />
              <ColorBox label={t('designer.color')} value={one.color} onPick={(color) => put(changed(i, { color }))} />
            </span>
          </Setting>
          <Setting label={t('state.words')}>
            <CommitBox
              label={t('state.words')}
              value={one.words ?? ''}
              onCommit={(words) => put(changed(i, { words: words.trim() === '' ? null : words }))}
            />
          </Setting>
        </ListedSetting>
      ))}
      <AddButton
        label={t('state.add')}
        onAdd={() => put([...cases, { when: 'TRUE()', ...NEW_CASES[cases.length % NEW_CASES.length]! }])}
      />
    </Section>
  );
};

const Look = ({ chosen }: { chosen: Chosen }) => {
  const { t } = useTranslation();
  const [item] = chosen.items;
  if (item?.kind !== 'state') return null;
  return (
    <Section title={t('designer.look')} section="look">
      <ItemType look={item.look ?? {}} onChange={(look) => chosen.set(t('designer.look'), { look })} />
    </Section>
  );
};

export const stateRoom: ItemRoom<'state'> = { Board, Content, Look, add: { id: 'state', icon: CircleDot } };
