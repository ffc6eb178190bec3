import type { AxisGroup } from '@gaveta/core/internal';
import { ArrowDown, ArrowLeftRight, ArrowUp, X } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Check } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { Select } from '../../../ui/select.tsx';
import { FoldSetting } from '../../settings/fold-setting.tsx';
import { ItemType } from '../../settings/item-type.tsx';
import { Setting } from '../../settings/setting.tsx';
import { CaptionAndFormat } from '../groups/caption-and-format.tsx';
import { GroupSettings } from '../groups/group-settings.tsx';
import { groupWords } from '../groups/words.ts';
import type { AxisPart, CrosstabHands } from './use-crosstab.ts';

interface Props {
  hands: CrosstabHands;
  part: AxisPart;
  at: number;
}

/** What one group of a crosstab goes by, in which order, and what it shows besides. */
export const GroupChoices = ({ hands, part, at }: Props) => {
  const { t } = useTranslation();
  const { item, fields, changeGroup, moveGroup, remove, placeOf } = hands;
  const group = item[part][at];
  if (!group) return null;
  const name = groupWords(t, group);
  const change = (next: Parameters<typeof changeGroup>[2]): void => changeGroup(part, at, next);
  const placeIn = (path: string, isCell: boolean, next: (formula: string) => Partial<AxisGroup>) =>
    placeOf(`${part}/${at}/${path}`, isCell ? [...item.down, ...item.across] : [], (formula) => ({
      [part]: item[part].map((one, i) => (i === at ? { ...one, ...next(formula) } : one)),
    }));
  const other: AxisPart = part === 'down' ? 'across' : 'down';
  const isInnermost = at === item[part].length - 1;
  const values = item.cells.map(({ formula, caption }) => ({ value: formula, label: caption || formula }));
  return (
    <div data-choices={`${part}-${at}`}>
      <div className="flex items-center gap-1">
        <b className="me-auto truncate font-semibold">{name}</b>
        <IconButton
          label={t('crosstab.earlier', { name })}
          disabled={at === 0}
          onClick={() => moveGroup({ part, at }, { part, at: at - 1 })}
        >
          <ArrowUp size={13} />
        </IconButton>
        <IconButton
          label={t('crosstab.later', { name })}
          disabled={isInnermost}
          onClick={() => moveGroup({ part, at }, { part, at: at + 1 })}
        >
          <ArrowDown size={13} />
        </IconButton>
        <IconButton
          label={t(`crosstab.turn_${other}`, { name })}
          onClick={() => moveGroup({ part, at }, { part: other, at: item[other].length })}
        >
          <ArrowLeftRight size={13} />
        </IconButton>
        <IconButton label={t('crosstab.remove', { name })} onClick={() => remove(part, at)}>
          <X size={14} />
        </IconButton>
      </div>
      <GroupSettings
        group={group}
        fields={fields}
        totals={values}
        placeOfBy={placeIn('by', false, (by) => ({ by }))}
        onChange={change}
      />
      {!isInnermost && (
        <Setting label={t('crosstab.total')}>
          <Select
            label={t('crosstab.total')}
            value={group.total ?? (part === 'down' && item.labels !== 'columns' ? 'before' : 'after')}
            choices={(['before', 'after', 'none'] as const).map((value) => ({
              value,
              label: t(`crosstab.total_${value}`),
            }))}
            onPick={(total) => change({ total })}
          />
        </Setting>
      )}
      {!isInnermost && (
        <FoldSetting
          fold={group.fold}
          address={placeIn('fold', true, (closedIf) => ({ fold: { ...group.fold, closedIf } }))}
          onChange={(fold) => change({ fold })}
        />
      )}
      <CaptionAndFormat of={group} onChange={change} />
      <ItemType
        label={t('designer.look')}
        hasBackground
        look={group.look ?? {}}
        onChange={(look) => change({ look })}
      />
      <Check label={t('crosstab.gaps')} checked={group.gaps ?? false} onChange={(on) => change({ gaps: on || null })} />
    </div>
  );
};
