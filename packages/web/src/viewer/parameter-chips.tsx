import type { Parameter } from '@gaveta/core';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useTranslation } from 'react-i18next';
import type { ParameterValues } from '../api/client.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';

interface ChipsProps {
  parameters: readonly Parameter[];
  values: ParameterValues;
  onChange: (name: string, value: string | number | null) => void;
}

/** The parameters as chips above the page, each edited in place. */
export const ParameterChips = ({ parameters, values, onChange }: ChipsProps) => {
  const { t } = useTranslation();
  if (parameters.length === 0) return null;
  return (
    <nav
      aria-label={t('viewer.parameters')}
      className="flex flex-wrap items-center gap-2 border-b border-rule px-3.5 py-2"
    >
      {parameters.map((parameter) => (
        <Chip key={parameter.name} parameter={parameter} value={values[parameter.name] ?? null} onChange={onChange} />
      ))}
    </nav>
  );
};

const shownValue = (parameter: Parameter, value: string | number | null): string => {
  const effective = value ?? parameter.default ?? null;
  if (effective === null || effective === '') return '';
  return parameter.choices?.find((c) => c.value === String(effective))?.label ?? String(effective);
};

interface ChipProps {
  parameter: Parameter;
  value: string | number | null;
  onChange: ChipsProps['onChange'];
}

const Chip = ({ parameter, value, onChange }: ChipProps) => {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const [draft, setDraft] = useState('');
  const { name, label, help, type, choices, required } = parameter;
  const shown = shownValue(parameter, value);
  const apply = (next: string): void => {
    setOpen(false);
    onChange(name, next === '' ? null : next);
  };
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setDraft(String(value ?? parameter.default ?? ''));
      }}
    >
      <Popover.Trigger asChild>
        <Button look="chip" className={shown === '' && required ? 'border-rust' : ''}>
          {label} <b>{shown || (required ? t('viewer.needValue') : t('viewer.all'))}</b>
        </Button>
      </Popover.Trigger>
      <Panel align="start" className="w-64 p-3">
        <form
          onSubmit={(event) => {
            event.preventDefault();
            apply(draft);
          }}
        >
          {help && <p className="mb-2 text-ink-3">{help}</p>}
          {type === 'choice' ? (
            <div role="listbox" aria-label={label} className="max-h-72 overflow-auto">
              {[...(required ? [] : [{ value: '', label: t('viewer.all') }]), ...(choices ?? [])].map((choice) => (
                <button
                  key={choice.value}
                  type="button"
                  role="option"
                  aria-selected={draft === choice.value}
                  className={`block h-7 w-full rounded px-2 text-left hover:bg-desk/60 ${draft === choice.value ? 'bg-pine-soft font-semibold' : ''}`}
                  onClick={() => apply(choice.value)}
                >
                  {choice.label}
                </button>
              ))}
            </div>
          ) : (
            <div className="flex gap-2">
              <input
                className={inputLook}
                aria-label={label}
                type={type === 'date' ? 'date' : 'text'}
                inputMode={type === 'number' ? 'decimal' : undefined}
                value={draft}
                onChange={(event) => setDraft(event.target.value)}
              />
              <Button look="primary" type="submit">
                {t('viewer.apply')}
              </Button>
            </div>
          )}
        </form>
      </Panel>
    </Popover.Root>
  );
};
