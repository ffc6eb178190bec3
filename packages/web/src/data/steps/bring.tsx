import { findEntity, KEEPS, lackOf, type Source, type StepOf, shownFields } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Select } from '../../ui/select.tsx';
import { Pairs } from '../fields.tsx';
import { freeName } from '../recipe-draft.ts';
import { SourceSelect } from '../source-select.tsx';
import { bringAlong, sourceId } from '../sources.ts';
import type { EditorProps, StepRoom } from '../step-room.ts';
import { TotalsList } from '../totals-list.tsx';

const Editor = (props: EditorProps<StepOf<'bring'>>) => {
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
      <Select
        label={t('data.bringWhat')}
        value={step.relation ?? ''}
        choices={[
          ...relations.map((r) => ({
            value: r.name,
            label: r.kind === 'one' ? t('data.itsOne', { name: r.label }) : t('data.itsMany', { name: r.label }),
          })),
          ...(step.relation !== undefined && !relation
            ? [{ value: step.relation, label: t('data.gone', { name: step.relation }) }]
            : []),
          { value: '', label: t('data.byHand') },
        ]}
        onPick={(name) => {
          const { relation: _, from: __, on: ___, fields: ____, ...rest } = step;
          const chosen = relations.find((r) => r.name === name);
          onChange(
            chosen
              ? { ...rest, relation: chosen.name, as: chosen.name }
              : { ...rest, on: [{ here: '', there: '' }] as never },
          );
        }}
      />
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
      {there.length > 0 && (relation?.kind !== 'one' || step.totals) && (
        <Select
          label={t('data.bringAs')}
          value={step.totals ? 'totals' : 'fields'}
          choices={(['fields', 'totals'] as const).map((what) => ({
            value: what,
            label: t(what === 'totals' ? 'data.bringTotals' : 'data.bringFields'),
          }))}
          onPick={(what) => {
            const { totals: _, fields: __, ...rest } = step;
            onChange(what === 'totals' ? { ...rest, totals: [countOf(rest.as, t('data.rowsCounted'))] } : rest);
          }}
        />
      )}
      {step.totals && (
        <TotalsList totals={step.totals} fields={there} onChange={(totals) => onChange({ ...step, totals })} />
      )}
      <Select
        label={t('data.whichRows')}
        value={step.keep}
        choices={KEEPS.map((keep) => ({ value: keep, label: t(`data.keep_${keep}`) }))}
        onPick={(keep) => onChange({ ...step, keep })}
      />
      {source && there.length > 0 && (
        <Fit before={props.before} parameters={props.parameters} from={source} on={relation?.on ?? step.on ?? []} />
      )}
      {!step.totals && there.length > 0 && (
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

/** How many there are: what is likeliest asked of many rows. */
const countOf = (as: string, label: string): NonNullable<StepOf<'bring'>['totals']>[number] => ({
  total: 'COUNT',
  name: freeName(`${as}_rows`, []),
  label,
});

interface FitProps extends Pick<EditorProps, 'before' | 'parameters'> {
  from: Source;
  on: { here: string; there: string }[];
}

/** How many rows have no partner on the other side. */
const Fit = ({ before, parameters, from, on }: FitProps) => {
  const { t } = useTranslation();
  const fit = useQuery({
    ...queries.recipeFit({ steps: before, parameters }, from, on),
    enabled:
      on.length > 0 &&
      on.every((pair) => pair.here !== '' && pair.there !== '') &&
      before.every((step) => lackOf(step) === null),
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

export const bringRoom: StepRoom<'bring'> = {
  Editor,
  begin: ({ relations }) => (relations[0] ? bringAlong(relations[0]) : { step: 'bring', keep: 'here', as: 'other' }),
  words: ({ relation, from, keep, totals }, { t, source }) => [
    [relation ?? (from ? source(from) : '…')],
    ...(totals ? [[totals.map(({ name, label }) => label ?? name).join(', ')]] : []),
    [t(`data.keep_${keep}`)],
  ],
};
