import { type GivenValue, type Parameter, splitChoices } from '@gaveta/core/internal';
import { X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import type { ParameterValues } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ParameterEditor, valueWords } from '../../parameters/parameter-types.tsx';
import type { ChoiceSource } from '../../parameters/use-choices.ts';
import { IconButton, inputLook } from '../../ui/controls.tsx';
import { Panel } from '../../ui/panel.tsx';

interface ValueBoxProps {
  label: string;
  parameter: Parameter;
  value: Parameter['default'];
  /** What is shown where there is none. */
  placeholder: string;
  /** Of the other parameters. */
  values: ParameterValues;
  source: ChoiceSource | undefined;
  onChange: (value: Parameter['default'] | undefined) => void;
}

/** A value of a parameter, chosen in the way in which readers choose it. */
export const ValueBox = ({ label, parameter, value, placeholder, values, source, onChange }: ValueBoxProps) => {
  const { t, i18n } = useTranslation();
  const [open, setOpen] = useState(false);
  const words = valueWords(value ?? null, { parameter, t, language: i18n.language });
  const apply = (given: GivenValue): void => {
    setOpen(false);
    const chosen = parameter.type === 'choices' && given !== null && given !== '' ? splitChoices(given) : given;
    onChange(chosen === null || chosen === '' ? undefined : (chosen as Parameter['default']));
  };
  return (
    <span className="flex min-w-0 items-center gap-1">
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger asChild>
          <button type="button" aria-label={label} className={`${inputLook} min-w-0 flex-1 truncate text-start`}>
            {words || <span className="text-ink-3">{placeholder}</span>}
          </button>
        </Popover.Trigger>
        <Panel label={label} align="end" className="w-64 p-3 [--panel-height:60vh]">
          <ParameterEditor
            parameter={parameter}
            value={value ?? null}
            values={values}
            source={source}
            applyWords={t('data.applyValue')}
            onApply={apply}
          />
        </Panel>
      </Popover.Root>
      {value !== undefined && (
        <IconButton label={t('data.clearValue', { name: label })} onClick={() => onChange(undefined)}>
          <X size={13} />
        </IconButton>
      )}
    </span>
  );
};
