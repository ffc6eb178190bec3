import { type DeliveredValue, type Parameter, PERIODS, type Period, type Report } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import type { StoredReport } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { ParameterChips } from '../../parameters/parameter-chips.tsx';
import { IconButton, inputLook } from '../../ui/controls.tsx';
import { Select } from '../../ui/select.tsx';
import { type FieldFacts, Row, Section, type SectionProps } from './section.tsx';

interface ReportSectionProps extends SectionProps {
  reports: readonly StoredReport[];
  report: { name: string; definition: Report } | null;
  fields: readonly FieldFacts[];
}

/** Which report goes, with which values, and what it becomes. */
export const ReportSection = ({ definition, put, reports, report, fields, children }: ReportSectionProps) => {
  const { t } = useTranslation();
  const outputs = useQuery(queries.outputs());
  const parameters = (report?.definition.parameters ?? []).filter((one) => !one.hidden && !one.fromHost);
  const { files, zip, fileName } = definition;
  const all = outputs.data ?? [];
  const labelOf = (output: string): string => all.find(({ name }) => name === output)?.label ?? output;
  return (
    <Section title={t('deliveries.what')}>
      <Row label={t('deliveries.report')}>
        <Select
          label={t('deliveries.report')}
          className="max-w-96"
          blank={t('deliveries.chooseReport')}
          value={definition.report === '–' ? '' : definition.report}
          choices={reports.map(({ id, name }) => ({ value: id, label: name }))}
          onPick={(id) => put({ report: id, values: {} })}
        />
      </Row>
      {parameters.map((parameter) => (
        <ValueRow
          key={parameter.name}
          {...{ parameter, fields, report: definition.report }}
          value={definition.values[parameter.name]}
          all={definition.values}
          onChange={(value) => {
            const { [parameter.name]: _, ...others } = definition.values;
            put({ values: value === undefined ? others : { ...others, [parameter.name]: value } });
          }}
        />
      ))}
      <Row label={t('deliveries.formats')}>
        {files.map(({ output }) => (
          <span
            key={output}
            className="inline-flex items-center rounded-full border border-rule ps-2"
            data-format={output}
          >
            {labelOf(output)}
            <IconButton
              label={t('deliveries.removeFormat', { name: labelOf(output) })}
              className="size-6!"
              onClick={() => put({ files: files.filter((file) => file.output !== output) })}
            >
              <X size={12} />
            </IconButton>
          </span>
        ))}
        <Select
          label={t('deliveries.addFormat')}
          look="quiet"
          value=""
          blank={t('deliveries.addFormat')}
          choices={all
            .filter(({ name }) => !files.some((file) => file.output === name))
            .map(({ name, label }) => ({ value: name, label }))}
          onPick={(output) => put({ files: [...files, { output, options: {} }] })}
        />
        {files.length > 1 && (
          <label className="inline-flex items-center gap-1">
            <input type="checkbox" checked={zip} onChange={(event) => put({ zip: event.target.checked })} />
            {t('deliveries.zip')}
          </label>
        )}
      </Row>
      <Row label={t('deliveries.fileName')}>
        <input
          className={`${inputLook} max-w-96`}
          aria-label={t('deliveries.fileName')}
          placeholder={t('deliveries.fileNameExample')}
          maxLength={200}
          value={fileName ?? ''}
          onChange={(event) => {
            const { fileName: _, ...others } = definition;
            const next = event.target.value;
            put(next === '' ? { ...others, fileName: undefined } : { fileName: next });
          }}
        />
      </Row>
      <Row label={t('deliveries.emptyReports')}>
        <label className="inline-flex items-center gap-1">
          <input
            type="checkbox"
            checked={definition.onlyWithRows}
            onChange={(event) => put({ onlyWithRows: event.target.checked })}
          />
          {t('deliveries.onlyWithRows')}
        </label>
      </Row>
      {children}
    </Section>
  );
};

type How = 'default' | 'value' | 'formula' | `period ${Period}`;

const howOf = (value: DeliveredValue | undefined): How => {
  if (value === undefined) return 'default';
  if (typeof value !== 'object' || Array.isArray(value)) return 'value';
  return 'formula' in value ? 'formula' : `period ${(value as { period: Period }).period}`;
};

/** Types whose values may be a stretch of the calendar. */
const TAKES_PERIODS = new Set<Parameter['type']>(['date', 'dates', 'window']);

/** What a formula begins as: the first field of the row that may do, or today for a date. */
const firstFormula = ({ type }: Parameter, fields: readonly FieldFacts[]): string => {
  if (type === 'date') return fields.find((field) => field.type === 'date')?.name ?? 'TODAY()';
  return fields.find((field) => field.type === (type === 'number' ? 'number' : 'text'))?.name ?? '""';
};

interface ValueRowProps {
  parameter: Parameter;
  value: DeliveredValue | undefined;
  all: Readonly<Record<string, DeliveredValue>>;
  fields: readonly FieldFacts[];
  report: string;
  onChange: (value: DeliveredValue | undefined) => void;
}

/** What one parameter gets: its default, a value, a stretch of the calendar, or what a formula gives. */
const ValueRow = ({ parameter, value, all, fields, report, onChange }: ValueRowProps) => {
  const { t } = useTranslation();
  const how = howOf(value);
  const periods = TAKES_PERIODS.has(parameter.type) ? PERIODS : [];
  const pick = (next: How): void => {
    if (next === 'default') onChange(undefined);
    else if (next === 'value') onChange((parameter.default as DeliveredValue | undefined) ?? '');
    else if (next === 'formula') onChange({ formula: firstFormula(parameter, fields) });
    else onChange({ period: next.slice('period '.length) as Period });
  };
  const given = Object.fromEntries(
    Object.entries(all).flatMap(([name, one]) =>
      typeof one === 'object' && !Array.isArray(one) ? [] : [[name, one as string]],
    ),
  );
  return (
    <Row label={parameter.label}>
      <Select
        label={t('deliveries.howValue', { name: parameter.label })}
        className="w-52!"
        value={how}
        choices={[
          { value: 'default' as How, label: t('deliveries.value_default') },
          { value: 'value', label: t('deliveries.value_fixed') },
          ...periods.map((period) => ({
            value: `period ${period}` as How,
            label: t(`deliveries.period_${period}`),
            group: t('deliveries.value_period'),
          })),
          { value: 'formula', label: t('deliveries.value_formula') },
        ]}
        onPick={pick}
      />
      {how === 'value' && (
        <ParameterChips
          parameters={[parameter]}
          values={given}
          source={{ report }}
          onChange={(_, next) => onChange((next ?? '') as DeliveredValue)}
        />
      )}
      {how === 'formula' && (
        <>
          <input
            className={`${inputLook} max-w-64 font-mono text-[12px]`}
            aria-label={t('deliveries.formulaOf', { name: parameter.label })}
            value={(value as { formula: string }).formula}
            onChange={(event) => onChange({ formula: event.target.value })}
          />
          {fields.length > 0 && (
            <Select
              label={t('deliveries.fieldFor', { name: parameter.label })}
              look="quiet"
              value=""
              blank={t('deliveries.field')}
              choices={fields.map(({ name, label }) => ({ value: name, label }))}
              onPick={(name) => onChange({ formula: name })}
            />
          )}
        </>
      )}
    </Row>
  );
};
