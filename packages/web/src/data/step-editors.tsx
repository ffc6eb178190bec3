import { findEntity, KEEPS, type Source, type Step, type StepOf, shownFields } from '@gaveta/core';
import { useQuery } from '@tanstack/react-query';
import { useTranslation } from 'react-i18next';
import { api } from '../api/client.ts';
import { inputLook } from '../ui/controls.tsx';
import { ConditionEditor } from './condition-editor.tsx';
import { EntryList, FieldSelect, Pairs, TextBox } from './fields.tsx';
import { freeName } from './recipe-draft.ts';
import { type SourceChoice, sourceId, sourceOf } from './sources.ts';
import { SqlStep } from './sql-step.tsx';
import type { EditorProps } from './step-editor-props.ts';
import { SpreadEditor, SummariseEditor } from './total-editors.tsx';

export const StepEditor = (props: EditorProps) => {
  const { step } = props;
  switch (step.step) {
    case 'take':
      return <TakeEditor {...props} step={step} />;
    case 'sql':
      return <SqlStep {...props} step={step} />;
    case 'bring':
      return <BringEditor {...props} step={step} />;
    case 'keep':
      return (
        <ConditionEditor
          condition={step.where}
          fields={props.fields}
          parameters={props.parameters}
          before={props.before}
          onChange={(where) => props.onChange({ ...step, where })}
          onNewParameter={props.onNewParameter}
        />
      );
    case 'add':
      return <AddEditor {...props} step={step} />;
    case 'summarise':
      return <SummariseEditor {...props} step={step} />;
    case 'spread':
      return <SpreadEditor {...props} step={step} />;
    case 'sort':
      return <SortEditor {...props} step={step} />;
    case 'first':
      return <FirstEditor {...props} step={step} />;
    case 'distinct':
      return <DistinctEditor {...props} step={step} />;
    case 'stack':
      return <SourceSelect {...props} value={step.from} onPick={(from) => props.onChange({ ...step, from })} />;
    default:
      return step satisfies never;
  }
};

interface SourceSelectProps {
  sources: readonly SourceChoice[];
  value: Source | null;
  onPick: (source: Source) => void;
  label?: string;
}

export const SourceSelect = ({ sources, value, onPick, label }: SourceSelectProps) => {
  const { t } = useTranslation();
  const groups = [...new Set(sources.map((s) => s.group))];
  const id = value ? sourceId(value) : '';
  return (
    <select
      aria-label={label ?? t('data.rowsFrom')}
      className={inputLook}
      value={id}
      onChange={(event) => onPick(sourceOf(event.target.value))}
    >
      {!sources.some((s) => s.id === id) && <option value={id}>{id === '' ? t('data.chooseSource') : id}</option>}
      {groups.map((group) => (
        <optgroup key={group} label={group}>
          {sources
            .filter((s) => s.group === group)
            .map((s) => (
              <option key={s.id} value={s.id}>
                {s.label}
              </option>
            ))}
        </optgroup>
      ))}
    </select>
  );
};

const TakeEditor = (props: EditorProps<StepOf<'take'>>) => {
  const { step, onChange, models } = props;
  const { from } = step;
  const model = 'entity' in from ? models.find((m) => m.name === from.model) : undefined;
  const entity = model && 'entity' in from ? findEntity(model, from.entity) : null;
  return (
    <div className="flex flex-col gap-1.5">
      <SourceSelect {...props} value={from} onPick={(next) => onChange({ ...step, from: next })} />
      {'entity' in from &&
        (entity?.arguments ?? []).map((argument) => (
          // biome-ignore lint/a11y/noLabelWithoutControl: the control is inside
          <label key={argument.name} className="grid grid-cols-[80px_1fr] items-center gap-1.5">
            <span className="text-ink-2">{argument.label}</span>
            <TextBox
              label={argument.label}
              className="font-mono text-[12px]"
              placeholder={argument.type === 'date' ? 'DATE(2025; 1; 1)' : ''}
              value={from.arguments?.[argument.name] ?? ''}
              onChange={(formula) =>
                onChange({ ...step, from: { ...from, arguments: { ...from.arguments, [argument.name]: formula } } })
              }
            />
          </label>
        ))}
    </div>
  );
};

const BringEditor = (props: EditorProps<StepOf<'bring'>>) => {
  const { t } = useTranslation();
  const { step, onChange, relations, fields, fieldsOf, models } = props;
  const relation = relations.find((r) => r.name === step.relation);
  const byHand = step.relation === undefined;
  const target =
    relation && models.find((m) => (relation.model ? m.name === relation.model : findEntity(m, relation.to)));
  const source: Source | null = byHand
    ? (step.from ?? null)
    : target
      ? { model: target.name, entity: relation!.to }
      : null;
  const there = source ? shownFields(fieldsOf(source)) : [];
  return (
    <div className="flex flex-col gap-1.5">
      <select
        aria-label={t('data.bringWhat')}
        className={inputLook}
        value={step.relation ?? ''}
        onChange={(event) => {
          const { relation: _, from: __, on: ___, fields: ____, ...rest } = step;
          const chosen = relations.find((r) => r.name === event.target.value);
          onChange(
            chosen
              ? { ...rest, relation: chosen.name, as: chosen.name }
              : { ...rest, on: [{ here: '', there: '' }] as never },
          );
        }}
      >
        {relations.map((r) => (
          <option key={r.name} value={r.name}>
            {r.kind === 'one' ? t('data.itsOne', { name: r.label }) : t('data.itsMany', { name: r.label })}
          </option>
        ))}
        {step.relation !== undefined && !relation && (
          <option value={step.relation}>{t('data.gone', { name: step.relation })}</option>
        )}
        <option value="">{t('data.byHand')}</option>
      </select>
      {byHand && (
        <>
          <SourceSelect
            {...props}
            value={step.from ?? null}
            onPick={(from) =>
              onChange({
                ...step,
                from,
                as: freeName(props.sources.find((s) => s.id === sourceId(from))?.label ?? 'other', []),
              })
            }
          />
          {step.from && (
            <Pairs here={fields} there={there} on={step.on ?? []} onChange={(on) => onChange({ ...step, on })} />
          )}
        </>
      )}
      <select
        aria-label={t('data.whichRows')}
        className={inputLook}
        value={step.keep}
        onChange={(event) => onChange({ ...step, keep: event.target.value as (typeof KEEPS)[number] })}
      >
        {KEEPS.map((keep) => (
          <option key={keep} value={keep}>
            {t(`data.keep_${keep}`)}
          </option>
        ))}
      </select>
      {source && there.length > 0 && (
        <Fit before={props.before} parameters={props.parameters} from={source} on={relation?.on ?? step.on ?? []} />
      )}
      {there.length > 0 && (
        <details>
          <summary className="cursor-pointer text-ink-2">
            {step.fields ? t('data.someFields', { count: step.fields.length }) : t('data.allFields')}
          </summary>
          <div className="mt-1 grid max-h-36 grid-cols-2 overflow-auto">
            {there.map((f) => (
              <label key={f.name} className="flex items-center gap-1.5">
                <input
                  type="checkbox"
                  checked={step.fields?.includes(f.name) ?? true}
                  onChange={(event) => {
                    const now = step.fields ?? there.map((x) => x.name);
                    const next = event.target.checked ? [...now, f.name] : now.filter((n) => n !== f.name);
                    onChange({ ...step, fields: next });
                  }}
                />
                {f.label}
              </label>
            ))}
          </div>
        </details>
      )}
    </div>
  );
};

interface FitProps extends Pick<EditorProps, 'before' | 'parameters'> {
  from: Source;
  on: { here: string; there: string }[];
}

/** How many rows have no partner on the other side. */
const Fit = ({ before, parameters, from, on }: FitProps) => {
  const { t } = useTranslation();
  const there: Step[] = [{ step: 'take', from }];
  const fit = useQuery({
    queryKey: ['recipe-fit', before, there, on],
    queryFn: ({ signal }) => api.recipeFit({ steps: before, parameters, there, on }, signal),
    enabled: on.length > 0 && on.every((pair) => pair.here !== '' && pair.there !== ''),
    staleTime: 60_000,
  });
  const found = fit.data?.found;
  if (!found) return fit.isFetching ? <p className="text-ink-3">{t('data.looking')}</p> : null;
  return (
    <p className="text-[12px] text-ink-2" data-testid="fit">
      {t('data.fitHere', { count: found.hereAlone, all: found.here })}{' '}
      {t('data.fitThere', { count: found.thereAlone, all: found.there })}
    </p>
  );
};

const AddEditor = ({ step, onChange, fields }: EditorProps<StepOf<'add'>>) => {
  const { t } = useTranslation();
  const taken = fields.map((f) => f.name);
  return (
    <div className="flex flex-col gap-1.5">
      <TextBox
        label={t('data.columnName')}
        placeholder={t('data.columnName')}
        value={step.label ?? step.name}
        onChange={(label) => onChange({ ...step, label, name: freeName(label, taken) })}
      />
      <TextBox
        label={t('data.formula')}
        className="font-mono text-[12px]"
        placeholder="nights * 2"
        value={step.formula}
        onChange={(formula) => onChange({ ...step, formula })}
      />
      <p className="text-[11.5px] text-ink-3">
        {t('data.formulaHint', {
          fields: shownFields(fields)
            .slice(0, 8)
            .map((f) => f.name)
            .join(', '),
        })}
      </p>
    </div>
  );
};

const SortEditor = ({ step, onChange, fields }: EditorProps<StepOf<'sort'>>) => {
  const { t } = useTranslation();
  return (
    <EntryList
      items={step.by}
      onChange={(by) => onChange({ ...step, by })}
      add={t('data.addSort')}
      make={(): StepOf<'sort'>['by'][number] => ({ field: '' })}
      name={(by) => by.field}
    >
      {(by, change) => (
        <>
          <FieldSelect
            label={t('data.sortBy')}
            fields={fields}
            value={by.field}
            onChange={(field) => change({ ...by, field })}
          />
          <select
            aria-label={t('data.direction')}
            className={`${inputLook} max-w-36`}
            value={by.descending ? 'down' : 'up'}
            onChange={(event) =>
              change({ field: by.field, ...(event.target.value === 'down' ? { descending: true } : {}) })
            }
          >
            <option value="up">{t('data.up')}</option>
            <option value="down">{t('data.down')}</option>
          </select>
        </>
      )}
    </EntryList>
  );
};

const FirstEditor = ({ step, onChange, fields }: EditorProps<StepOf<'first'>>) => {
  const { t } = useTranslation();
  return (
    <div className="flex items-center gap-1.5">
      <TextBox
        label={t('data.count')}
        type="number"
        className="max-w-24"
        value={String(step.count)}
        onChange={(text) => onChange({ ...step, count: Math.max(1, Math.round(Number(text)) || 1) })}
      />
      {t('data.ofEach')}
      <FieldSelect
        label={t('data.ofEach')}
        fields={fields}
        blank={t('data.ofAll')}
        value={step.per?.[0] ?? ''}
        onChange={(name) => onChange({ step: 'first', count: step.count, ...(name ? { per: [name] } : {}) })}
      />
    </div>
  );
};

const DistinctEditor = ({ step, onChange, fields }: EditorProps<StepOf<'distinct'>>) => {
  const { t } = useTranslation();
  return (
    <EntryList
      items={step.by ?? []}
      onChange={(by) => onChange(by.length > 0 ? { ...step, by } : { step: 'distinct' })}
      add={t('data.addDistinct')}
      make={() => shownFields(fields)[0]?.name ?? ''}
      name={(name) => name}
    >
      {(name, change) => <FieldSelect label={t('data.alikeIn')} fields={fields} value={name} onChange={change} />}
    </EntryList>
  );
};
