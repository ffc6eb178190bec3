import { freeName, type Parameter } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { EntryList, TextBox } from '../fields.tsx';
import { PlainFormula } from './plain-formula.tsx';

interface WindowsProps {
  parameter: Parameter;
  /** Parameters that formulas may read. */
  others: readonly Parameter[];
  set: (key: keyof Parameter, value: unknown) => void;
}

/** Stretches of time that are offered by name besides the usual ones: from a formula until before another, or until now. */
export const WindowsEditor = ({ parameter, others, set }: WindowsProps) => {
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
            <PlainFormula
              label={t('data.windowFrom')}
              parameters={others}
              value={one.from}
              onChange={(from) => from.trim() !== '' && change({ ...one, from })}
            />
            <PlainFormula
              label={t('data.windowUntil')}
              parameters={others}
              placeholder={t('data.windowUntil')}
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
