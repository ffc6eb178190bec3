import { type Field, mendStep, type Parameter, type PlannedStep, type Step } from '@gaveta/core/internal';
import { ArrowDown, ArrowUp, EyeOff, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import { stepLines } from './step-rooms.ts';
import { type StepNames, stepProblems, type Word } from './step-words.ts';

interface StepCardProps {
  number: number;
  planned: PlannedStep;
  /** Columns before the step. */
  fields: readonly Field[];
  parameters: readonly Parameter[];
  source: StepNames['source'];
  isSelected: boolean;
  count: ReactNode;
  onSelect: () => void;
  onChange: (step: Step) => void;
  onRemove: () => void;
  onMove: (by: -1 | 1) => void;
  /** The editor, while the step is selected. */
  children: ReactNode;
}

/** One step of a recipe: what it does in words, how many rows it leaves, and what is wrong with it. */
export const StepCard = (props: StepCardProps) => {
  const {
    number,
    planned,
    fields,
    parameters,
    source,
    isSelected,
    count,
    onSelect,
    onChange,
    onRemove,
    onMove,
    children,
  } = props;
  const { t } = useTranslation();
  const { step, problems } = planned;
  const title = t(`data.step_${step.step}`);
  const lines = stepLines(step, { t, fields, parameters, source });
  const gone = problems.find((p) => p.code === 'recipe-field-gone')?.data.name;
  const mended = gone === undefined ? null : mendStep(step, String(gone));
  const isWrong = problems.some((p) => p.severity === 'error');
  // Somebody is still at it: that is no mistake.
  const isUnfinished = isWrong && problems.every(({ code }) => code === 'recipe-step-unfinished');
  const tone = isUnfinished
    ? 'border-brass/60 bg-brass-soft/50'
    : isWrong
      ? 'border-rust/50 bg-rust-soft'
      : isSelected
        ? 'border-pine ring-2 ring-pine-soft bg-paper'
        : 'border-rule bg-paper';
  return (
    <li className="flex gap-2" data-step={number}>
      <span className="w-4 pt-2.5 text-end text-ink-3">{number}</span>
      <section
        aria-label={t('data.stepNamed', { number, title })}
        className={`min-w-0 flex-1 rounded-lg border ${tone} ${step.off ? 'opacity-55' : ''}`}
      >
        <div className="flex items-start">
          <button
            type="button"
            aria-expanded={isSelected}
            className="min-w-0 flex-1 px-3 py-2 text-start"
            onClick={onSelect}
          >
            <span className="flex gap-2">
              <span className="min-w-0 flex-1">
                <b>{title}</b> {!isSelected && <Words line={lines[0] ?? []} />}
              </span>
              <span className="text-ink-2 whitespace-nowrap" data-count>
                {step.off ? t('data.switchedOff') : count}
              </span>
            </span>
            {!isSelected &&
              lines.slice(1).map((line, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: lines have no name
                <span key={i} className="mt-1 block text-ink-2">
                  <Words line={line} />
                </span>
              ))}
          </button>
        </div>
        {isSelected && (
          <div className="px-3 pb-2.5">
            {children}
            <div className="mt-2 flex items-center gap-0.5 border-t border-rule-soft pt-1.5">
              <IconButton label={t('data.moveUp')} disabled={number < 3} onClick={() => onMove(-1)}>
                <ArrowUp size={14} />
              </IconButton>
              <IconButton label={t('data.moveDown')} disabled={number < 2} onClick={() => onMove(1)}>
                <ArrowDown size={14} />
              </IconButton>
              <IconButton
                label={t(step.off ? 'data.switchOn' : 'data.switchOff')}
                aria-pressed={step.off ?? false}
                onClick={() => {
                  const { off, ...rest } = step;
                  onChange((off ? rest : { ...rest, off: true }) as Step);
                }}
              >
                <EyeOff size={14} />
              </IconButton>
              <span className="flex-1" />
              <IconButton label={t('data.removeStep')} onClick={onRemove}>
                <Trash2 size={14} />
              </IconButton>
            </div>
          </div>
        )}
        {problems.length > 0 && (
          <div
            className={`px-3 pb-2 ${isUnfinished ? 'text-ink-2' : isWrong ? 'text-rust' : 'text-ink-3'}`}
            role={isWrong ? 'alert' : 'note'}
          >
            {stepProblems(problems).map((text) => (
              <p key={text}>{text}</p>
            ))}
            {mended && (
              <button type="button" className="text-pine underline" onClick={() => onChange(mended)}>
                {t('data.takeItOut')}
              </button>
            )}
          </div>
        )}
      </section>
    </li>
  );
};

const Words = ({ line }: { line: readonly Word[] }) => (
  <>
    {line.map((word, i) => {
      const key = `${i} ${JSON.stringify(word)}`;
      if (typeof word === 'string') return <span key={key}>{word} </span>;
      if ('field' in word)
        return (
          <span key={key}>
            <span className="rounded bg-brass-soft px-1.5 py-px text-ink">{word.field}</span>{' '}
          </span>
        );
      if ('parameter' in word)
        return (
          <span key={key}>
            <span className="rounded bg-pine-soft px-1.5 py-px text-pine">{word.parameter}</span>{' '}
          </span>
        );
      return (
        <code key={key} className="font-mono text-[12px]">
          {word.code}{' '}
        </code>
      );
    })}
  </>
);
