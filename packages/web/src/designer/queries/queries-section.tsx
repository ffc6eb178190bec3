import { type Field, freeName, type Query, type Report, type ReportRelation, shownFields } from '@gaveta/core/internal';
import { Pencil, Plus, X } from 'lucide-react';
import { lazy, Suspense, useState } from 'react';
import { Pairs } from '../../data/fields.tsx';
import { useTranslation } from '../../i18n/use-translation.ts';
import { CommitBox } from '../../ui/commit.tsx';
import { IconButton } from '../../ui/controls.tsx';
import { Pick } from '../../ui/pick.tsx';
import { Select } from '../../ui/select.tsx';
import { useDesign } from '../design/context.ts';
import { agreedToRemove } from '../design/removing.ts';
import { useDesigner } from '../design/state.ts';
import { Section, Setting } from '../settings/setting.tsx';
import { sharedQuery } from './shared-query.ts';

/** It brings the editors of the Data screen along, which few need here. */
const QueryDialog = lazy(() => import('./query-dialog.tsx'));

/** Rows that the report puts together itself, and relations between them and the tables. */
export const QueriesSection = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { models, recipes } = useDesign();
  const { edit } = useDesigner.getState();
  const [open, setOpen] = useState<number | null>(null);
  const list = report.queries ?? [];
  const put = (name: string, queries: Query[]): void =>
    edit(t('edits.query', { name }), { do: 'report', settings: { queries: queries.length > 0 ? queries : null } });
  const shown = (query: Query): string => query.label ?? query.name;
  return (
    <Section title={t('queries.title')} section="queries" more={<Relations report={report} />}>
      {list.length === 0 && <p className="text-[11.5px] text-ink-3">{t('queries.none')}</p>}
      {list.map((query, i) => {
        const recipe = query.recipe === undefined ? null : recipes.find((r) => r.id === query.recipe);
        return (
          <div key={query.name} className="flex items-center gap-1" data-query={query.name}>
            <span className="min-w-0 flex-1 truncate" title={shown(query)}>
              {shown(query)}{' '}
              <span className="text-[11.5px] text-ink-3">
                {query.steps ? t('queries.steps', { count: query.steps.length }) : t('queries.shared')}
              </span>
            </span>
            {query.steps ? (
              <IconButton label={t('queries.edit', { name: shown(query) })} onClick={() => setOpen(i)}>
                <Pencil size={13} />
              </IconButton>
            ) : (
              recipe && (
                <button
                  type="button"
                  className="text-[12px] text-pine hover:underline"
                  onClick={() => {
                    const own = { name: query.name, label: shown(query), steps: recipe.steps };
                    put(
                      shown(query),
                      list.map((q, at) => (at === i ? own : q)),
                    );
                  }}
                >
                  {t('queries.own')}
                </button>
              )
            )}
            <IconButton
              label={t('queries.remove', { name: shown(query) })}
              onClick={async () => {
                if (!(await agreedToRemove(t, shown(query), { kind: 'query', name: query.name }))) return;
                put(
                  shown(query),
                  list.filter((_, at) => at !== i),
                );
              }}
            >
              <X size={13} />
            </IconButton>
          </div>
        );
      })}
      <div className="flex flex-wrap items-center gap-2">
        <button
          type="button"
          className="flex items-center gap-1 rounded px-1 text-pine hover:bg-pine-soft"
          onClick={() => setOpen(list.length)}
        >
          <Plus size={12} aria-hidden /> {t('queries.add')}
        </button>
        {recipes.length > 0 && (
          <Pick
            label={t('queries.addShared')}
            choices={recipes.map((r) => ({ value: r.id, label: r.name }))}
            onPick={(id) => {
              const recipe = recipes.find((r) => r.id === id)!;
              edit(t('edits.query', { name: recipe.name }), sharedQuery(report, recipe).edit);
            }}
          />
        )}
      </div>
      {open !== null && (
        <Suspense>
          <QueryDialog report={report} models={models} recipes={recipes} at={open} onClose={() => setOpen(null)} />
        </Suspense>
      )}
    </Section>
  );
};

/** Fields to begin with: of one name and type, or else of one type. */
const likelyPair = (here: readonly Field[], there: readonly Field[]): ReportRelation['on'][number] => {
  const pairs = here.flatMap((a) => there.filter((b) => b.type === a.type).map((b) => [a, b] as const));
  const [a, b] = pairs.find(([a, b]) => a.name === b.name) ?? pairs[0] ?? [here[0], there[0]];
  return { here: a?.name ?? '', there: b?.name ?? '' };
};

/** Relations that the report adds between tables and queries. */
const Relations = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const { model } = useDesign();
  const { edit } = useDesigner.getState();
  const list = report.relations ?? [];
  const entities = model?.entities.filter((e) => !e.arguments) ?? [];
  const put = (relations: ReportRelation[]): void =>
    edit(t('edits.relations'), { do: 'report', settings: { relations: relations.length > 0 ? relations : null } });
  const choices = entities.map((e) => ({ value: e.name, label: e.plural }));
  const fieldsOf = (name: string): Field[] => shownFields(entities.find((e) => e.name === name)?.fields ?? []);
  return (
    <div>
      <span className="text-ink-2">{t('queries.relations')}</span>
      {list.map((relation, i) => {
        const replace = (next: Partial<ReportRelation>): void =>
          put(list.map((old, at) => (at === i ? { ...old, ...next } : old)));
        const name = relation.label ?? relation.name;
        return (
          <fieldset
            // biome-ignore lint/suspicious/noArrayIndexKey: a relation that is renamed stays the same one
            key={i}
            aria-label={t('queries.relation', { name })}
            className="mt-1 border-s-2 border-brass-soft ps-2"
          >
            <div className="flex items-center gap-1">
              <CommitBox
                label={t('queries.relationName')}
                value={name}
                onCommit={(label) => label.trim() !== '' && replace({ label: label.trim() })}
              />
              <IconButton label={t('queries.remove', { name })} onClick={() => put(list.filter((_, at) => at !== i))}>
                <X size={13} />
              </IconButton>
            </div>
            {(['from', 'to'] as const).map((end) => (
              <Setting key={end} label={t(`queries.${end}`)}>
                <Select
                  label={t(`queries.${end}`)}
                  value={relation[end]}
                  choices={choices}
                  onPick={(entity) => replace({ [end]: entity })}
                />
              </Setting>
            ))}
            <Setting label={t('queries.kind')}>
              <Select
                label={t('queries.kind')}
                value={relation.kind}
                choices={(['one', 'many'] as const).map((value) => ({ value, label: t(`queries.kind_${value}`) }))}
                onPick={(kind) => replace({ kind })}
              />
            </Setting>
            <Pairs
              here={fieldsOf(relation.from)}
              there={fieldsOf(relation.to)}
              on={relation.on}
              onChange={(on) => on.length > 0 && replace({ on })}
            />
          </fieldset>
        );
      })}
      {entities.length > 0 && (
        <button
          type="button"
          className="mt-1 flex items-center gap-1 rounded px-1 text-pine hover:bg-pine-soft"
          onClick={() => {
            const [first, second = first] = [entities[0]!, entities.at(-1)!];
            const on = [likelyPair(fieldsOf(first.name), fieldsOf(second.name))];
            const name = freeName('relation', new Set(list.map((r) => r.name)));
            put([...list, { name, from: first.name, to: second.name, kind: 'many', on }]);
          }}
        >
          <Plus size={12} aria-hidden /> {t('queries.addRelation')}
        </button>
      )}
    </div>
  );
};
