import { fitsParameter, freeName, PARAMETER_TYPES, type Parameter, rangeOf } from '@gaveta/core/internal';
import { ArrowUp, Plus } from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Check } from '../ui/commit.tsx';
import { IconButton } from '../ui/controls.tsx';
import { NameBox } from '../ui/name-box.tsx';
import { Select } from '../ui/select.tsx';
import { EntryList, TextBox } from './fields.tsx';
import { swapped } from './lists.ts';

interface ParameterFormProps {
  parameters: readonly Parameter[];
  onChange: (parameters: Parameter[]) => void;
  /** Offers new ones, which a report's own parameters need. */
  canAdd?: boolean;
  /** Changes a name where it is used too; without it the name alone changes. */
  onRename?: (name: string, to: string) => void;
}

/** What parameters ask for, what they are called, and what holds without a choice. */
export const ParameterForm = ({ parameters, onChange, canAdd = false, onRename }: ParameterFormProps) => {
  const { t } = useTranslation();
  const [open, setOpen] = useState<string | null>(null);
  if (parameters.length === 0 && !canAdd) return null;
  const put = (name: string, next: Parameter | null): void => {
    onChange(parameters.flatMap((p) => (p.name === name ? (next ?? []) : p)));
  };
  const add = (): void => {
    const name = freeName('parameter', new Set(parameters.map((p) => p.name)));
    onChange([...parameters, { name, label: t('data.newParameterLabel'), type: 'text' }]);
    setOpen(name);
  };
  return (
    <section aria-label={t('data.parameters')} className={canAdd ? 'mt-2' : 'mt-4 ms-6'}>
      <h2 className={canAdd ? 'mb-1 text-[11px] font-semibold text-ink-2' : 'mb-1 font-semibold'}>
        {t('data.parameters')}
      </h2>
      {parameters.map((parameter, i) => (
        <details
          // biome-ignore lint/suspicious/noArrayIndexKey: a parameter that is renamed stays the same one
          key={i}
          className="border-t border-rule-soft py-1.5"
          open={open === parameter.name}
          onToggle={(event) => {
            if (event.currentTarget.open) setOpen(parameter.name);
            else if (open === parameter.name) setOpen(null);
          }}
        >
          <summary className="cursor-pointer">
            {parameter.label} <span className="text-ink-3">:{parameter.name}</span>
          </summary>
          {i > 0 && (
            <IconButton
              label={t('data.parameterSooner', { name: parameter.label })}
              onClick={() => onChange(swapped(parameters, i, i - 1))}
            >
              <ArrowUp size={13} />
            </IconButton>
          )}
          <One
            parameter={parameter}
            others={parameters.filter((p) => p !== parameter)}
            onChange={(next) => put(parameter.name, next)}
            onRename={(to) => {
              if (onRename) onRename(parameter.name, to);
              else put(parameter.name, { ...parameter, name: to });
              setOpen(to);
            }}
          />
        </details>
      ))}
      {canAdd && (
        <button
          type="button"
          className="mt-1 flex items-center gap-1 rounded px-1 text-pine hover:bg-pine-soft"
          onClick={add}
        >
          <Plus size={12} aria-hidden /> {t('data.addParameter')}
        </button>
      )}
    </section>
  );
};

interface OneProps {
  parameter: Parameter;
  others: readonly Parameter[];
  onChange: (next: Parameter | null) => void;
  onRename: (to: string) => void;
}

const shownValue = (value: Parameter['default']): string =>
  Array.isArray(value) ? value.join(',') : String(value ?? '');

const One = ({ parameter, others, onChange, onRename }: OneProps) => {
  const { t } = useTranslation();
  const { name, type, label } = parameter;
  const [unfit, setUnfit] = useState<{ key: string; value: string } | null>(null);
  const isChoice = type === 'choice' || type === 'choices';
  const expected = rangeOf(parameter)
    ? 'data.expects_range'
    : isChoice
      ? 'data.expects_choice'
      : (`viewer.expected_${type}` as const);
  const fits = (value: string): boolean =>
    fitsParameter(
      { name: '', language: 'en', timeZone: 'UTC', parameters: [] },
      { ...parameter, required: false },
      value,
    );
  const set = (key: keyof Parameter, value: unknown): void => {
    const { [key]: _, ...rest } = parameter;
    onChange((value === undefined || value === '' ? rest : { ...rest, [key]: value }) as Parameter);
  };
  const line = (key: 'default' | 'sample', words: string, placeholder: string) => (
    <>
      <span className="text-ink-2">{words}</span>
      <span className="block min-w-0">
        <TextBox
          label={`${name}: ${words}`}
          placeholder={placeholder}
          value={shownValue(parameter[key])}
          onChange={(value) => {
            const isFit = value === '' || fits(value);
            setUnfit(isFit ? null : { key, value });
            if (isFit) set(key, value);
          }}
        />
        {unfit?.key === key && (
          <span role="alert" className="block text-[11.5px] text-rust">
            {t('data.unfitValue', { value: unfit.value, expected: t(expected) })}
          </span>
        )}
      </span>
    </>
  );
  const plain = (key: 'help' | 'defaultFormula' | 'defaultUntil' | 'asOf', words: string, mono = false) => (
    <>
      <span className="text-ink-2">{words}</span>
      <TextBox
        label={`${name}: ${words}`}
        className={mono ? 'font-mono text-[12px]' : ''}
        value={parameter[key] ?? ''}
        onChange={(value) => set(key, value)}
      />
    </>
  );
  return (
    <div className="mt-1.5 grid grid-cols-[86px_minmax(0,1fr)] items-center gap-1.5">
      <span className="text-ink-2">{t('data.label')}</span>
      <TextBox
        label={`${name}: ${t('data.label')}`}
        value={label}
        onChange={(next) => next.trim() !== '' && set('label', next.trim())}
      />
      <span className="text-ink-2">{t('data.parameterName')}</span>
      <NameBox
        label={`${name}: ${t('data.parameterName')}`}
        value={name}
        taken={others.map((p) => p.name)}
        onRename={onRename}
      />
      <span className="text-ink-2">{t('data.parameterType')}</span>
      <Select
        label={`${name}: ${t('data.parameterType')}`}
        value={type}
        choices={PARAMETER_TYPES.map((kind) => ({ value: kind, label: t(`data.type_${kind}`) }))}
        onPick={(next) => {
          setUnfit(null);
          // What held for another type may not fit this one.
          const { default: _, sample: __, ...rest } = parameter;
          onChange({ ...rest, type: next });
        }}
      />
      {line('default', t('data.parameterDefault'), t('viewer.all'))}
      {line('sample', t('data.parameterSample'), t('data.sampleHelp'))}
      {isChoice && !parameter.choicesFrom && (
        <div className="col-span-2">
          <EntryList
            items={parameter.choices ?? []}
            onChange={(choices) => set('choices', choices.length > 0 ? choices : undefined)}
            add={t('data.addChoice')}
            make={() => ({ value: '', label: '' })}
            name={(choice) => choice.label || choice.value}
          >
            {(choice, change) => (
              <>
                <TextBox
                  label={t('data.choiceValue')}
                  placeholder={t('data.choiceValue')}
                  value={choice.value}
                  onChange={(value) => change({ value, label: choice.label || value })}
                />
                <TextBox
                  label={t('data.choiceLabel')}
                  placeholder={t('data.choiceLabel')}
                  value={choice.label}
                  onChange={(next) => change({ ...choice, label: next })}
                />
              </>
            )}
          </EntryList>
        </div>
      )}
      {isChoice && (
        <>
          <span className="text-ink-2">{t('data.valuesAre')}</span>
          <Select
            label={`${name}: ${t('data.valuesAre')}`}
            value={parameter.of ?? 'text'}
            choices={(['text', 'number'] as const).map((of) => ({ value: of, label: t(`data.values_${of}`) }))}
            onPick={(of) => set('of', of === 'number' ? 'number' : undefined)}
          />
        </>
      )}
      {isChoice && <ChoicesFrom parameter={parameter} set={set} />}
      {plain('help', t('data.parameterHelp'))}
      {plain('defaultFormula', t('data.parameterDefaultFormula'), true)}
      {rangeOf(parameter) && plain('defaultUntil', t('data.parameterDefaultUntil'), true)}
      {type === 'window' && plain('asOf', t('data.parameterAsOf'), true)}
      {type === 'window' && <Windows parameter={parameter} set={set} />}
      <span className="col-span-2 flex flex-wrap gap-x-3">
        {(['required', 'hidden', 'fromHost'] as const).map((key) => (
          <Check
            key={key}
            label={t(`data.parameter_${key}`)}
            checked={parameter[key] ?? false}
            onChange={(on) => set(key, on || undefined)}
          />
        ))}
      </span>
      <button type="button" className="col-span-2 justify-self-start text-rust" onClick={() => onChange(null)}>
        {t('data.parameterRemove')}
      </button>
    </div>
  );
};

/** Stretches of time that are offered by name besides the usual ones: from a formula until before another, or until now. */
const Windows = ({ parameter, set }: { parameter: Parameter; set: (key: keyof Parameter, value: unknown) => void }) => {
  const { t } = useTranslation();
  const list = parameter.windows ?? [];
  return (
    <div className="col-span-2">
      <span className="text-ink-2">{t('data.windows')}</span>
      <EntryList
        items={list}
        onChange={(windows) => set('windows', windows.length > 0 ? windows : undefined)}
        add={t('data.addWindow')}
        make={(): NonNullable<Parameter['windows']>[number] => ({
          value: freeName('stretch', new Set(list.map((w) => w.value))),
          label: t('data.newWindow'),
          from: 'TODAY() - 1',
        })}
        name={(one) => one.label}
      >
        {(one, change) => (
          <span className="flex min-w-0 flex-1 flex-col gap-1 border-s-2 border-brass-soft ps-2">
            <TextBox
              label={t('data.windowLabel')}
              value={one.label}
              onChange={(label) => label.trim() !== '' && change({ ...one, label: label.trim() })}
            />
            <TextBox
              label={t('data.windowFrom')}
              className="font-mono text-[12px]"
              value={one.from}
              onChange={(from) => from.trim() !== '' && change({ ...one, from })}
            />
            <TextBox
              label={t('data.windowUntil')}
              placeholder={t('data.windowUntil')}
              className="font-mono text-[12px]"
              value={one.until ?? ''}
              onChange={(until) => {
                const { until: _, ...rest } = one;
                change(until.trim() === '' ? rest : { ...rest, until });
              }}
            />
          </span>
        )}
      </EntryList>
    </div>
  );
};

/** Choices out of rows: of which table, by which field, shown how, and under which condition. */
const ChoicesFrom = ({
  parameter,
  set,
}: {
  parameter: Parameter;
  set: (key: keyof Parameter, value: unknown) => void;
}) => {
  const { t } = useTranslation();
  const from = parameter.choicesFrom;
  const put = (key: 'rows' | 'value' | 'label' | 'where', text: string): void => {
    const next = { rows: '', value: '', ...from, [key]: text.trim() };
    if (next.label === '') delete next.label;
    if (next.where === '') delete next.where;
    set('choicesFrom', next.rows === '' && next.value === '' ? undefined : next);
  };
  return (['rows', 'value', 'label', 'where'] as const).map((key) => (
    <span key={key} className="contents">
      <span className="text-ink-2">{t(`data.choices_${key}`)}</span>
      <TextBox
        label={`${parameter.name}: ${t(`data.choices_${key}`)}`}
        className="font-mono text-[12px]"
        value={from?.[key] ?? ''}
        onChange={(text) => put(key, text)}
      />
    </span>
  ));
};
