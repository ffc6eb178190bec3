import { type AxisGroup, groupPer, periodsFor } from '@gaveta/core/internal';
import { ArrowDown, ArrowLeftRight, ArrowUp, X } from 'lucide-react';
import { useTranslation } from 'react-i18next';
import { Check, CommitBox, NumberBox } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { FoldSetting } from '../../settings/fold-setting.tsx';
import { ItemType } from '../../settings/item-type.tsx';
import { Setting } from '../../settings/setting.tsx';
import { CaptionAndFormat } from './caption-and-format.tsx';
import type { AxisPart, CrosstabHands } from './use-crosstab.ts';
import { groupWords } from './words.ts';

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
  const field = fields.find(({ formula }) => formula === group.by);
  const change = (next: Parameters<typeof changeGroup>[2]): void => changeGroup(part, at, next);
  const placeIn = (path: string, isCell: boolean, next: (formula: string) => Partial<AxisGroup>) =>
    placeOf(`${part}/${at}/${path}`, isCell, (formula) => ({
      [part]: item[part].map((one, i) => (i === at ? { ...one, ...next(formula) } : one)),
    }));
  const other: AxisPart = part === 'down' ? 'across' : 'down';
  const isInnermost = at === item[part].length - 1;
  const values = item.cells.map(({ formula, caption }) => ({ value: formula, label: caption || formula }));
  return (
    <div data-choices={`${part}-${at}`}>
      <div className="flex items-center gap-1">
        <b className="mr-auto truncate font-semibold">{name}</b>
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
      <Setting label={t('crosstab.field')}>
        <Select
          label={t('crosstab.field')}
          value={field ? group.by : undefined}
          blank={group.by}
          choices={fields.map(({ formula, label, of }) => ({ value: formula, label, group: of }))}
          onPick={(by) => {
            const next = fields.find(({ formula }) => formula === by);
            const isDate = next?.type === 'date' || next?.type === 'datetime';
            change({
              by,
              caption: next?.label ?? null,
              per: isDate ? 'month' : null,
              format: isDate ? 'mmm yyyy' : null,
            });
          }}
        />
      </Setting>
      <Setting label={t('crosstab.formula')} wide>
        <FormulaBox
          label={t('crosstab.formula')}
          value={group.by}
          address={placeIn('by', false, (by) => ({ by }))}
          onCommit={(by) => by.trim() !== '' && change({ by })}
        />
      </Setting>
      {periodsFor(field?.type).length > 1 && (
        <Setting label={t('crosstab.per')}>
          <Select
            label={t('crosstab.per')}
            value={group.per ?? 'value'}
            choices={periodsFor(field?.type).map((value) => ({ value, label: t(`drawer.each_${value}`) }))}
            onPick={(per) => change({ per: null, width: null, format: null, ...groupPer(group, per) })}
          />
        </Setting>
      )}
      {group.per === 'range' && (
        <Setting label={t('drawer.rangeWidth')}>
          <NumberBox
            label={t('drawer.rangeWidth')}
            unit=""
            value={group.width ?? 10}
            least={0.0001}
            most={1e9}
            onCommit={(width) => change({ width })}
          />
        </Setting>
      )}
      <Setting label={t('crosstab.order')}>
        <Select
          label={t('crosstab.order')}
          value={group.order ?? ''}
          choices={[{ value: '', label: t('crosstab.byLabel') }, ...values]}
          onPick={(order) => change({ order: order === '' ? null : order, descending: order === '' ? null : true })}
        />
      </Setting>
      <Setting label={t('crosstab.direction')}>
        <Select
          label={t('crosstab.direction')}
          value={group.descending ? 'down' : 'up'}
          choices={(['up', 'down'] as const).map((value) => ({ value, label: t(`drawer.${value}`) }))}
          onPick={(way) => change({ descending: way === 'down' || null })}
        />
      </Setting>
      <Setting label={t('crosstab.first')}>
        <NumberBox
          label={t('crosstab.first')}
          unit=""
          value={group.first}
          least={1}
          most={100_000}
          placeholder={t('crosstab.all')}
          onCommit={(first) => change({ first: Math.round(first), others: group.others ?? t('crosstab.othersWord') })}
          onClear={() => change({ first: null, others: null })}
        />
      </Setting>
      {group.first !== undefined && (
        <Setting label={t('crosstab.others')}>
          <CommitBox
            label={t('crosstab.others')}
            value={group.others ?? ''}
            placeholder={t('crosstab.leftOut')}
            onCommit={(others) => change({ others: others.trim() === '' ? null : others })}
          />
        </Setting>
      )}
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
