import { type Field, planRecipe, type Source, type Step, shownFields, type WireRow } from '@gaveta/core/internal';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useOutletContext } from 'react-router';
import { api } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { useThemes } from '../api/use-themes.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { Button } from '../ui/controls.tsx';
import { useFailureText } from '../ui/failure.tsx';
import type { DataParts } from './data-screen.tsx';
import { Pairs } from './fields.tsx';
import { nestRows } from './nest-rows.ts';
import { reportFromRelation } from './report-from-recipe.ts';
import { ResultTable } from './result-table.tsx';
import { SourceSelect } from './source-select.tsx';
import { sourceChoices, sourceLabel } from './sources.ts';

const INNER = 'inner';

/** Relates rows of any two sources by fields whose values are equal, and shows how they nest before a report is made. */
export const RelateScreen = () => {
  const { t } = useTranslation();
  const { models, recipes } = useOutletContext<DataParts>();
  const navigate = useNavigate();
  const client = useQueryClient();
  const said = useFailureText();
  const [outer, setOuter] = useState<Source | null>(null);
  const [inner, setInner] = useState<Source | null>(null);
  const [on, setOn] = useState([{ here: '', there: '' }]);
  const sources = sourceChoices(models, recipes, t('data.recipes'), null);
  const context = {
    models,
    recipe: (id: string) => recipes.find((r) => r.id === id) ?? null,
    queries: [],
    parameters: [],
  };
  const fieldsOf = (from: Source | null): Field[] =>
    from ? shownFields(planRecipe({ name: 'source', steps: [{ step: 'take', from }] }, context).fields) : [];
  const [here, there] = [fieldsOf(outer), fieldsOf(inner)];
  const isReady = outer !== null && inner !== null && on.length > 0 && on.every((p) => p.here !== '' && p.there !== '');
  const differ = on.filter((p) => {
    const types = [here.find((f) => f.name === p.here)?.type, there.find((f) => f.name === p.there)?.type];
    return types[0] && types[1] && types[0] !== types[1];
  });
  const steps: Step[] = isReady
    ? [
        { step: 'take', from: outer },
        { step: 'bring', from: inner, on, keep: 'here', as: INNER },
      ]
    : [];
  const rows = useQuery({
    ...queries.recipeRows({ steps, parameters: [] }),
    enabled: isReady && differ.length === 0,
    placeholderData: keepPreviousData,
  });
  const fit = useQuery({
    ...queries.recipeFit({ steps: steps.slice(0, 1), parameters: [] }, inner!, on),
    enabled: isReady && differ.length === 0,
  });
  const { house } = useThemes();
  const make = useMutation({
    mutationFn: () => {
      const named = (from: Source, fields: readonly Field[]) => ({
        from,
        label: sourceLabel(from, models, recipes),
        fields,
      });
      return api.create(reportFromRelation(named(outer!, here), named(inner!, there), on, house));
    },
    onSuccess: (made) => {
      void client.invalidateQueries(queries.reports());
      navigate(`/reports/${made.id}/design`);
    },
  });
  const found = rows.data?.found;
  const unseen = rows.data?.failure;
  const failure = unseen ? problemWords(unseen.problem) : make.error ? said(make.error).detail : null;
  const facts = fit.data?.found;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex h-11 flex-none items-center gap-2 border-b border-rule px-3">
        <b>{t('data.relate')}</b>
        <span className="truncate text-ink-3">{t('data.relateHelp')}</span>
        <span className="flex-1" />
        <Button look="primary" disabled={!isReady || differ.length > 0 || make.isPending} onClick={() => make.mutate()}>
          {t('data.makeReport')}
        </Button>
      </div>
      <div className="grid grid-cols-2 gap-3 border-b border-rule-soft p-3">
        <div>
          <p className="mb-1 text-ink-2">{t('data.eachOf')}</p>
          <SourceSelect sources={sources} value={outer} onPick={setOuter} label={t('data.eachOf')} />
        </div>
        <div>
          <p className="mb-1 text-ink-2">{t('data.withIts')}</p>
          <SourceSelect sources={sources} value={inner} onPick={setInner} label={t('data.withIts')} />
        </div>
        {outer && inner && (
          <div className="col-span-2 max-w-2xl">
            <Pairs here={here} there={there} on={on} onChange={setOn} />
          </div>
        )}
      </div>
      {differ.length > 0 && (
        <p role="alert" className="m-3 rounded bg-rust-soft px-3 py-2 text-rust-strong">
          {t('data.pairsDiffer')}
        </p>
      )}
      {facts && (
        <p className="px-3 pt-2.5" data-testid="fit">
          {t('data.fitParents', { count: facts.hereAlone, all: facts.here })}{' '}
          {t('data.fitChildren', { count: facts.thereAlone, all: facts.there })}
        </p>
      )}
      {failure && (
        <p role="alert" className="m-3 rounded bg-rust-soft px-3 py-2 text-rust-strong">
          {failure}
        </p>
      )}
      {found && isReady && (
        <Nested fields={found.fields} rows={found.rows} outer={here.length} label={t('data.relate')} />
      )}
      {!isReady && <p className="p-3 text-ink-3">{t('data.relateEmpty')}</p>}
    </div>
  );
};

interface NestedProps {
  fields: readonly Field[];
  rows: readonly WireRow[];
  /** How many of the fields are those of the outer rows. */
  outer: number;
  label: string;
}

const Nested = ({ fields, rows, outer, label }: NestedProps) => {
  const { t } = useTranslation();
  const groups = nestRows(rows, outer).slice(0, 30);
  const inner = fields.slice(outer).map((f) => ({ ...f, label: f.label.replace(/^[^:]*: /, '') }));
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys
    <div tabIndex={0} className="min-h-0 flex-1 overflow-auto p-3" data-testid="nested">
      {groups.map(({ row, inner: children }, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name of their own
        <section key={i} className="mb-3">
          <ResultTable label={`${label} ${i + 1}`} fields={fields.slice(0, outer)} rows={[row]} facts={null} />
          <div className="mt-1 ms-4 border-s-2 border-brass ps-3">
            {children.length > 0 ? (
              <ResultTable
                label={`${label} ${i + 1}, ${t('data.withIts')}`}
                fields={inner}
                rows={children}
                facts={null}
              />
            ) : (
              <p className="text-ink-3">{t('data.noPartner')}</p>
            )}
          </div>
        </section>
      ))}
    </div>
  );
};
