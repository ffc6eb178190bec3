import {
  type Comparison,
  type Condition,
  comparisonsFor,
  type Field,
  type Operand,
  type Parameter,
  type Step,
} from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useId } from 'react';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import { Select } from '../ui/select.tsx';
import { FieldSelect, TextBox } from './fields.tsx';
import { seenAs } from './fields-of-row.ts';

interface ConditionEditorProps {
  condition: Condition;
  fields: readonly Field[];
  parameters: readonly Parameter[];
  /** The steps before, whose rows suggest values. */
  before: readonly Step[];
  onChange: (condition: Condition) => void;
  /** Makes a parameter for a field and gives its name; where it is left out, only those that are there can be picked. */
  onNewParameter?: (field: Field, is: Comparison) => string;
}

const emptyTest = (fields: readonly Field[]): Condition => {
  const field = fields.find((f) => !f.hidden && f.type !== 'picture');
  return { field: field?.name ?? '', is: comparisonsFor(field?.type ?? 'text')[0]! };
};

/** Conditions joined by and or or, nested as deep as one likes. */
export const ConditionEditor = (props: ConditionEditorProps) => {
  const { condition } = props;
  const group = 'all' in condition || 'any' in condition ? condition : { all: [condition] };
  return <Group {...props} condition={group} />;
};

const Group = ({
  condition,
  onChange,
  ...rest
}: ConditionEditorProps & { condition: { all: Condition[] } | { any: Condition[] } }) => {
  const { t } = useTranslation();
  const isAll = 'all' in condition;
  const list = isAll ? condition.all : condition.any;
  const put = (next: Condition[], all = isAll): void => onChange(all ? { all: next } : { any: next });
  return (
    <div className="flex flex-col gap-1.5 border-s-2 border-brass-soft ps-2">
      {list.length > 1 && (
        <div className="flex items-center gap-1.5 text-ink-2">
          {t('data.keepWhere')}
          <Select
            label={t('data.keepWhere')}
            className="w-auto!"
            value={isAll ? 'all' : 'any'}
            choices={(['all', 'any'] as const).map((hold) => ({ value: hold, label: t(`data.${hold}`) }))}
            onPick={(hold) => put(list, hold === 'all')}
          />
          {t('data.hold')}
        </div>
      )}
      {list.map((part, i) => {
        const change = (next: Condition): void => put(list.map((old, at) => (at === i ? next : old)));
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: conditions are told apart by their place
          <div key={i} data-condition={i} className="flex items-start gap-1">
            <div className="min-w-0 flex-1">
              {'all' in part || 'any' in part ? (
                <Group {...rest} condition={part} onChange={change} />
              ) : 'formula' in part ? (
                <TextBox
                  label={t('data.formula')}
                  className="font-mono text-[12px]"
                  value={part.formula}
                  onChange={(formula) => change({ formula: seenAs(formula, rest.fields) })}
                />
              ) : (
                <Test {...rest} test={part} onChange={change} />
              )}
            </div>
            <IconButton label={t('data.removeCondition')} onClick={() => put(list.filter((_, at) => at !== i))}>
              <X size={14} />
            </IconButton>
          </div>
        );
      })}
      <div className="flex flex-wrap gap-1 whitespace-nowrap text-pine">
        {(['condition', 'group', 'formula'] as const).map((kind) => (
          <button
            key={kind}
            type="button"
            data-add={kind}
            className="rounded px-1.5 py-0.5 hover:bg-pine-soft"
            onClick={() => {
              const test = emptyTest(rest.fields);
              put([
                ...list,
                kind === 'condition'
                  ? test
                  : kind === 'group'
                    ? ({ [isAll ? 'any' : 'all']: [test] } as Condition)
                    : { formula: '' },
              ]);
            }}
          >
            + {t(`data.add_${kind}`)}
          </button>
        ))}
      </div>
    </div>
  );
};

type TestCondition = Extract<Condition, { field: string }>;

const Test = ({
  test,
  fields,
  parameters,
  before,
  onChange,
  onNewParameter,
}: Omit<ConditionEditorProps, 'condition'> & { test: TestCondition }) => {
  const { t } = useTranslation();
  const field = fields.find((f) => f.name === test.field);
  const comparisons = comparisonsFor(field?.type ?? 'text');
  const takesNothing = test.is === 'blank' || test.is === 'notBlank';
  const { to } = test;
  const kind =
    to === undefined || 'value' in to || 'values' in to || 'from' in to
      ? 'value'
      : 'parameter' in to
        ? 'parameter'
        : 'field';
  const setKind = (next: string): void => {
    if (next === 'value') onChange({ ...test, to: undefined });
    else if (next === 'field')
      onChange({
        ...test,
        to: { field: fields.find((f) => f.type === field?.type && f.name !== test.field)?.name ?? '' },
      });
    else if (next === 'parameter' && parameters.length > 0)
      onChange({ ...test, to: { parameter: parameters[0]!.name } });
    else if (field && onNewParameter) onChange({ ...test, to: { parameter: onNewParameter(field, test.is) } });
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,0.8fr)] gap-1">
      <FieldSelect
        label={t('data.field')}
        fields={fields.filter((f) => f.type !== 'picture')}
        value={test.field}
        onChange={(name) => {
          const type = fields.find((f) => f.name === name)?.type ?? 'text';
          const is = comparisonsFor(type).includes(test.is) ? test.is : comparisonsFor(type)[0]!;
          onChange({ field: name, is, ...(type === field?.type && to ? { to } : {}) });
        }}
      />
      <Select
        label={t('data.comparison')}
        value={test.is}
        choices={comparisons.map((is) => ({ value: is, label: t(`data.is_${is}`) }))}
        onPick={(is) => {
          const keeps = to && !('values' in to) && !('from' in to) && is !== 'between';
          onChange({ field: test.field, is, ...(keeps ? { to } : {}) });
        }}
      />
      {!takesNothing && (
        <div className="col-span-2 grid grid-cols-[minmax(0,1fr)_112px] gap-1">
          {kind === 'value' && field && (
            <ValueEditor
              field={field}
              is={test.is}
              to={to}
              before={before}
              onChange={(next) => onChange({ ...test, to: next })}
            />
          )}
          {kind === 'field' && to && 'field' in to && (
            <FieldSelect
              label={t('data.otherField')}
              fields={fields.filter((f) => f.type === field?.type)}
              value={to.field}
              onChange={(name) => onChange({ ...test, to: { field: name } })}
            />
          )}
          {kind === 'parameter' && to && 'parameter' in to && (
            <Select
              label={t('data.parameter')}
              value={to.parameter}
              choices={parameters.map((p) => ({ value: p.name, label: p.label }))}
              onPick={(parameter) => onChange({ ...test, to: { parameter } })}
            />
          )}
          <Select
            label={t('data.comparedWith')}
            value={kind}
            choices={[
              { value: 'value', label: t('data.aValue') },
              { value: 'field', label: t('data.aField') },
              ...(parameters.length > 0 || onNewParameter ? [{ value: 'parameter', label: t('data.aParameter') }] : []),
              ...(parameters.length > 0 && onNewParameter ? [{ value: 'new', label: t('data.newParameter') }] : []),
            ]}
            onPick={setKind}
          />
        </div>
      )}
    </div>
  );
};

interface ValueEditorProps {
  field: Field;
  is: Comparison;
  to: Operand | undefined;
  before: readonly Step[];
  onChange: (to: Operand) => void;
}

/** Steps that give a field, and its name after them: a field of a related row is brought in first. */
const rowsWith = (before: readonly Step[], path: string): { steps: readonly Step[]; field: string } => {
  const [relation, field] = path.split('.');
  if (relation === undefined || field === undefined) return { steps: before, field: path };
  return {
    steps: [...before, { step: 'bring', relation, keep: 'here', as: relation }],
    field: `${relation}_${field}`,
  };
};

const ValueEditor = ({ field, is, to, before, onChange }: ValueEditorProps) => {
  const { t } = useTranslation();
  const list = useId();
  const asked = rowsWith(before, field.name);
  const values = useQuery({
    ...queries.recipeValues({ steps: asked.steps, parameters: [] }, asked.field),
    enabled: field.type === 'text' && !field.choices,
  });
  const one = to && 'value' in to ? String(to.value) : '';
  const type = field.type === 'date' || field.type === 'datetime' ? 'date' : 'text';
  const asValue = (text: string): string | number =>
    field.type === 'number' && text !== '' && !Number.isNaN(Number(text)) ? Number(text) : text;
  if (is === 'between' || (is === 'within' && type === 'date')) {
    const ends = to && 'from' in to ? to : { from: '', to: '' };
    return (
      <div className="grid grid-cols-2 gap-1">
        <TextBox
          label={t('data.from')}
          type={type}
          value={String(ends.from)}
          onChange={(v) => onChange({ from: asValue(v), to: ends.to === '' ? asValue(v) : ends.to })}
        />
        <TextBox
          label={t('data.until')}
          type={type}
          value={String(ends.to)}
          onChange={(v) => onChange({ from: ends.from === '' ? asValue(v) : ends.from, to: asValue(v) })}
        />
      </div>
    );
  }
  if (is === 'oneOf' || is === 'notOneOf' || is === 'within') {
    const chosen = to && 'values' in to ? to.values.map(String) : [];
    const offered =
      field.choices ?? (values.data?.found ?? []).map((v) => ({ value: v.value, label: `${v.value} (${v.count})` }));
    const all = [
      ...offered,
      ...chosen.filter((v) => !offered.some((o) => o.value === v)).map((v) => ({ value: v, label: v })),
    ];
    return (
      <div className="max-h-32 overflow-auto rounded border border-rule bg-paper p-1">
        {all.length === 0 && (
          <TextBox
            label={t('data.values')}
            placeholder={t('data.commaValues')}
            value={chosen.join(', ')}
            onChange={(v) =>
              onChange({
                values: v
                  .split(',')
                  .map((x) => asValue(x.trim()))
                  .filter((x) => x !== ''),
              })
            }
          />
        )}
        {all.map((choice) => (
          <label key={choice.value} className="flex items-center gap-1.5 px-1">
            <input
              type="checkbox"
              checked={chosen.includes(choice.value)}
              onChange={(event) => {
                const next = event.target.checked
                  ? [...chosen, choice.value]
                  : chosen.filter((v) => v !== choice.value);
                onChange({ values: next.map(asValue) });
              }}
            />
            {choice.label}
          </label>
        ))}
      </div>
    );
  }
  if (field.type === 'boolean' || field.choices) {
    const choices = field.choices ?? [
      { value: 'true', label: t('data.yes') },
      { value: 'false', label: t('data.no') },
    ];
    return (
      <Select
        label={t('data.value')}
        value={one}
        blank={t('data.chooseValue')}
        choices={choices}
        onPick={(picked) => onChange({ value: field.type === 'boolean' ? picked === 'true' : asValue(picked) })}
      />
    );
  }
  return (
    <>
      <TextBox
        label={t('data.value')}
        type={type}
        value={one}
        list={values.data?.found ? list : undefined}
        onChange={(v) => onChange({ value: asValue(v) })}
      />
      {values.data?.found && (
        <datalist id={list}>
          {values.data.found.map((v) => (
            <option key={v.value} value={v.value} />
          ))}
        </datalist>
      )}
    </>
  );
};
