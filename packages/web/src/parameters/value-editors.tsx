import {
  type GivenValue,
  isUsualWindow,
  joinChoices,
  type Parameter,
  splitChoices,
  splitRange,
  USUAL_WINDOWS,
} from '@gaveta/core/internal';
import { useState } from 'react';
import type { ParameterValues } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { allWords } from './all-words.ts';
import { type ChoiceSource, useChoices } from './use-choices.ts';

export interface ParameterEditorProps {
  parameter: Parameter;
  /** What holds now: given, or by default. */
  value: GivenValue;
  /** Of the other parameters, which choices may follow. */
  values: ParameterValues;
  source: ChoiceSource | undefined;
  /** What taking a value over is called, where it runs no report. */
  applyWords?: string;
  onApply: (value: GivenValue) => void;
}

/** A box to type one value in. */
export const Single = ({ parameter, value, applyWords, onApply }: ParameterEditorProps) => {
  const { t } = useTranslation();
  const [draft, setDraft] = useState(String(value ?? ''));
  const { type, label } = parameter;
  return (
    <form
      className="flex gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onApply(draft);
      }}
    >
      <input
        className={inputLook}
        aria-label={label}
        type={type === 'date' ? 'date' : 'text'}
        inputMode={type === 'number' ? 'decimal' : undefined}
        value={draft}
        onChange={(event) => setDraft(event.target.value)}
      />
      <Button look="primary" type="submit">
        {applyWords ?? t('viewer.apply')}
      </Button>
    </form>
  );
};

export const YesNo = ({ parameter, value, onApply }: ParameterEditorProps) => {
  const { t } = useTranslation();
  const choices = [
    ...(parameter.required || parameter.default !== undefined ? [] : [{ value: '', label: allWords(parameter, t) }]),
    { value: 'true', label: t('data.yes') },
    { value: 'false', label: t('data.no') },
  ];
  return <Offered label={parameter.label} choices={choices} chosen={[String(value ?? '')]} onPick={onApply} />;
};

interface OfferedProps {
  label: string;
  choices: readonly { value: string; label: string }[];
  chosen: readonly string[];
  many?: boolean;
  onPick: (value: string) => void;
}

const Offered = ({ label, choices, chosen, many = false, onPick }: OfferedProps) => (
  <div role="listbox" aria-label={label} aria-multiselectable={many} className="max-h-72 overflow-auto">
    {choices.map((choice) => {
      const isChosen = chosen.includes(choice.value);
      return (
        <button
          key={choice.value}
          type="button"
          role="option"
          aria-selected={isChosen}
          className={`flex min-h-7 w-full items-center gap-2 rounded px-2 py-0.5 text-start hover:bg-desk/60 ${isChosen && !many ? 'bg-pine-soft font-semibold' : ''}`}
          onClick={() => onPick(choice.value)}
        >
          {many && (
            <span
              aria-hidden
              className={`grid size-3.5 flex-none place-items-center rounded-sm border text-[10px] text-on-accent ${isChosen ? 'border-pine bg-pine' : 'border-rule'}`}
            >
              {isChosen ? '✓' : ''}
            </span>
          )}
          {choice.label}
        </button>
      );
    })}
  </div>
);

/** More choices than this are searched. */
const MANY = 8;

const useSearched = ({ parameter, values, source }: ParameterEditorProps) => {
  const { t } = useTranslation();
  const [search, setSearch] = useState('');
  const { choices, more, isLoading, failure } = useChoices(parameter, values, search, source);
  const box = (choices.length > MANY || search !== '' || more) && (
    <input
      type="search"
      className={`${inputLook} mb-1.5`}
      aria-label={t('viewer.findIn', { name: parameter.label })}
      placeholder={t('viewer.findIn', { name: parameter.label })}
      value={search}
      onChange={(event) => setSearch(event.target.value)}
    />
  );
  const note =
    failure ??
    (isLoading
      ? t('app.loading')
      : choices.length === 0
        ? t('viewer.noChoices')
        : more
          ? t('viewer.moreChoices')
          : null);
  return { choices, box, note: note && <p className="px-2 py-1 text-ink-3">{note}</p>, search };
};

export const OneChoice = (props: ParameterEditorProps) => {
  const { t } = useTranslation();
  const { parameter, value, onApply } = props;
  const { choices, box, note, search } = useSearched(props);
  const all = parameter.required || search !== '' ? [] : [{ value: '', label: allWords(parameter, t) }];
  return (
    <>
      {box}
      <Offered label={parameter.label} choices={[...all, ...choices]} chosen={[String(value ?? '')]} onPick={onApply} />
      {note}
    </>
  );
};

export const ManyChoices = (props: ParameterEditorProps) => {
  const { t } = useTranslation();
  const { parameter, value, applyWords, onApply } = props;
  const { choices, box, note } = useSearched(props);
  const [chosen, setChosen] = useState<readonly string[]>(value === null || value === '' ? [] : splitChoices(value));
  const toggle = (one: string): void =>
    setChosen((old) => (old.includes(one) ? old.filter((v) => v !== one) : [...old, one]));
  return (
    <>
      {box}
      <Offered label={parameter.label} choices={choices} chosen={chosen} many onPick={toggle} />
      {note}
      <div className="mt-2 flex items-center gap-2 border-t border-rule-soft pt-2">
        <Button look="quiet" onClick={() => onApply(null)}>
          {allWords(parameter, t)}
        </Button>
        <span className="flex-1 text-ink-3">{chosen.length > 0 && t('viewer.chosen', { count: chosen.length })}</span>
        <Button
          look="primary"
          disabled={parameter.required && chosen.length === 0}
          onClick={() => onApply(joinChoices(chosen))}
        >
          {applyWords ?? t('viewer.apply')}
        </Button>
      </div>
    </>
  );
};

const Range = ({
  parameter,
  value,
  input,
  applyWords,
  onApply,
}: ParameterEditorProps & { input: 'date' | 'datetime-local' }) => {
  const { t } = useTranslation();
  const [ends, setEnds] = useState<[string, string]>(splitRange(String(value ?? '')) ?? ['', '']);
  const isWrong = ends[0] !== '' && ends[1] !== '' && ends[0] > ends[1];
  return (
    <form
      className="flex flex-col gap-1.5"
      onSubmit={(event) => {
        event.preventDefault();
        onApply(ends[0] === '' && ends[1] === '' ? null : `${ends[0]}..${ends[1]}`);
      }}
    >
      {([0, 1] as const).map((i) => (
        <label key={i} className="grid grid-cols-[52px_1fr] items-center gap-2">
          <span className="text-ink-2">{t(i === 0 ? 'data.from' : 'data.until')}</span>
          <input
            className={inputLook}
            aria-label={`${parameter.label}, ${t(i === 0 ? 'data.from' : 'data.until')}`}
            type={input}
            value={ends[i]}
            onChange={(event) => setEnds(i === 0 ? [event.target.value, ends[1]] : [ends[0], event.target.value])}
          />
        </label>
      ))}
      <div className="flex items-center gap-2">
        {isWrong && <span className="text-rust">{t('viewer.rangeTurned')}</span>}
        <span className="flex-1" />
        <Button look="primary" type="submit" disabled={isWrong}>
          {applyWords ?? t('viewer.apply')}
        </Button>
      </div>
    </form>
  );
};

export const DateRange = (props: ParameterEditorProps) => <Range {...props} input="date" />;

export const TimeWindow = (props: ParameterEditorProps) => {
  const { t } = useTranslation();
  const { parameter, value, onApply } = props;
  const usual = Object.keys(USUAL_WINDOWS)
    .filter(isUsualWindow)
    .map((name) => ({ value: name, label: t(`viewer.window_${name}`) }));
  const own = (parameter.windows ?? []).map(({ value: name, label }) => ({ value: name, label }));
  return (
    <>
      <Offered label={parameter.label} choices={[...usual, ...own]} chosen={[String(value ?? '')]} onPick={onApply} />
      <p className="mt-2 mb-1 border-t border-rule-soft pt-2 text-ink-2">{t('viewer.ownWindow')}</p>
      <Range {...props} input="datetime-local" />
    </>
  );
};
