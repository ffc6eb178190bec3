import { type Field, STEP_PERIODS, STEP_TOTALS, type StepOf, type StepTotal } from '@gaveta/core';
import { useQuery } from '@tanstack/react-query';
import { useTranslation } from 'react-i18next';
import { api } from '../api/client.ts';
import { Button, inputLook } from '../ui/controls.tsx';
import { EntryList, FieldSelect, TextBox } from './fields.tsx';
import { freeName } from './recipe-draft.ts';
import type { EditorProps } from './step-editor-props.ts';

const totalsFor = (field: Field | undefined): readonly StepTotal[] =>
  field?.type === 'number' ? STEP_TOTALS : STEP_TOTALS.filter((total) => total !== 'SUM' && total !== 'AVERAGE');

export const SummariseEditor = ({ step, onChange, fields }: EditorProps<StepOf<'summarise'>>) => {
  const { t } = useTranslation();
  const isTime = (name: string): boolean =>
    ['date', 'datetime'].includes(fields.find((f) => f.name === name)?.type ?? '');
  const named = (total: StepTotal, of: string | undefined): string =>
    of ? freeName(`${t(`data.total_${total}`)} ${of}`, []) : 'rows';
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
              <select
                aria-label={t('data.period')}
                className={`${inputLook} max-w-24`}
                value={by.per ?? ''}
                onChange={(event) => {
                  const per = event.target.value as (typeof STEP_PERIODS)[number] | '';
                  change({ field: by.field, ...(per === '' ? {} : { per }) });
                }}
              >
                <option value="">{t('data.itself')}</option>
                {STEP_PERIODS.map((per) => (
                  <option key={per} value={per}>
                    {t(`data.per_${per}`)}
                  </option>
                ))}
              </select>
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
              <select
                aria-label={t('data.total')}
                className={inputLook}
                value={total.total}
                onChange={(event) => {
                  const next = event.target.value as StepTotal;
                  change({ ...total, total: next, name: named(next, total.of) });
                }}
              >
                {totalsFor(total.of ? field : undefined).map((name) => (
                  <option key={name} value={name}>
                    {t(`data.total_${name}`)}
                  </option>
                ))}
              </select>
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
                      ? { total: kind, of, name: named(kind, of), label: next.label }
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

export const SpreadEditor = ({ step, onChange, fields, before, parameters }: EditorProps<StepOf<'spread'>>) => {
  const { t } = useTranslation();
  const values = useQuery({
    queryKey: ['recipe-values', before, step.names],
    queryFn: ({ signal }) => api.recipeValues({ steps: before, parameters, field: step.names }, signal),
    enabled: step.names !== '',
    staleTime: 60_000,
  });
  const found = values.data?.found ?? [];
  const others = fields.filter((f) => f.name !== step.names && f.name !== step.values).map((f) => f.name);
  const make = (value: string, taken: readonly string[]) => ({
    value,
    name: freeName(value, [...others, ...taken]),
    label: value,
  });
  return (
    <div className="flex flex-col gap-1.5">
      <div className="grid grid-cols-2 gap-1.5">
        <FieldSelect
          label={t('data.namesIn')}
          fields={fields}
          value={step.names}
          onChange={(names) => onChange({ ...step, names, into: [] })}
        />
        <FieldSelect
          label={t('data.valuesIn')}
          fields={fields}
          value={step.values}
          onChange={(name) => onChange({ ...step, values: name })}
        />
      </div>
      <select
        aria-label={t('data.total')}
        className={inputLook}
        value={step.total}
        onChange={(event) => onChange({ ...step, total: event.target.value as StepTotal })}
      >
        {totalsFor(fields.find((f) => f.name === step.values)).map((total) => (
          <option key={total} value={total}>
            {t('data.severalValues', { total: t(`data.total_${total}`) })}
          </option>
        ))}
      </select>
      <Button
        className="self-start"
        disabled={found.length === 0}
        onClick={() => {
          const into: StepOf<'spread'>['into'] = [];
          for (const { value } of found.slice(0, 100))
            into.push(
              make(
                value,
                into.map((x) => x.name),
              ),
            );
          onChange({ ...step, into });
        }}
      >
        {t('data.findNames', { count: found.length })}
      </Button>
      <EntryList
        items={step.into}
        onChange={(into) => onChange({ ...step, into })}
        add={t('data.addName')}
        make={() =>
          make(
            '',
            step.into.map((x) => x.name),
          )
        }
        name={(into) => String(into.value)}
      >
        {(into, change) => (
          <>
            <TextBox
              label={t('data.nameInRows')}
              value={String(into.value)}
              onChange={(value) =>
                change(
                  make(
                    value,
                    step.into.map((x) => x.name),
                  ),
                )
              }
            />
            <TextBox
              label={t('data.columnLabel')}
              value={into.label ?? into.name}
              onChange={(label) => change({ ...into, label })}
            />
          </>
        )}
      </EntryList>
    </div>
  );
};
