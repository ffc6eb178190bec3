import { freeName, type Parameter } from '@gaveta/core/internal';
import { ArrowUp, Plus } from 'lucide-react';
import { useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import { swapped } from '../lists.ts';
import type { ChoiceHome } from './choices-editor.tsx';
import { OneParameter } from './one-parameter.tsx';

interface ParameterFormProps {
  parameters: readonly Parameter[];
  onChange: (parameters: Parameter[]) => void;
  /** Where choices come from; null while that is not known. */
  home: ChoiceHome | null;
  /** Offers new ones, which a report's own parameters need. */
  canAdd?: boolean;
  /** Asks before one is removed that something uses. */
  mayRemove?: (parameter: Parameter) => Promise<boolean>;
  /** Changes a name where it is used too; without it the name alone changes. */
  onRename?: (name: string, to: string) => void;
}

/** What parameters ask for, what they are called, and what holds without a choice. */
export const ParameterForm = ({
  parameters,
  onChange,
  home,
  canAdd = false,
  mayRemove,
  onRename,
}: ParameterFormProps) => {
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
          {open === parameter.name && (
            <>
              {i > 0 && (
                <IconButton
                  label={t('data.parameterSooner', { name: parameter.label })}
                  onClick={() => onChange(swapped(parameters, i, i - 1))}
                >
                  <ArrowUp size={13} />
                </IconButton>
              )}
              <OneParameter
                parameter={parameter}
                others={parameters.filter((p) => p !== parameter)}
                home={home}
                onChange={async (next) => {
                  if (next !== null || !mayRemove || (await mayRemove(parameter))) put(parameter.name, next);
                }}
                onRename={(to) => {
                  if (onRename) onRename(parameter.name, to);
                  else put(parameter.name, { ...parameter, name: to });
                  setOpen(to);
                }}
              />
            </>
          )}
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
