import {
  type ChosenField,
  type Entity,
  type Model,
  PAPERS,
  type PageSetup,
  type SetPlace,
} from '@gaveta/core/internal';
import { useState } from 'react';
import { useThemes } from '../api/use-themes.ts';
import { themeLabel } from '../i18n/theme-label.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Check } from '../ui/commit.tsx';
import { Button, inputLook } from '../ui/controls.tsx';
import type { Pick } from '../ui/pick.tsx';
import { Select } from '../ui/select.tsx';
import { StickyEnd } from '../ui/sticky-end.tsx';
import { type GuidedDraft, offeredFields, pageOf, type RowsChoice, themeOf } from './choices.ts';
import { GroupsStep, keyOf, type StepProps } from './groups-step.tsx';

const STEPS = ['rows', 'fields', 'groups', 'page', 'look'] as const;
/** A further set of rows stands on the pages of the first, in its look. */
const FURTHER = ['rows', 'fields', 'groups'] as const;
type StepName = (typeof STEPS)[number];

interface GuidedProps {
  choices: readonly RowsChoice[];
  rows: RowsChoice | null;
  onRows: (rows: RowsChoice) => void;
  found: { model: Model; entity: Entity } | null;
  draft: GuidedDraft;
  onDraft: (draft: GuidedDraft) => void;
  onDone: () => void;
  isBusy: boolean;
  /** Whether these questions are about a further set of rows. */
  isFurther: boolean;
  /** Goes on with another set of rows after this one. */
  onAnother: (place: SetPlace) => void;
  /** Gives the further set up. */
  onWithout: () => void;
}

/** Five questions; each can be gone back to, and the page beside them shows what has been answered. */
export const GuidedSteps = (props: GuidedProps) => {
  const { rows, found, draft, onDraft, onDone, isBusy, isFurther, onAnother, onWithout } = props;
  const { t } = useTranslation();
  const [step, setStep] = useState<StepName>('rows');
  const steps: readonly StepName[] = isFurther ? FURTHER : STEPS;
  const at = steps.indexOf(step);
  const canGo = (to: StepName): boolean =>
    to === 'rows' || (found !== null && (to === 'fields' || draft.fields.length > 0));
  const next = steps[at + 1];
  const another = (place: SetPlace): void => {
    onAnother(place);
    setStep('rows');
  };
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <ol className="mb-3 flex gap-1" aria-label={t('start.steps')}>
        {steps.map((name, i) => (
          <li key={name} className="flex-1">
            <button
              type="button"
              aria-current={name === step ? 'step' : undefined}
              disabled={!canGo(name)}
              className={`w-full border-b-2 px-1 pb-1 text-start disabled:opacity-45 ${name === step ? 'border-pine font-semibold text-pine' : i < at ? 'border-brass' : 'border-rule'}`}
              onClick={() => setStep(name)}
            >
              {i + 1} {t(`start.step_${name}`)}
            </button>
          </li>
        ))}
      </ol>
      <div className="min-h-0 flex-1 overflow-auto pe-1">
        {step === 'rows' && <RowsStep {...props} />}
        {step === 'fields' && found && <FieldsStep found={found} draft={draft} onDraft={onDraft} />}
        {step === 'groups' && rows && found && <GroupsStep rows={rows} found={found} draft={draft} onDraft={onDraft} />}
        {step === 'page' && <PageStep draft={draft} onDraft={onDraft} />}
        {step === 'look' && <LookStep draft={draft} onDraft={onDraft} rows={rows} />}
      </div>
      <StickyEnd>
        <div className="flex gap-2">
          <Button disabled={at === 0} onClick={() => setStep(steps[at - 1]!)}>
            {t('start.back')}
          </Button>
          {next ? (
            <Button look="primary" disabled={!canGo(next)} onClick={() => setStep(next)}>
              {t('start.next')}
            </Button>
          ) : (
            <Button look="primary" disabled={isBusy} onClick={onDone}>
              {t('start.make')}
            </Button>
          )}
          {next && draft.fields.length > 0 && (
            <Button className="ms-auto" disabled={isBusy} onClick={onDone}>
              {t('start.makeNow')}
            </Button>
          )}
        </div>
        <div className="mt-2 flex flex-wrap items-center gap-2">
          {draft.fields.length > 0 && (
            <>
              <span className="text-ink-2">{t('start.another')}</span>
              {(['below', 'beside'] as const).map((place) => (
                <Button key={place} disabled={isBusy} onClick={() => another(place)}>
                  {t(`start.another_${place}`)}
                </Button>
              ))}
            </>
          )}
          {isFurther && (
            <Button
              look="quiet"
              className="ms-auto"
              onClick={() => {
                onWithout();
                setStep('fields');
              }}
            >
              {t('start.without')}
            </Button>
          )}
        </div>
      </StickyEnd>
    </div>
  );
};

/** Which table or recipe the rows come from. */
export const RowsStep = ({ choices, rows, onRows }: Pick<GuidedProps, 'choices' | 'rows' | 'onRows'>) => {
  const { t } = useTranslation();
  const [find, setFind] = useState('');
  const shown = choices.filter((c) => `${c.label} ${c.from}`.toLowerCase().includes(find.toLowerCase()));
  return (
    <>
      <input
        type="search"
        className={`${inputLook} mb-2`}
        placeholder={t('start.findRows')}
        aria-label={t('start.findRows')}
        value={find}
        onChange={(event) => setFind(event.target.value)}
      />
      {shown.length === 0 && <p className="text-ink-3">{t('start.noRows')}</p>}
      <ul>
        {shown.map((choice) => (
          <li key={choice.id}>
            <button
              type="button"
              aria-pressed={rows?.id === choice.id}
              className={`flex w-full items-baseline gap-2 rounded px-2 py-1 text-start ${rows?.id === choice.id ? 'bg-pine-soft font-semibold' : 'hover:bg-pine-soft/60'}`}
              onClick={() => onRows(choice)}
            >
              {choice.label} <span className="ms-auto text-[11.5px] font-normal text-ink-2">{choice.from}</span>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
};

/** Which fields, in the order in which they are ticked. */
const FieldsStep = ({ found, draft, onDraft }: StepProps & { found: { model: Model; entity: Entity } }) => {
  const { t } = useTranslation();
  const chosen = draft.fields.map(keyOf);
  const put = (fields: ChosenField[]): void =>
    onDraft({
      ...draft,
      fields,
      totals: Object.fromEntries(
        Object.entries(draft.totals).filter(([path]) => fields.some((f) => keyOf(f) === path)),
      ),
    });
  return (
    <>
      {offeredFields(found.model, found.entity).map((part, i) => (
        <fieldset key={part.label} className="mb-2">
          <legend className="flex w-full items-center gap-2 font-semibold">
            {part.label}
            {i === 0 && (
              <button
                type="button"
                className="ms-auto rounded px-1 font-normal text-pine hover:bg-pine-soft"
                onClick={() => put(draft.fields.length >= part.fields.length ? [] : part.fields)}
              >
                {t(draft.fields.length >= part.fields.length ? 'start.none' : 'start.all')}
              </button>
            )}
          </legend>
          <div className="grid grid-cols-2">
            {part.fields.map((field) => {
              const at = chosen.indexOf(keyOf(field));
              return (
                <label
                  key={keyOf(field)}
                  className="flex items-center gap-1.5 rounded px-1 py-0.5 hover:bg-pine-soft/60"
                >
                  <input
                    type="checkbox"
                    checked={at >= 0}
                    onChange={() =>
                      put(at >= 0 ? draft.fields.filter((f) => keyOf(f) !== keyOf(field)) : [...draft.fields, field])
                    }
                  />
                  <span className="truncate">{field.field.label}</span>
                  {at >= 0 && <span className="ms-auto text-[11px] text-ink-3">{at + 1}</span>}
                </label>
              );
            })}
          </div>
        </fieldset>
      ))}
    </>
  );
};

interface RadioListProps<V extends string> {
  label: string;
  choices: readonly { value: V; label: string }[];
  value: V;
  onPick: (value: V) => void;
}

const RadioList = <V extends string>({ label, choices, value, onPick }: RadioListProps<V>) => (
  <fieldset className="mb-3">
    <legend className="mb-1 font-semibold">{label}</legend>
    {choices.map((choice) => (
      <label key={choice.value} className="flex items-center gap-1.5 py-0.5">
        <input type="radio" name={label} checked={choice.value === value} onChange={() => onPick(choice.value)} />
        {choice.label}
      </label>
    ))}
  </fieldset>
);

const LAYOUTS = ['columns', 'form', 'crosstab'] as const;
const ORIENTATIONS = ['portrait', 'landscape'] as const;

/** Columns or a form, and the paper; columns always fit it. */
const PageStep = ({ draft, onDraft }: StepProps) => {
  const { t } = useTranslation();
  const now = pageOf(draft, useThemes());
  const page = (change: Partial<PageSetup>): void => onDraft({ ...draft, page: { ...now, ...change } });
  return (
    <>
      <RadioList
        label={t('start.layout')}
        choices={LAYOUTS.map((value) => ({ value, label: t(`start.layout_${value}`) }))}
        value={draft.layout}
        onPick={(layout) => onDraft({ ...draft, layout })}
      />
      <div className="mb-3">
        <Check label={t('start.chart')} checked={draft.chart} onChange={(chart) => onDraft({ ...draft, chart })} />
      </div>
      <RadioList
        label={t('start.orientation')}
        choices={ORIENTATIONS.map((value) => ({ value, label: t(`start.orientation_${value}`) }))}
        value={now.orientation}
        onPick={(orientation) => page({ orientation })}
      />
      <div className="font-semibold">
        {t('page.paper')}
        <span className="mt-1 block font-normal">
          <Select
            label={t('page.paper')}
            value={now.paper}
            choices={Object.keys(PAPERS).map((value) => ({ value, label: value }))}
            onPick={(paper) => page({ paper })}
          />
        </span>
      </div>
    </>
  );
};

const LookStep = ({ draft, onDraft, rows }: StepProps & { rows: RowsChoice | null }) => {
  const { t } = useTranslation();
  const themes = useThemes();
  const chosen = themeOf(draft, themes).name;
  return (
    <>
      <label className="mb-3 block font-semibold">
        {t('start.title')}
        <input
          className={`${inputLook} mt-1 font-normal`}
          value={draft.title ?? rows?.label ?? ''}
          maxLength={200}
          onChange={(event) => onDraft({ ...draft, title: event.target.value || null })}
        />
      </label>
      <fieldset>
        <legend className="mb-1 font-semibold">{t('report.theme')}</legend>
        <div className="grid grid-cols-2 gap-1.5">
          {themes.all.map((theme) => (
            <button
              key={theme.name}
              type="button"
              aria-pressed={chosen === theme.name}
              className={`rounded border bg-white px-2 py-1.5 text-start ${chosen === theme.name ? 'border-2 border-pine' : 'border-rule'}`}
              style={{ fontFamily: `'${theme.styles.title.font}'`, color: theme.styles.title.color }}
              onClick={() => onDraft({ ...draft, theme: theme.name })}
            >
              {themeLabel(t, theme)}
            </button>
          ))}
        </div>
      </fieldset>
    </>
  );
};
