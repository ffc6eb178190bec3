import {
  type Field,
  findEntity,
  type Parameter,
  type PlanContext,
  planChoices,
  type Report,
  recipeContext,
  reportModel,
  shownFields,
} from '@gaveta/core/internal';
import { type ComponentProps, type ReactNode, useMemo, useState } from 'react';
import type { ParameterValues } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { problemWords } from '../../i18n/words.ts';
import { useChoices } from '../../parameters/use-choices.ts';
import { Select } from '../../ui/select.tsx';
import { EntryList, FieldSelect, TextBox } from '../fields.tsx';
import { fieldsOfRow } from '../fields-of-row.ts';
import { FormulaConditions } from '../formula-conditions.tsx';
import { namingField } from './naming-field.ts';

/** What choices may come out of: the tables and queries of a report, of which the parameters are. */
export interface ChoiceHome {
  report: Report;
  context: Pick<PlanContext, 'models' | 'recipe'>;
}

type ChoicesFrom = NonNullable<Parameter['choicesFrom']>;

interface ChoicesEditorProps {
  parameter: Parameter;
  others: readonly Parameter[];
  home: ChoiceHome | null;
  /** Of the other parameters, as they are tried. */
  values: ParameterValues;
  onChange: (next: Parameter) => void;
}

/** What a parameter can be chosen from: choices that are written here, or those that rows give. */
export const ChoicesEditor = ({ parameter, others, home, values, onChange }: ChoicesEditorProps) => {
  const { t } = useTranslation();
  const { choicesFrom, choices = [], name } = parameter;
  const tables = useTables(home);
  const from = choicesFrom ? 'rows' : 'written';
  const pick = (next: string): void => {
    const { choicesFrom: _, choices: __, of: ___, ...rest } = parameter;
    const [first] = tables;
    if (next === 'written') onChange(rest);
    else if (first) onChange(withTable(rest, first.value, home!));
  };
  return (
    <>
      {(tables.length > 0 || choicesFrom) && (
        <Line label={t('data.choices')}>
          <Select
            label={`${name}: ${t('data.choices')}`}
            value={from}
            choices={(['written', 'rows'] as const).map((value) => ({ value, label: t(`data.choices_${value}`) }))}
            onPick={pick}
          />
        </Line>
      )}
      {choicesFrom ? (
        home && <FromRows {...{ parameter, choicesFrom, others, home, values, tables, onChange }} />
      ) : (
        <>
          <div className="col-span-2">
            <EntryList
              items={choices}
              onChange={(next) => {
                const { choices: _, ...rest } = parameter;
                onChange(next.length > 0 ? { ...rest, choices: next } : rest);
              }}
              add={t('data.addChoice')}
              make={() => ({ value: '', label: '' })}
              name={(choice) => choice.label || choice.value}
            >
              {(choice, change) => (
                <>
                  <TextBox
                    label={t('data.choiceValue')}
                    placeholder={t('data.choiceValue')}
                    value={choice.value}
                    onChange={(value) => change({ value, label: choice.label || value })}
                  />
                  <TextBox
                    label={t('data.choiceLabel')}
                    placeholder={t('data.choiceLabel')}
                    value={choice.label}
                    onChange={(label) => change({ ...choice, label })}
                  />
                </>
              )}
            </EntryList>
          </div>
          <Line label={t('data.valuesAre')}>
            <Select
              label={`${name}: ${t('data.valuesAre')}`}
              value={parameter.of ?? 'text'}
              choices={(['text', 'number'] as const).map((of) => ({ value: of, label: t(`data.values_${of}`) }))}
              onPick={(of) => {
                const { of: _, ...rest } = parameter;
                onChange(of === 'number' ? { ...rest, of } : rest);
              }}
            />
          </Line>
        </>
      )}
    </>
  );
};

const Line = ({ label, children }: { label: string; children: ReactNode }) => (
  <>
    <span className="text-ink-2">{label}</span>
    {children}
  </>
);

/** The tables and queries that a report can take rows from. */
const useTables = (home: ChoiceHome | null): { value: string; label: string }[] =>
  useMemo(() => {
    const model = home && reportModel(home.report, home.context).model;
    return (model?.entities ?? [])
      .filter((entity) => !entity.arguments?.length)
      .map(({ name, plural }) => ({ value: name, label: plural }));
  }, [home]);

/** Choices out of another table: each row by its key, shown by its name. */
const withTable = (parameter: Parameter, rows: string, { report, context }: ChoiceHome): Parameter => {
  const { model } = reportModel(report, context);
  const entity = model && findEntity(model, rows);
  const fields = shownFields(entity?.fields ?? []);
  const naming = namingField(fields, entity?.key ?? '');
  const value = fields.find((f) => f.name === entity?.key) ?? naming ?? fields[0];
  return withValue(
    { ...parameter, choicesFrom: { rows, value: '', ...(naming ? { label: naming.name } : {}) } },
    value,
  );
};

/** With the value that a choice stands for, and the type that it has. */
const withValue = (parameter: Parameter, field: Field | undefined): Parameter => {
  const { of: _, default: __, sample: ___, ...rest } = parameter;
  const choicesFrom = { ...parameter.choicesFrom!, value: field?.name ?? '' };
  return { ...rest, ...(field?.type === 'number' ? { of: 'number' as const } : {}), choicesFrom };
};

interface FromRowsProps extends Omit<ChoicesEditorProps, 'home'> {
  home: ChoiceHome;
  choicesFrom: ChoicesFrom;
  tables: readonly { value: string; label: string }[];
}

const FromRows = ({ parameter, choicesFrom, others, home, values, tables, onChange }: FromRowsProps) => {
  const { t } = useTranslation();
  const { name } = parameter;
  const { report, context } = home;
  const { model } = useMemo(() => reportModel(report, context), [report, context]);
  const entity = (model && findEntity(model, choicesFrom.rows)) ?? null;
  const fields = fieldsOfRow(entity, model);
  const { problems } = planChoices(report, parameter, recipeContext(report, context));
  const wrong = (part: keyof ChoicesFrom): ReactNode => {
    const found = problems.find((p) => p.part === part);
    return (
      found && (
        <span role="alert" className="col-span-2 text-[11.5px] text-rust">
          {problemWords(found.problem)}
        </span>
      )
    );
  };
  const put = (part: 'label' | 'where', text: string): void => {
    const { [part]: _, ...rest } = choicesFrom;
    onChange({ ...parameter, choicesFrom: text === '' ? rest : { ...rest, [part]: text } });
  };
  const valueFields = fields.filter((f) => f.type === 'text' || f.type === 'number');
  const isOwnTable = model?.name === report.model && context.models.some((m) => m.name === report.model);
  return (
    <>
      <Line label={t('data.choices_from')}>
        <Select
          label={`${name}: ${t('data.choices_from')}`}
          value={choicesFrom.rows}
          choices={tables}
          onPick={(rows) => onChange(withTable(parameter, rows, home))}
        />
      </Line>
      {wrong('rows')}
      <Line label={t('data.choices_value')}>
        <FieldOrFormula
          label={`${name}: ${t('data.choices_value')}`}
          fields={valueFields}
          value={choicesFrom.value}
          onChange={(value) =>
            onChange(
              withValue(
                parameter,
                valueFields.find((f) => f.name === value) ?? { name: value, label: '', type: 'text' },
              ),
            )
          }
        />
      </Line>
      {wrong('value')}
      <Line label={t('data.choices_label')}>
        <FieldOrFormula
          label={`${name}: ${t('data.choices_label')}`}
          fields={fields.filter((f) => f.type !== 'picture')}
          value={choicesFrom.label ?? ''}
          blank={t('data.choices_sameAsValue')}
          onChange={(label) => put('label', label)}
        />
      </Line>
      {wrong('label')}
      <span className="col-span-2 text-ink-2">{t('data.choices_where')}</span>
      <div className="col-span-2">
        <Where
          label={`${name}: ${t('data.choices_where')}`}
          where={choicesFrom.where ?? ''}
          fields={fields}
          parameters={others}
          before={
            entity && isOwnTable && report.model
              ? [{ step: 'take', from: { model: report.model, entity: entity.name } }]
              : []
          }
          onChange={(where) => put('where', where)}
        />
      </div>
      {wrong('where')}
      {problems.length === 0 && <Preview parameter={parameter} values={values} report={report} />}
    </>
  );
};

interface FieldOrFormulaProps {
  label: string;
  fields: readonly Field[];
  value: string;
  /** An entry for nothing. */
  blank?: string;
  onChange: (value: string) => void;
}

/** No field has this name. */
const FORMULA = '=';

/** A field of the rows, or a formula over them. */
const FieldOrFormula = ({ label, fields, value, blank, onChange }: FieldOrFormulaProps) => {
  const { t } = useTranslation();
  const isField = value === '' || fields.some((f) => f.name === value);
  const [writes, setWrites] = useState(!isField);
  const formula: Field = { name: FORMULA, label: t('data.aFormula'), type: 'text' };
  return (
    <span className="flex min-w-0 flex-col gap-1">
      <FieldSelect
        label={label}
        fields={[...fields, formula]}
        value={writes ? FORMULA : value}
        blank={blank}
        onChange={(name) => {
          setWrites(name === FORMULA);
          if (name !== FORMULA) onChange(name);
        }}
      />
      {writes && (
        <TextBox
          label={`${label}, ${t('data.formula')}`}
          className="font-mono text-[12px]"
          value={value}
          onChange={(text) => text.trim() !== '' && onChange(text.trim())}
        />
      )}
    </span>
  );
};

interface WhereProps {
  label: string;
  where: string;
  fields: readonly Field[];
  parameters: readonly Parameter[];
  before: ComponentProps<typeof FormulaConditions>['before'];
  onChange: (where: string) => void;
}

/** Which rows are offered, in tests that may read the other parameters. */
const Where = ({ label, where, fields, parameters, before, onChange }: WhereProps) => {
  const { t } = useTranslation();
  return (
    <>
      <FormulaConditions formula={where} fields={fields} parameters={parameters} before={before} onChange={onChange} />
      <details>
        <summary className="cursor-pointer text-ink-2">{t('drawer.asFormula')}</summary>
        <TextBox
          label={label}
          className="font-mono text-[12px]"
          value={where}
          onChange={(next) => onChange(next.trim())}
        />
      </details>
    </>
  );
};

/** How many choices are shown. */
const SHOWN = 6;

/** What would be offered now, for the sample values of the other parameters. */
const Preview = ({ parameter, values, report }: { parameter: Parameter; values: ParameterValues; report: Report }) => {
  const { t } = useTranslation();
  const { choices, more, isLoading, failure } = useChoices(parameter, values, '', { definition: report });
  if (failure)
    return (
      <span role="alert" className="col-span-2 text-[11.5px] text-rust">
        {failure}
      </span>
    );
  const count = choices.length;
  return (
    <div className="col-span-2 rounded bg-desk/50 px-1.5 py-1 text-[11.5px]" data-testid="offered">
      <p className="text-ink-2">
        {isLoading ? t('app.loading') : more ? t('data.offeredMore', { count }) : t('data.offered', { count })}
      </p>
      <ul>
        {choices.slice(0, SHOWN).map(({ value, label }) => (
          <li key={value} className="flex gap-2">
            <span className="min-w-0 flex-1 truncate">{label}</span>
            {value !== label && <span className="max-w-[50%] truncate text-ink-2">{value}</span>}
          </li>
        ))}
        {count > SHOWN && <li className="text-ink-2">…</li>}
      </ul>
    </div>
  );
};
