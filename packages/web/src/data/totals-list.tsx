import type { Field, StepOf, StepTotal } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import { useTranslation } from '../i18n/use-translation.ts';
import { Select } from '../ui/select.tsx';
import { EntryList, FieldSelect } from './fields.tsx';
import { freeName } from './recipe-draft.ts';
import { labelOf } from './step-words.ts';
import { totalsFor } from './totals.ts';

type Totals = StepOf<'summarise'>['totals'];

export const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** Totals of a step, as its sentence names them. */
export const totalWords = (totals: Totals, fields: readonly Field[], t: TFunction): string =>
  totals
    .map((x) =>
      x.of
        ? t('data.totalOfField', { total: t(`data.total_${x.total}`), field: labelOf(fields, x.of) })
        : t('data.rowsCounted'),
    )
    .join(', ');

interface ListProps {
  totals: Totals;
  fields: readonly Field[];
  onChange: (totals: Totals) => void;
}

/** What rows add up to: one entry for each total. */
export const TotalsList = ({ totals, fields, onChange }: ListProps) => {
  const { t } = useTranslation();
  /** Named after what it is. */
  const named = (total: StepTotal, of: string): { name: string; label: string } => {
    const words = t('data.totalOfField', { total: t(`data.total_${total}`), field: labelOf(fields, of) });
    return { name: freeName(`${t(`data.total_${total}`)} ${of}`, []), label: capital(words) };
  };
  return (
    <EntryList
      items={totals}
      onChange={onChange}
      add={t('data.addTotal')}
      make={() => ({
        total: 'COUNT' as StepTotal,
        name: freeName(
          'rows',
          totals.map((x) => x.name),
        ),
        label: t('data.rowsCounted'),
      })}
      name={(total) => total.label ?? total.name}
    >
      {(total, change) => {
        const field = fields.find((f) => f.name === total.of);
        return (
          <>
            <Select
              label={t('data.total')}
              value={total.total}
              choices={totalsFor(total.of ? field : undefined).map((name) => ({
                value: name,
                label: t(`data.total_${name}`),
              }))}
              onPick={(next) => change({ ...total, total: next, ...(total.of ? named(next, total.of) : {}) })}
            />
            <FieldSelect
              label={t('data.totalOf')}
              fields={fields}
              blank={t('data.rowsCounted')}
              value={total.of ?? ''}
              onChange={(of) => {
                const next = fields.find((f) => f.name === of);
                const kind =
                  next?.type === 'number' && total.of === undefined
                    ? 'SUM'
                    : totalsFor(next).includes(total.total)
                      ? total.total
                      : 'COUNT';
                change(
                  next
                    ? { total: kind, of, ...named(kind, of) }
                    : { total: 'COUNT', name: 'rows', label: t('data.rowsCounted') },
                );
              }}
            />
          </>
        );
      }}
    </EntryList>
  );
};
