import { useTranslation } from '../../i18n/use-translation.ts';
import { Check } from '../../ui/commit.tsx';
import { inputLook } from '../../ui/controls.tsx';
import { Select } from '../../ui/select.tsx';
import type { OptionBox, OptionValues } from './options.ts';
import { useExportWords } from './words.ts';

interface Props {
  boxes: readonly OptionBox[];
  values: OptionValues;
  onChange: (values: OptionValues) => void;
}

/** The options of an output. What is not set is as the output has it. */
export const OptionBoxes = ({ boxes, values, onChange }: Props) => {
  const { t } = useTranslation();
  const words = useExportWords();
  const set = (name: string, value: string): void => onChange({ ...values, [name]: value });
  return (
    <div className="grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-2.5 gap-y-1.5">
      {boxes.map((box) => {
        const { name, help, initial } = box;
        const value = values[name] ?? initial;
        const label = words.option(name);
        if (box.kind === 'switch')
          return (
            <div key={name} className="col-span-2" title={help}>
              <Check label={label} checked={value === 'true'} onChange={(on) => set(name, String(on))} />
            </div>
          );
        return (
          <div key={name} className="contents" title={help}>
            <span className="text-ink-2">{label}</span>
            {box.kind === 'choice' ? (
              <Select
                label={label}
                value={value}
                choices={box.values.map((one) => ({ value: one, label: words.value(name, one) }))}
                blank={t('export.byItself')}
                onPick={(picked) => set(name, picked)}
              />
            ) : (
              <input
                aria-label={label}
                className={inputLook}
                type={box.kind === 'number' ? 'number' : /password/i.test(name) ? 'password' : 'text'}
                autoComplete="off"
                {...(box.kind === 'number' ? { min: box.least ?? undefined, max: box.most ?? undefined } : {})}
                placeholder={name === 'from' ? t('export.first') : name === 'to' ? t('export.last') : ''}
                value={value}
                onChange={(event) => set(name, event.target.value)}
              />
            )}
          </div>
        );
      })}
    </div>
  );
};
