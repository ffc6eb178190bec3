import {
  acrossFromGroup,
  changedGroup,
  movedGroup,
  reachedField,
  type Sketch,
  type SketchGroup,
  STEP_PERIODS,
  type StepPeriod,
  withColumn,
  withFirst,
  withoutGroup,
} from '@gaveta/core/internal';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { useTranslation } from '../i18n/use-translation.ts';
import { NumberBox } from '../ui/commit.tsx';
import { IconButton, Line } from '../ui/controls.tsx';
import { Select } from '../ui/select.tsx';
import { SortLine } from './column-panel.tsx';
import { KeepOnly, PanelFoot, RenameLine } from './panel-parts.tsx';
import { useParts } from './parts.ts';
import { groupLabel } from './words.ts';

/** Which dates of a group make one; nothing for other fields. */
export const PeriodLine = ({
  group,
  onPick,
}: {
  group: SketchGroup;
  onPick: (per: StepPeriod | undefined) => void;
}) => {
  const { t } = useTranslation();
  const { reach } = useParts();
  const type = reachedField(reach, group.field)?.field.type;
  if (type !== 'date' && type !== 'datetime') return null;
  const periods = STEP_PERIODS.filter((per) => per !== 'hour' || type === 'datetime');
  return (
    <Line label={t('sketch.byPeriod')}>
      <Select
        label={t('sketch.byPeriod')}
        value={group.per ?? 'value'}
        choices={[
          ...periods.map((per) => ({ value: per as string, label: t(`data.per_${per}`) })),
          { value: 'value', label: t('sketch.eachValue') },
        ]}
        onPick={(per) => onPick(per === 'value' ? undefined : (per as StepPeriod))}
      />
    </Line>
  );
};

/** Everything that can be done to one group. */
export const GroupPanel = ({ name, onClose }: { name: string; onClose: () => void }) => {
  const { t } = useTranslation();
  const { sketch, change, reach, isReading } = useParts();
  const group = sketch.groups.find((g) => g.name === name);
  if (!group) return null;
  const at = sketch.groups.indexOf(group);
  const around = sketch.groups[at - 1];
  const first = sketch.first?.of === name ? sketch.first.count : undefined;
  const done = (next: Sketch): void => {
    change(next);
    onClose();
  };
  return (
    <div className="flex flex-col gap-2 p-3">
      <SortLine name={name} />
      <KeepOnly about={{ field: group.field }} />
      {!isReading && (
        <>
          <PeriodLine group={group} onPick={(per) => change(changedGroup(sketch, name, { per }))} />
          <Line label={around ? t('sketch.firstOf', { around: groupLabel(around, reach) }) : t('sketch.firstAlone')}>
            <NumberBox
              label={t('sketch.firstCount')}
              unit=""
              least={1}
              most={10_000}
              placeholder={t('sketch.firstAll')}
              value={first}
              onCommit={(count) => change(withFirst(sketch, name, Math.round(count)))}
              onClear={() => change(withFirst(sketch, name, null))}
            />
          </Line>
          <RenameLine
            label={groupLabel(group, reach)}
            onRename={(label) => change(changedGroup(sketch, name, { label }))}
          />
          <PanelFoot
            turns={[
              {
                words: t('sketch.asColumn'),
                onPick: () => done(withColumn(withoutGroup(sketch, name), group.field, reach)),
              },
              {
                words: t('sketch.putAcross'),
                onPick: () => done(acrossFromGroup(sketch, name, t('sketch.rowCount'))),
              },
            ]}
            remove={{ words: t('sketch.removeGroup'), onPick: () => done(withoutGroup(sketch, name)) }}
          >
            <IconButton
              label={t('sketch.outward')}
              disabled={at === 0}
              onClick={() => change(movedGroup(sketch, name, at - 1))}
            >
              <ArrowUp size={15} />
            </IconButton>
            <IconButton
              label={t('sketch.inward')}
              disabled={at === sketch.groups.length - 1}
              onClick={() => change(movedGroup(sketch, name, at + 1))}
            >
              <ArrowDown size={15} />
            </IconButton>
          </PanelFoot>
        </>
      )}
    </div>
  );
};
