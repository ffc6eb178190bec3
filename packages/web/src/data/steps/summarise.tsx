import { STEP_PERIODS, type StepOf } from '@gaveta/core/internal';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { EntryList, FieldSelect } from '../fields.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelOf } from '../step-words.ts';
import { capital, TotalsList, totalWords } from '../totals-list.tsx';

const Editor = ({ step, onChange, fields }: EditorProps<StepOf<'summarise'>>) => {
  const { t } = useTranslation();
  const isTime = (name: string): boolean =>
    ['date', 'datetime'].includes(fields.find((f) => f.name === name)?.type ?? '');
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
      <TotalsList totals={step.totals} fields={fields} onChange={(totals) => onChange({ ...step, totals })} />
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
    return [[by.join(', ') || t('data.everything')], [totalWords(step.totals, fields, t)]];
  },
};
