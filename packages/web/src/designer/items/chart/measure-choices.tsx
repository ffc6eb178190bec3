import type { ChartMeasureSetting, ChartPart } from '@gaveta/core/internal';
import { ArrowDown, ArrowUp, Plus, X } from 'lucide-react';
import { swapped } from '../../../data/lists.ts';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { ColorBox } from '../../../ui/color-box.tsx';
import { Check } from '../../../ui/commit.tsx';
import { IconButton } from '../../../ui/controls.tsx';
import { Select } from '../../../ui/select.tsx';
import { FormulaBox } from '../../formula/formula-box.tsx';
import { Setting } from '../../settings/setting.tsx';
import { CaptionAndFormat } from '../groups/caption-and-format.tsx';
import { TotalSettings } from '../groups/total-settings.tsx';
import { totalWords } from '../groups/words.ts';
import type { ChartHands } from './use-chart.ts';

interface Props {
  hands: ChartHands;
  part: ChartPart;
  at: number;
}

const HIGHLIGHT = '#b3402e';
const DRAWN_AS = ['column', 'line', 'area'] as const;

/** What a chart measures, and how it is drawn. */
export const MeasureChoices = ({ hands, part, at }: Props) => {
  const { t } = useTranslation();
  const { item, fields, groups, changeMeasure, removeMeasure, set, placeOf } = hands;
  const measure = item.measures[at];
  if (!measure) return null;
  const name = totalWords(t, measure);
  const change = (next: Parameters<typeof changeMeasure>[1]): void => changeMeasure(at, next);
  const placeIn = (path: string, next: (formula: string) => Partial<ChartMeasureSetting>) =>
    placeOf(`measures/${at}${path && `/${path}`}`, groups, (formula) => ({
      measures: item.measures.map((one, i) => (i === at ? { ...one, ...next(formula) } : one)),
    }));
  const move = (to: number): void => set(t('chart.value'), { measures: swapped(item.measures, at, to) });
  const highlights = measure.highlights ?? [];
  const putHighlights = (next: typeof highlights): void => change({ highlights: next.length > 0 ? next : null });
  const isSpread = part.says === 'spread';
  return (
    <div data-choices={`measures-${at}`}>
      <div className="flex items-center gap-1">
        <b className="me-auto truncate font-semibold">{name}</b>
        {item.measures.length > 1 && (
          <>
            <IconButton label={t('crosstab.earlier', { name })} disabled={at === 0} onClick={() => move(at - 1)}>
              <ArrowUp size={13} />
            </IconButton>
            <IconButton
              label={t('crosstab.later', { name })}
              disabled={at === item.measures.length - 1}
              onClick={() => move(at + 1)}
            >
              <ArrowDown size={13} />
            </IconButton>
          </>
        )}
        <IconButton label={t('crosstab.remove', { name })} onClick={() => removeMeasure(at)}>
          <X size={14} />
        </IconButton>
      </div>
      <TotalSettings of={measure} fields={fields} place={placeIn('', (formula) => ({ formula }))} onChange={change} />
      {isSpread && <p className="text-[11.5px] text-ink-3">{t('chart.spreadHelp')}</p>}
      <CaptionAndFormat of={measure} onChange={change} />
      {item.type === 'column' && (
        <Setting label={t('chart.drawnAs')}>
          <Select
            label={t('chart.drawnAs')}
            value={measure.drawnAs ?? 'column'}
            choices={DRAWN_AS.map((value) => ({ value, label: t(`chart.drawn_${value}`) }))}
            onPick={(drawnAs) => change({ drawnAs: drawnAs === 'column' ? null : drawnAs })}
          />
        </Setting>
      )}
      {part.says === 'value' && (item.type === 'column' || item.type === 'line' || item.type === 'area') && (
        <Check
          label={t('chart.second')}
          checked={measure.second ?? false}
          onChange={(on) => change({ second: on || null })}
        />
      )}
      {!item.split && (
        <Setting label={t('designer.color')}>
          <ColorBox
            label={t('designer.color')}
            value={measure.color}
            onPick={(color) => change({ color })}
            onClear={() => change({ color: null })}
          />
        </Setting>
      )}
      {!isSpread && (
        <div className="mt-1">
          <span className="flex items-center text-ink-2">
            <span className="me-auto">{t('chart.otherColor')}</span>
            <IconButton
              label={t('chart.addOtherColor')}
              onClick={() => putHighlights([...highlights, { when: `${measure.formula} > 0`, color: HIGHLIGHT }])}
            >
              <Plus size={13} />
            </IconButton>
          </span>
          {highlights.map(({ when, color }, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: told apart by their place
            <div key={i} className="flex items-start gap-1">
              <span className="min-w-0 flex-1">
                <FormulaBox
                  label={t('chart.otherColorWhen')}
                  value={when}
                  address={placeIn(`highlights/${i}/when`, (formula) => ({
                    highlights: highlights.map((one, h) => (h === i ? { ...one, when: formula } : one)),
                  }))}
                  onCommit={(formula) =>
                    formula.trim() !== '' &&
                    putHighlights(highlights.map((one, h) => (h === i ? { ...one, when: formula } : one)))
                  }
                />
              </span>
              <ColorBox
                label={t('chart.otherColor')}
                value={color}
                onPick={(next) => putHighlights(highlights.map((one, h) => (h === i ? { ...one, color: next } : one)))}
              />
              <IconButton
                label={t('chart.removeOtherColor')}
                onClick={() => putHighlights(highlights.filter((_, h) => h !== i))}
              >
                <X size={13} />
              </IconButton>
            </div>
          ))}
        </div>
      )}
    </div>
  );
};
