import type { DeliveryRunState, DeliveryState, PartState } from '@gaveta/core/internal';
import { Ban, Check, CircleDashed, LoaderCircle, Minus, Pause, Play, TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';
import type { DeliveryRun } from '../api/deliveries.ts';
import { useTranslation } from '../i18n/use-translation.ts';

type Told = DeliveryRunState | PartState;

const MARKS: Readonly<Record<Told, ReactNode>> = {
  waiting: <CircleDashed size={14} aria-hidden className="text-ink-3" />,
  working: <LoaderCircle size={14} aria-hidden className="animate-spin text-ink-3 motion-reduce:animate-none" />,
  done: <Check size={14} aria-hidden className="text-pine" />,
  partly: <TriangleAlert size={14} aria-hidden className="text-brass" />,
  failed: <TriangleAlert size={14} aria-hidden className="text-rust" />,
  nothing: <Minus size={14} aria-hidden className="text-ink-3" />,
  cancelled: <Ban size={14} aria-hidden className="text-ink-3" />,
};

/** What became of something, as a mark with its word. */
export const Outcome = ({ state, words }: { state: Told; words?: string | undefined }) => {
  const { t } = useTranslation();
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap" data-outcome={state}>
      {MARKS[state]}
      <span className={state === 'failed' ? 'text-rust-strong' : ''}>{words ?? t(`deliveries.state_${state}`)}</span>
    </span>
  );
};

/** What became of a run: its word, and how many of its parts arrived where it has several. */
export const RunOutcome = ({ run }: { run: DeliveryRun }) => {
  const { t } = useTranslation();
  const { state, sent, parts } = run;
  const counted = parts > 1 && (state === 'partly' || state === 'working' || state === 'done' || state === 'failed');
  return (
    <Outcome
      state={state}
      words={
        counted ? t('deliveries.sentOf', { sent, count: parts, state: t(`deliveries.state_${state}`) }) : undefined
      }
    />
  );
};

const STATES: Readonly<Record<DeliveryState, ReactNode>> = {
  on: <Play size={13} aria-hidden className="text-pine" />,
  paused: <Pause size={13} aria-hidden className="text-ink-3" />,
  stopped: <TriangleAlert size={13} aria-hidden className="text-rust" />,
};

/** Whether a delivery goes by itself. */
export const StateMark = ({ state }: { state: DeliveryState }) => {
  const { t } = useTranslation();
  return (
    <span className="inline-flex items-center gap-1.5 whitespace-nowrap" data-state={state}>
      {STATES[state]} {t(`deliveries.is_${state}`)}
    </span>
  );
};
