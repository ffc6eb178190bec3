import { fitsParameter, PARAMETER_TYPES, type Parameter } from '@gaveta/core';
import { useTranslation } from 'react-i18next';
import { inputLook } from '../ui/controls.tsx';
import { TextBox } from './fields.tsx';

interface ParameterFormProps {
  parameters: readonly Parameter[];
  onChange: (parameters: Parameter[]) => void;
}

/** What a recipe's parameters ask for, what they are called, and what holds without a choice. */
export const ParameterForm = ({ parameters, onChange }: ParameterFormProps) => {
  const { t } = useTranslation();
  if (parameters.length === 0) return null;
  const put = (name: string, next: Parameter | null): void =>
    onChange(parameters.flatMap((p) => (p.name === name ? (next ?? []) : p)));
  return (
    <section aria-label={t('data.parameters')} className="mt-4 ml-6">
      <h2 className="mb-1 font-semibold">{t('data.parameters')}</h2>
      {parameters.map((parameter) => (
        <details key={parameter.name} className="border-t border-rule-soft py-1.5">
          <summary className="cursor-pointer">
            {parameter.label} <span className="text-ink-3">:{parameter.name}</span>
          </summary>
          <One parameter={parameter} onChange={(next) => put(parameter.name, next)} />
        </details>
      ))}
    </section>
  );
};

const One = ({ parameter, onChange }: { parameter: Parameter; onChange: (next: Parameter | null) => void }) => {
  const { t } = useTranslation();
  const { name, type, label } = parameter;
  const shown = Array.isArray(parameter.default) ? parameter.default.join(',') : String(parameter.default ?? '');
  const takesDefault = (value: string): boolean =>
    fitsParameter(
      { name: '', language: 'en', timeZone: 'UTC', parameters: [] },
      { ...parameter, required: false },
      value,
    );
  return (
    <div className="mt-1.5 grid grid-cols-[110px_1fr] items-center gap-1.5">
      <span className="text-ink-2">{t('data.label')}</span>
      <TextBox
        label={`${name}: ${t('data.label')}`}
        value={label}
        onChange={(next) => next.trim() !== '' && onChange({ ...parameter, label: next.trim() })}
      />
      <span className="text-ink-2">{t('data.parameterType')}</span>
      <select
        className={inputLook}
        aria-label={`${name}: ${t('data.parameterType')}`}
        value={type}
        onChange={(event) => {
          // What held for another type may not fit this one.
          const { default: _, sample: __, ...rest } = parameter;
          onChange({ ...rest, type: event.target.value as Parameter['type'] });
        }}
      >
        {PARAMETER_TYPES.map((kind) => (
          <option key={kind} value={kind}>
            {t(`data.type_${kind}`)}
          </option>
        ))}
      </select>
      <span className="text-ink-2">{t('data.parameterDefault')}</span>
      <TextBox
        label={`${name}: ${t('data.parameterDefault')}`}
        placeholder={t('viewer.all')}
        value={shown}
        onChange={(value) => {
          const { default: _, ...rest } = parameter;
          if (value === '') onChange(rest);
          else if (takesDefault(value)) onChange({ ...rest, default: value });
        }}
      />
      <span className="text-ink-2">{t('data.parameterHelp')}</span>
      <TextBox
        label={`${name}: ${t('data.parameterHelp')}`}
        value={parameter.help ?? ''}
        onChange={(help) => {
          const { help: _, ...rest } = parameter;
          onChange(help === '' ? rest : { ...rest, help });
        }}
      />
      <span className="text-ink-2">{t('data.parameterRequired')}</span>
      <input
        type="checkbox"
        className="justify-self-start"
        aria-label={`${name}: ${t('data.parameterRequired')}`}
        checked={parameter.required ?? false}
        onChange={(event) => onChange({ ...parameter, required: event.target.checked })}
      />
      <button type="button" className="justify-self-start text-rust" onClick={() => onChange(null)}>
        {t('data.parameterRemove')}
      </button>
    </div>
  );
};
