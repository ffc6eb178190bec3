import { STEP_PERIODS, type StepOf, type StepTotal } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { EntryList, FieldSelect } from '../fields.tsx';
import { freeName } from '../recipe-draft.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelOf } from '../step-words.ts';

import { totalsFor } from '../totals.ts';

const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

const Editor = ({ step, onChange, fields }: EditorProps<StepOf<'summarise'>>) => {
  const { t } = useTranslation();
  const isTime = (name: string): boolean =>
    ['date', 'datetime'].includes(fields.find((f) => f.name === name)?.type ?? '');
  /** Named after what it is. */
  const named = (total: StepTotal, of: string): { name: string; label: string } => {
    const words = t('data.totalOfField', { total: t(`data.total_${total}`), field: labelOf(fields, of) });
    return { name: freeName(`${t(`data.total_${total}`)} ${of}`, []), label: capital(words) };
  };
  const periodLabel = (field: string, per: (typeof STEP_PERIODS)[number]): string =>
    capital(t('data.perField', { per: t(`data.per_${per}`), field: labelOf(fields, field) }));
  return (
    <div className="flex flex-col gap-2">
      <EntryList
        items={step.by}
        onChange={(by) => onChange({ ...step, by })}
        add={t('data.addBy')}
        make={(): StepOf<'summarise'>['by'][number] => ({ field: '' })}
        name={(by) => by.field}
      >
        {(by, change) => (
          <>
            <FieldSelect
              label={t('data.summariseBy')}
              fields={fields}
              value={by.field}
              onChange={(field) => change({ field })}
            />
            {isTime(by.field) && (
              <Select
                label={t('data.period')}
                className="max-w-24"
                value={by.per ?? ''}
                choices={[
                  { value: '', label: t('data.itself') },
                  ...STEP_PERIODS.map((per) => ({ value: per, label: t(`data.per_${per}`) })),
                ]}
                onPick={(per) =>
                  change({ field: by.field, ...(per === '' ? {} : { per, label: periodLabel(by.field, per) }) })
                }
              />
            )}
          </>
        )}
      </EntryList>
      <EntryList
        items={step.totals}
        onChange={(totals) => onChange({ ...step, totals })}
        add={t('data.addTotal')}
        make={() => ({
          total: 'COUNT' as StepTotal,
          name: freeName(
            'rows',
            step.totals.map((x) => x.name),
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
    </div>
  );
};

export const summariseRoom: StepRoom<'summarise'> = {
  Editor,
  begin: ({ first }) => ({
    step: 'summarise',
    by: [{ field: first }],
    totals: [{ total: 'COUNT', name: 'rows', label: 'Rows' }],
  }),
  words: (step, { t, fields }) => {
    const by = step.by.map((b) =>
      b.per
        ? t('data.perField', { per: t(`data.per_${b.per}`), field: labelOf(fields, b.field) })
        : labelOf(fields, b.field),
    );
    const totals = step.totals.map((x) =>
      x.of
        ? t('data.totalOfField', { total: t(`data.total_${x.total}`), field: labelOf(fields, x.of) })
        : t('data.rowsCounted'),
    );
    return [[by.join(', ') || t('data.everything')], [totals.join(', ')]];
  },
};
