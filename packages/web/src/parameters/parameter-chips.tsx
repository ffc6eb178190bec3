import { fitsParameter, type GivenValue, type Parameter } from '@gaveta/core/internal';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { ParameterValues } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { ParameterEditor, valueWords } from './parameter-types.tsx';
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
  const { t, i18n } = useTranslation();
  const [open, setOpen] = useState(false);
  const [refused, setRefused] = useState(false);
  const { name, label, help, required } = parameter;
  const effective = value ?? parameter.default ?? null;
  const shown = valueWords(effective, { parameter, t, language: i18n.language });
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
