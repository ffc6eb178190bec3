import { type ChosenField, type Entity, type Model, usualSort } from '@gaveta/core/internal';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { Pick } from '../ui/pick.tsx';
import { Select } from '../ui/select.tsx';
import { type GuidedDraft, groupPeriod, offeredFields, type RowsChoice, totalsFor } from './choices.ts';

export interface StepProps {
  draft: GuidedDraft;
  onDraft: (draft: GuidedDraft) => void;
}

/** Names a field among those that are offered. */
export const keyOf = (field: ChosenField): string => field.path.join('.');

const PERIODS = ['value', 'day', 'week', 'month', 'quarter', 'year'] as const;

/** What rows are grouped by, and which numbers are added up. */
export const GroupsStep = ({
  rows,
  found,
  draft,
  onDraft,
}: StepProps & { rows: RowsChoice; found: { model: Model; entity: Entity } }) => {
  const { t } = useTranslation();
  const offered = offeredFields(found.model, found.entity).flatMap((part, i) =>
    part.fields
      .filter((f) => f.field.type !== 'picture')
      .map((f) => ({ ...f, label: i === 0 ? f.field.label : `${part.label}: ${f.field.label}` })),
  );
  const totalled = draft.fields.filter((f) => totalsFor(f.field.type).length > 0);
  return (
    <>
      <h2 className="mb-1 font-semibold">{t('start.groupBy')}</h2>
      {draft.groups.map((group, i) => {
        const field = offered.find((f) => keyOf(f) === group.path.join('.'));
        const isTime = field?.field.type === 'date' || field?.field.type === 'datetime';
        return (
          <div key={group.path.join('.')} className="mb-1 flex items-center gap-1.5">
            <b className="min-w-0 flex-1 truncate font-semibold">{group.label}</b>
            {isTime && (
              <span className="w-32">
                <Select
                  label={t('drawer.groupEach', { name: group.label })}
                  value={group.per ?? 'value'}
                  choices={PERIODS.map((value) => ({ value, label: t(`drawer.each_${value}`) }))}
                  onPick={(per) =>
                    onDraft({ ...draft, groups: draft.groups.map((g, at) => (at === i ? { ...g, per } : g)) })
                  }
                />
              </span>
            )}
            <Button onClick={() => onDraft({ ...draft, groups: draft.groups.filter((_, at) => at !== i) })}>
              {t('start.takeOut')}
            </Button>
          </div>
        );
      })}
      <Pick
        label={t('drawer.addGroup')}
        choices={offered
          .filter((f) => !draft.groups.some((g) => g.path.join('.') === keyOf(f)))
          .map((f) => ({ value: keyOf(f), label: f.label }))}
        onPick={(path) => {
          const field = offered.find((f) => keyOf(f) === path);
          if (field)
            onDraft({
              ...draft,
              groups: [...draft.groups, { path: field.path, label: field.label, per: groupPeriod(field.field.type) }],
            });
        }}
      />
      <SortChoice rows={rows} offered={offered} draft={draft} onDraft={onDraft} />
      <h2 className="mt-4 mb-1 font-semibold">{t('start.totals')}</h2>
      {totalled.length === 0 && <p className="text-ink-3">{t('start.noTotals')}</p>}
      {totalled.map((field) => {
        const path = keyOf(field);
        const { [path]: chosen, ...others } = draft.totals;
        return (
          <div key={path} className="mb-1 grid grid-cols-2 items-center gap-1.5">
            <span className="truncate">{field.field.label}</span>
            <Select
              label={t('start.totalOf', { field: field.field.label })}
              value={chosen ?? ''}
              choices={[
                { value: '', label: t('start.noTotal') },
                ...totalsFor(field.field.type).map((value) => ({ value, label: t(`data.total_${value}`) })),
              ]}
              onPick={(name) => onDraft({ ...draft, totals: name === '' ? others : { ...others, [path]: name } })}
            />
          </div>
        );
      })}
    </>
  );
};

interface SortProps extends StepProps {
  rows: RowsChoice;
  offered: readonly (ChosenField & { label: string })[];
}

/** What rows are sorted by inside their groups: what suits them, until somebody chooses. */
const SortChoice = ({ rows, offered, draft, onDraft }: SortProps) => {
  const { t } = useTranslation();
  const usual = usualSort({ source: rows.source, fields: draft.fields });
  const sort = draft.sort === undefined ? usual && { path: usual } : draft.sort;
  const path = sort?.path.join('.') ?? '';
  const pick = (next: string): void => {
    const field = offered.find((f) => keyOf(f) === next);
    onDraft({ ...draft, sort: field ? { path: field.path } : null });
  };
  return (
    <>
      <h2 className="mt-4 mb-1 font-semibold">{t('start.sortBy')}</h2>
      <div className="grid grid-cols-2 gap-1.5">
        <Select
          label={t('start.sortBy')}
          value={path}
          choices={[
            { value: '', label: t('start.asTheyCome') },
            ...offered.map((field) => ({ value: keyOf(field), label: field.label })),
          ]}
          onPick={pick}
        />
        {sort && (
          <Select
            label={t('start.direction')}
            value={sort.descending ? 'down' : 'up'}
            choices={(['up', 'down'] as const).map((value) => ({ value, label: t(`start.direction_${value}`) }))}
            onPick={(to) =>
              onDraft({ ...draft, sort: { path: sort.path, ...(to === 'down' && { descending: true }) } })
            }
          />
        )}
      </div>
    </>
  );
};
