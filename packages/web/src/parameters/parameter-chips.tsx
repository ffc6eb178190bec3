import { fitsParameter, type GivenValue, isUsualWindow, type Parameter, splitRange } from '@gaveta/core';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { useTranslation } from 'react-i18next';
import type { ParameterValues } from '../api/client.ts';
import { Button } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { ParameterEditor } from './parameter-editor.tsx';
import type { ChoiceSource } from './use-choices.ts';

interface ChipsProps {
  parameters: readonly Parameter[];
  values: ParameterValues;
  onChange: (name: string, value: GivenValue) => void;
  /** Where choices out of rows are asked for. */
  source?: ChoiceSource | undefined;
  /** Back to what holds when nothing is chosen. */
  onReset?: (() => void) | undefined;
}

/** The parameters as chips above the page, each edited in place. */
export const ParameterChips = ({ parameters, values, onChange, source, onReset }: ChipsProps) => {
  const { t } = useTranslation();
  const shown = parameters.filter((p) => !p.hidden && !p.fromHost);
  if (shown.length === 0) return null;
  return (
    <nav
      aria-label={t('viewer.parameters')}
      className="flex flex-wrap items-center gap-2 border-b border-rule px-3.5 py-2"
    >
      {shown.map((parameter) => (
        <Chip
          key={parameter.name}
          parameter={parameter}
          values={values}
          value={values[parameter.name] ?? null}
          onChange={onChange}
          source={source}
        />
      ))}
      {onReset && shown.some((p) => values[p.name] !== undefined) && (
        <button type="button" className="rounded px-1.5 text-ink-3 hover:text-pine" onClick={onReset}>
          {t('viewer.startOver')}
        </button>
      )}
    </nav>
  );
};

interface ChipProps extends Pick<ChipsProps, 'values' | 'onChange' | 'source'> {
  parameter: Parameter;
  value: GivenValue;
}

const Chip = ({ parameter, value, values, onChange, source }: ChipProps) => {
  const { t } = useTranslation();
  const [open, setOpen] = useState(false);
  const [refused, setRefused] = useState(false);
  const { name, label, help, required } = parameter;
  const effective = value ?? parameter.default ?? null;
  const shown = useShownValue(parameter, effective);
  const apply = (next: GivenValue): void => {
    const fits = fitsParameter({ name: '', language: 'en', timeZone: 'UTC', parameters: [] }, parameter, next);
    setRefused(!fits);
    if (!fits) return;
    setOpen(false);
    onChange(name, next === '' || (Array.isArray(next) && next.length === 0) ? null : next);
  };
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setRefused(false);
      }}
    >
      <Popover.Trigger asChild>
        <Button look="chip" className={shown === '' && required ? 'border-rust' : ''}>
          {label}{' '}
          <b>
            {shown ||
              (parameter.defaultFormula ? t('viewer.byItself') : required ? t('viewer.needValue') : t('viewer.all'))}
          </b>
        </Button>
      </Popover.Trigger>
      <Panel label={label} align="start" className="w-72 p-3">
        {help && <p className="mb-2 text-ink-3">{help}</p>}
        <ParameterEditor parameter={parameter} value={effective} values={values} source={source} onApply={apply} />
        {refused && (
          <p role="alert" className="mt-2 text-rust">
            {t(`viewer.expected_${parameter.type}`)}
          </p>
        )}
      </Panel>
    </Popover.Root>
  );
};

/** A value as its chip says it. */
const useShownValue = (parameter: Parameter, value: GivenValue): string => {
  const { t, i18n } = useTranslation();
  if (value === null || value === '') return '';
  const { type, choices } = parameter;
  const label = (one: string): string => choices?.find((c) => c.value === one)?.label ?? one;
  const day = (text: string): string => {
    const date = new Date(text.length === 10 ? `${text}T00:00` : text);
    return Number.isNaN(date.getTime()) ? text : date.toLocaleDateString(i18n.language, { dateStyle: 'medium' });
  };
  switch (type) {
    case 'choices': {
      const list = Array.isArray(value) ? value.map(String) : String(value).split(',');
      return list.length > 2 ? t('viewer.chosen', { count: list.length }) : list.map(label).join(', ');
    }
    case 'choice':
      return label(String(value));
    case 'boolean':
      return t(String(value) === 'true' ? 'data.yes' : 'data.no');
    case 'date':
      return day(String(value));
    case 'dates':
    case 'window': {
      const text = String(value);
      const usual = isUsualWindow(text)
        ? t(`viewer.window_${text}`)
        : parameter.windows?.find((w) => w.value === text)?.label;
      if (type === 'window' && usual) return usual;
      const ends = splitRange(text);
      return ends ? ends.map((end) => (end === '' ? '…' : day(end))).join(' – ') : text;
    }
    case 'text':
    case 'number':
      return String(value);
    default:
      return type satisfies never;
  }
};
