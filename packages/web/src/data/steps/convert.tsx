import { CONVERTED, type Step, type StepOf } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { EntryList, FieldSelect } from '../fields.tsx';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { labelOf } from '../step-words.ts';

type Convert = StepOf<'convert'>;
type Column = Convert['columns'][number];

const DATES = ['dmy', 'mdy', 'ymd'] as const;

/** How many values of a column would be lost: those that become blank. */
const useMisfits = (
  { step, before, parameters }: Pick<EditorProps<Convert>, 'step' | 'before' | 'parameters'>,
  isReady: boolean,
): ((field: string) => number) => {
  const facts = (steps: readonly Step[]) => ({ ...queries.recipeFacts({ steps, parameters }), enabled: isReady });
  const from = useQuery(facts(before));
  const to = useQuery(facts([...before, step]));
  return (field) => {
    const blanks = (query: typeof from): number | undefined =>
      query.data?.found?.find((fact) => fact.field === field)?.blanks;
    return Math.max(0, (blanks(to) ?? 0) - (blanks(from) ?? blanks(to) ?? 0));
  };
};

const Editor = ({ step, onChange, fields, before, parameters }: EditorProps<Convert>) => {
  const { t } = useTranslation();
  const typeOf = (name: string) => fields.find((field) => field.name === name)?.type;
  const misfitsOf = useMisfits(
    { step, before, parameters },
    step.columns.length > 0 && step.columns.every(({ field }) => field !== ''),
  );
  return (
    <EntryList
      items={step.columns}
      onChange={(columns) => onChange({ ...step, columns })}
      add={t('data.addConverted')}
      make={(): Column => ({ field: '', to: 'number' })}
      name={({ field }) => labelOf(fields, field)}
    >
      {(column, change) => {
        const isText = typeOf(column.field) === 'text';
        const misfits = column.field === '' ? 0 : misfitsOf(column.field);
        return (
          <span className="flex min-w-0 flex-1 flex-col gap-1">
            <span className="grid grid-cols-2 gap-1.5">
              <FieldSelect
                label={t('data.convertField')}
                fields={fields}
                types={['text', 'number', 'date', 'datetime', 'boolean']}
                value={column.field}
                onChange={(field) => change({ ...column, field })}
              />
              <Select
                label={t('data.convertTo')}
                value={column.to}
                choices={CONVERTED.map((value) => ({ value, label: t(`data.columnType_${value}`) }))}
                onPick={(to) => change({ field: column.field, to })}
              />
            </span>
            {isText && column.to === 'number' && (
              <Select
                label={t('data.convertDecimal')}
                value={column.decimal ?? '.'}
                choices={(['.', ','] as const).map((value) => ({
                  value,
                  label: value === '.' ? '1,234.5' : '1.234,5',
                }))}
                onPick={(decimal) => change({ ...column, decimal })}
              />
            )}
            {isText && (column.to === 'date' || column.to === 'datetime') && (
              <Select
                label={t('data.convertDates')}
                value={column.dates ?? 'dmy'}
                choices={DATES.map((value) => ({ value, label: t(`data.order_${value}`) }))}
                onPick={(dates) => change({ ...column, dates })}
              />
            )}
            {misfits > 0 && (
              <span role="status" className="text-[11.5px] text-rust-strong">
                {t('data.misfits', { count: misfits })}
              </span>
            )}
          </span>
        );
      }}
    </EntryList>
  );
};

export const convertRoom: StepRoom<'convert'> = {
  Editor,
  begin: () => ({ step: 'convert', columns: [{ field: '', to: 'number' }] }),
  words: ({ columns }, { t, fields }) =>
    columns.map(({ field, to }) => [{ field: labelOf(fields, field) || '…' }, '→', t(`data.columnType_${to}`)]),
};
