import type { GivenValue, Parameter } from '@gaveta/core/internal';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { ParameterValues } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { Panel } from '../ui/panel.tsx';
import { allWords } from './all-words.ts';
import { ParameterEditor, valueWords } from './parameter-types.tsx';
import type { ChoiceSource } from './use-choices.ts';

interface ChipsProps {
  parameters: readonly Parameter[];
  values: ParameterValues;
  onChange: (name: string, value: GivenValue) => void;
  /** Where choices out of rows are asked for. */
  source?: ChoiceSource | undefined;
  /** Those that were chosen and wait to be run. */
  changed?: Readonly<Record<string, GivenValue>>;
}

/** Parameters as chips, each edited in place. */
export const ParameterChips = ({ parameters, values, onChange, source, changed = {} }: ChipsProps) =>
  parameters
    .filter((p) => !p.hidden && !p.fromHost)
    .map((parameter) => (
      <Chip
        key={parameter.name}
        parameter={parameter}
        values={values}
        value={values[parameter.name] ?? null}
        isChanged={Object.hasOwn(changed, parameter.name)}
        onChange={onChange}
        source={source}
      />
    ));

interface ChipProps extends Pick<ChipsProps, 'values' | 'onChange' | 'source'> {
  parameter: Parameter;
  value: GivenValue;
  /** It waits to be run. */
  isChanged: boolean;
}

const Chip = ({ parameter, value, values, isChanged, onChange, source }: ChipProps) => {
  const { t, i18n } = useTranslation();
  const [open, setOpen] = useState(false);
  const [refused, setRefused] = useState(false);
  const { name, label, help, required } = parameter;
  const effective = value ?? parameter.default ?? null;
  const shown = valueWords(effective, { parameter, t, language: i18n.language });
  const apply = async (next: GivenValue): Promise<void> => {
    // Where it cannot be fetched, the server says what does not fit.
    const reading = await import('./reading.ts').catch(() => null);
    const isFitting = reading?.fits(parameter, next) ?? true;
    setRefused(!isFitting);
    if (!isFitting) return;
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
        <Button
          look="chip"
          data-chip={name}
          className={shown === '' && required ? 'border-rust' : isChanged ? 'border-brass bg-brass-soft/60' : ''}
        >
          {label}{' '}
          <b>
            {shown ||
              (parameter.defaultFormula
                ? t('viewer.byItself')
                : required
                  ? t('viewer.needValue')
                  : allWords(parameter, t))}
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
