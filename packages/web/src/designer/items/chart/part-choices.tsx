import type { ChartGroupPart, ChartPart } from '@gaveta/core/internal';
import { X } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { Check } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { CaptionAndFormat } from '../groups/caption-and-format.tsx';
import { GroupSettings } from '../groups/group-settings.tsx';
import { groupWords, totalWords } from '../groups/words.ts';
import { MeasureChoices } from './measure-choices.tsx';
import type { ChartHands } from './use-chart.ts';

interface Props {
  hands: ChartHands;
  part: ChartPart;
  /** Place among the measures; null for a group. */
  measure: number | null;
}

/** What one part of a chart shows. */
export const PartChoices = ({ hands, part, measure }: Props) =>
  measure === null ? (
    <GroupChoices hands={hands} part={part.part as ChartGroupPart} />
  ) : (
    <MeasureChoices hands={hands} part={part} at={measure} />
  );

const PERIODS = new Set(['year', 'quarter', 'month', 'week', 'day', 'hour', 'range']);

const GroupChoices = ({ hands, part }: { hands: ChartHands; part: ChartGroupPart }) => {
  const { t } = useTranslation();
  const { item, fields, changeGroup, placeOf, set } = hands;
  const group = item[part];
  if (!group) return null;
  const name = groupWords(t, group);
  const totals = item.measures.map((measure) => ({ value: measure.formula, label: totalWords(t, measure) }));
  return (
    <div data-choices={part}>
      <div className="flex items-center gap-1">
        <b className="me-auto truncate font-semibold">{name}</b>
        <IconButton label={t('crosstab.remove', { name })} onClick={() => set(t(`chart.${part}`), { [part]: null })}>
          <X size={14} />
        </IconButton>
      </div>
      <GroupSettings
        group={group}
        fields={fields}
        totals={totals}
        placeOfBy={placeOf(`${part}/by`, [], (by) => ({ [part]: { ...group, by } }))}
        onChange={(next) => changeGroup(part, next)}
      />
      <CaptionAndFormat of={group} onChange={(next) => changeGroup(part, next)} />
      {PERIODS.has(group.per ?? 'value') && (
        <Check
          label={t('chart.gaps')}
          checked={group.gaps ?? true}
          onChange={(on) => changeGroup(part, { gaps: on ? null : false })}
        />
      )}
    </div>
  );
};
