import {
  fitsParameter,
  type GivenValue,
  PARAMETER_TYPES,
  type Parameter,
  type ParameterType,
  rangeOf,
} from '@gaveta/core/internal';
import { useMemo, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Check } from '../../ui/commit.tsx';
import { NameBox } from '../../ui/name-box.tsx';
import { Select } from '../../ui/select.tsx';
import { TextBox } from '../fields.tsx';
import { type ChoiceHome, ChoicesEditor } from './choices-editor.tsx';
import { PlainFormula } from './plain-formula.tsx';
import { ValueBox } from './value-box.tsx';
import { WindowsEditor } from './windows-editor.tsx';

interface OneProps {
  parameter: Parameter;
  others: readonly Parameter[];
  home: ChoiceHome | null;
  onChange: (next: Parameter | null) => void;
  onRename: (to: string) => void;
}

/** Types whose values are typed; those of the others are chosen. */
const isTyped = (type: ParameterType): boolean => type === 'text' || type === 'number';

/** What one parameter asks for, its values, and what it can be chosen from. */
export const OneParameter = ({ parameter, others, home, onChange, onRename }: OneProps) => {
  const { t } = useTranslation();
  const { name, type, label } = parameter;
  const [unfit, setUnfit] = useState<{ key: string; value: string } | null>(null);
  const isChoice = type === 'choice' || type === 'choices';
  /** What the others are tried with. */
  const values = useMemo(
    () => Object.fromEntries(others.map((p) => [p.name, (p.sample ?? p.default ?? null) as GivenValue])),
    [others],
  );
  const source = useMemo(() => home && { definition: home.report }, [home]);
  const set = (key: keyof Parameter, value: unknown): void => {
    const { [key]: _, ...rest } = parameter;
    onChange((value === undefined || value === '' ? rest : { ...rest, [key]: value }) as Parameter);
  };
  const fits = (value: string): boolean =>
    fitsParameter(
      { name: '', language: 'en', timeZone: 'UTC', parameters: [] },
      { ...parameter, required: false },
      value,
    );
  const value = (key: 'default' | 'sample', words: string, placeholder: string) => (
    <>
      <span className="text-ink-2">{words}</span>
      {isTyped(type) ? (
        <span className="block min-w-0">
          <TextBox
            label={`${name}: ${words}`}
            placeholder={placeholder}
            value={String(parameter[key] ?? '')}
            onChange={(typed) => {
              const isFit = typed === '' || fits(typed);
              setUnfit(isFit ? null : { key, value: typed });
              if (isFit) set(key, typed);
            }}
          />
          {unfit?.key === key && (
            <span role="alert" className="block text-[11.5px] text-rust">
              {t('data.unfitValue', { value: unfit.value, expected: t(`viewer.expected_${type}`) })}
            </span>
          )}
        </span>
      ) : (
        <ValueBox
          label={`${name}: ${words}`}
          parameter={parameter}
          value={parameter[key]}
          placeholder={placeholder}
          values={values}
          source={source ?? undefined}
          onChange={(chosen) => set(key, chosen)}
        />
      )}
    </>
  );
  const plain = (key: 'help' | 'allLabel', words: string, placeholder?: string) => (
    <>
      <span className="text-ink-2">{words}</span>
      <TextBox
        label={`${name}: ${words}`}
        placeholder={placeholder}
        value={parameter[key] ?? ''}
        onChange={(text) => set(key, text.trim())}
      />
    </>
  );
  const formula = (key: 'defaultFormula' | 'defaultUntil' | 'asOf', words: string) => (
    <>
      <span className="text-ink-2">{words}</span>
      <PlainFormula
        label={`${name}: ${words}`}
        parameters={others}
        value={parameter[key] ?? ''}
        onChange={(text) => set(key, text.trim())}
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
      {isChoice && (
        <ChoicesEditor parameter={parameter} others={others} home={home} values={values} onChange={onChange} />
      )}
      {value('default', t('data.parameterDefault'), parameter.allLabel ?? t('viewer.all'))}
      {value('sample', t('data.parameterSample'), t('data.sampleHelp'))}
      {!parameter.required && plain('allLabel', t('data.parameterAll'), t('viewer.all'))}
      {plain('help', t('data.parameterHelp'))}
      {formula('defaultFormula', t('data.parameterDefaultFormula'))}
      {rangeOf(parameter) && formula('defaultUntil', t('data.parameterDefaultUntil'))}
      {type === 'window' && formula('asOf', t('data.parameterAsOf'))}
      {type === 'window' && <WindowsEditor parameter={parameter} others={others} set={set} />}
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
