import {
  type Comparison,
  type Field,
  type PlannedRecipe,
  parameterSchema,
  planRecipe,
  type Source,
  type Step,
  type StepKind,
} from '@gaveta/core';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Redo2, Save, Undo2 } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { useNavigate, useOutletContext, useParams, useSearchParams } from 'react-router';
import { ApiFailure, api, type GivenValues, type Looked } from '../api/client.ts';
import { Button, IconButton, Notice } from '../ui/controls.tsx';
import { useFailureText } from '../ui/failure.tsx';
import { ParameterChips } from '../viewer/parameter-chips.tsx';
import { AddStep, FirstStep } from './add-step.tsx';
import type { DataParts } from './data-screen.tsx';
import { TextBox } from './fields.tsx';
import { newStep, parameterFor } from './new-step.ts';
import { ParameterForm } from './parameter-form.tsx';
import {
  freeName,
  isChanged,
  movedStep,
  useDrafts,
  withNewStep,
  withoutStep,
  withParameter,
  withStep,
} from './recipe-draft.ts';
import { reportFromRecipe } from './report-from-recipe.ts';
import { RowsView } from './rows-view.tsx';
import { sourceChoices, sourceLabel } from './sources.ts';
import { StepCard } from './step-card.tsx';
import { StepEditor } from './step-editors.tsx';

export const RecipeScreen = () => {
  const { t } = useTranslation();
  const { id = 'new' } = useParams();
  const { models, recipes, canSql } = useOutletContext<DataParts>();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const said = useFailureText();
  const [search] = useSearchParams();
  const [selected, setSelected] = useState(-1);
  const [values, setValues] = useState<GivenValues>({});
  const history = useDrafts((s) => s.drafts[id]);
  const { open, change, undo, redo } = useDrafts.getState();
  const stored = recipes.find((r) => r.id === id);
  useEffect(() => {
    setSelected(-1);
    if (stored) open(id, { name: stored.name, steps: stored.steps, parameters: stored.parameters }, stored.revision);
    else if (id === 'new') {
      const [model, entity] = (search.get('from') ?? '').split('/');
      const sql = search.get('sql');
      const step: Step | null = sql
        ? { step: 'sql', model: sql, text: '', columns: [] }
        : model && entity
          ? { step: 'take', from: { model, entity } }
          : null;
      if (step) useDrafts.getState().forget('new');
      open('new', { name: t('data.newRecipe'), steps: step ? [step] : [], parameters: [] }, 0);
      setSelected(0);
    }
  }, [id, stored, open, search, t]);
  const users = useQuery({
    queryKey: ['recipe-users', id],
    queryFn: () => api.recipeUsers(id),
    enabled: stored !== undefined,
  });

  const draft = history?.now;
  const planned = useMemo(() => {
    if (!draft) return null;
    const context = {
      models,
      recipe: (name: string) => recipes.find((r) => r.id === name) ?? null,
      queries: [],
      parameters: draft.parameters,
    };
    const whole = planRecipe({ name: 'recipe', steps: draft.steps }, context);
    // What can be brought in at a step depends on the steps before it.
    const before = draft.steps.map((_, i) => planRecipe({ name: 'recipe', steps: draft.steps.slice(0, i) }, context));
    const fieldsOf = (source: Source): readonly Field[] =>
      planRecipe({ name: 'source', steps: [{ step: 'take', from: source }] }, context).fields;
    return { whole, before, fieldsOf };
  }, [draft, models, recipes]);

  const save = useMutation({
    mutationFn: async () => {
      const now = useDrafts.getState().drafts[id]!;
      const made = now.base === 0 ? await api.createRecipe(now.now) : await api.saveRecipe(id, now.now, now.base);
      return { made, draft: now.now };
    },
    onSuccess: async ({ made, draft: saved }) => {
      await queries.invalidateQueries({ queryKey: ['recipes'] });
      if (made.id !== id) {
        useDrafts.getState().forget(id);
        navigate(`/data/recipes/${made.id}`, { replace: true });
      } else useDrafts.getState().saved(id, saved, made.revision);
    },
  });
  const remove = useMutation({
    mutationFn: () => api.removeRecipe(id),
    onSuccess: async () => {
      useDrafts.getState().forget(id);
      navigate('/data');
      await queries.invalidateQueries({ queryKey: ['recipes'] });
    },
  });
  const makeReport = useMutation({
    mutationFn: () => api.create(reportFromRecipe(id, draft!, planned!.whole.fields)),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ['reports'] });
      navigate(`/reports/${made.id}/design`);
    },
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (command && key === 's') {
        event.preventDefault();
        if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
        save.mutate();
      } else if (
        command &&
        (key === 'z' || key === 'y') &&
        !(event.target as HTMLElement).closest('.cm-editor, input, textarea')
      ) {
        event.preventDefault();
        if (key === 'y' || event.shiftKey) redo(id);
        else undo(id);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [id, save, undo, redo]);

  if (!draft || !planned)
    return <Notice>{id !== 'new' && recipes.length > 0 && !stored ? t('data.noRecipe') : t('app.loading')}</Notice>;
  const at = selected < 0 ? draft.steps.length - 1 : Math.min(selected, draft.steps.length - 1);
  const put = (next: typeof draft): void => change(id, next);
  const looked = (count: number): Looked => ({
    steps: draft.steps.slice(0, count),
    parameters: draft.parameters,
    values,
  });
  const addParameter = (field: Field, is: string): string => {
    const name = freeName(
      field.name,
      draft.parameters.map((p) => p.name),
    );
    const made = parameterSchema.parse({ name, label: field.label, ...parameterFor(field, is) });
    // The step that asks for it is changed right after, in one step to undo.
    useDrafts.setState(({ drafts }) => ({
      drafts: { ...drafts, [id]: { ...drafts[id]!, now: withParameter(drafts[id]!.now, made) } },
    }));
    return name;
  };
  const sources = sourceChoices(models, recipes, t('data.recipes'), id);
  const database = models.find((m) => m.origin.kind === 'database');
  const add = (kind: StepKind): void => {
    const before = planned.whole.steps[at];
    const upTo = planRecipeAt(planned.before, planned.whole, at + 1);
    put(
      withNewStep(draft, newStep(kind, planned.whole, before?.fields ?? [], upTo.relations, database?.name ?? ''), at),
    );
    setSelected(at + 1);
  };
  const changed = isChanged(history!);
  const broken = save.error
    ? said(save.error).detail
    : remove.error
      ? said(remove.error).detail
      : makeReport.error
        ? said(makeReport.error).detail
        : null;

  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="flex h-11 flex-none items-center gap-2 border-b border-rule px-3">
        <TextBox
          label={t('data.recipeName')}
          className="max-w-64 font-semibold"
          value={draft.name}
          onChange={(name) => name.trim() !== '' && put({ ...draft, name: name.trim() })}
        />
        <span className="truncate text-ink-3" role="status" data-testid="recipe-state">
          {save.isPending
            ? t('designer.saving')
            : changed
              ? t('designer.unsaved')
              : t('data.savedRecipe', { revision: history!.base })}
          {users.data && users.data.length > 0 && (
            <span title={users.data.map((u) => u.name).join('\n')}>
              {' '}
              · {t('data.usedBy', { count: users.data.length })}
            </span>
          )}
        </span>
        <span className="flex-1" />
        <IconButton label={t('designer.undo')} disabled={history!.done.length === 0} onClick={() => undo(id)}>
          <Undo2 size={16} />
        </IconButton>
        <IconButton label={t('designer.redo')} disabled={history!.undone.length === 0} onClick={() => redo(id)}>
          <Redo2 size={16} />
        </IconButton>
        {stored && (
          <Button
            look="quiet"
            onClick={() => window.confirm(t('data.removeSure', { name: draft.name })) && remove.mutate()}
          >
            {t('data.remove')}
          </Button>
        )}
        <Button
          disabled={history!.base === 0 || changed || planned.whole.problems.length > 0}
          title={changed ? t('data.saveFirst') : ''}
          onClick={() => makeReport.mutate()}
        >
          {t('data.useInReport')}
        </Button>
        <Button
          look="primary"
          disabled={!changed || save.isPending || draft.steps.length === 0}
          onClick={() => save.mutate()}
        >
          <Save size={14} aria-hidden /> {t('designer.save')}
        </Button>
      </div>
      {broken && (
        <p role="alert" className="border-b border-rust bg-rust-soft px-3.5 py-2 text-rust">
          {broken}
          {save.error instanceof ApiFailure && save.error.code === 'conflict' && (
            <button
              type="button"
              className="ml-2 underline"
              onClick={() => {
                const { current } = (save.error as ApiFailure).document as { current: { revision: number } };
                useDrafts.setState(({ drafts }) => ({
                  drafts: { ...drafts, [id]: { ...drafts[id]!, base: current.revision } },
                }));
                save.mutate();
              }}
            >
              {t('data.saveOver')}
            </button>
          )}
        </p>
      )}
      {draft.parameters.length > 0 && (
        <ParameterChips
          parameters={draft.parameters}
          values={values}
          onChange={(name, value) => setValues((old) => ({ ...old, [name]: value }))}
        />
      )}
      <div className="grid min-h-0 flex-1 grid-cols-[420px_minmax(0,1fr)]">
        <div className="overflow-auto border-r border-rule p-3">
          {draft.steps.length === 0 ? (
            <FirstStep
              sources={sources}
              canSql={canSql && database !== undefined}
              onTake={(step) => put({ ...draft, steps: [step] })}
              database={database?.name ?? ''}
            />
          ) : (
            <>
              <ol aria-label={t('data.steps')} className="flex flex-col gap-2.5">
                {planned.whole.steps.map((step, i) => (
                  <StepCard
                    // biome-ignore lint/suspicious/noArrayIndexKey: steps are told apart by their place
                    key={i}
                    number={i + 1}
                    planned={step}
                    fields={planned.whole.steps[i - 1]?.fields ?? []}
                    parameters={draft.parameters}
                    source={(from) => sourceLabel(from, models, recipes)}
                    isSelected={i === at && selected >= 0}
                    count={step.operation && <StepCount looked={looked(i + 1)} />}
                    onSelect={() => setSelected(i === selected ? -1 : i)}
                    onChange={(next) => put(withStep(useDrafts.getState().drafts[id]!.now, i, next))}
                    onRemove={() => {
                      put(withoutStep(draft, i));
                      setSelected(-1);
                    }}
                    onMove={(by) => {
                      put(movedStep(draft, i, by));
                      setSelected(i + by);
                    }}
                  >
                    <StepEditor
                      step={step.step}
                      onChange={(next) => put(withStep(useDrafts.getState().drafts[id]!.now, i, next))}
                      fields={planned.whole.steps[i - 1]?.fields ?? []}
                      relations={planned.before[i]!.relations}
                      parameters={draft.parameters}
                      before={draft.steps.slice(0, i)}
                      models={models}
                      recipes={recipes}
                      sources={sources}
                      fieldsOf={planned.fieldsOf}
                      onNewParameter={(field, is: Comparison | string) => addParameter(field, is)}
                      planned={planned.whole}
                    />
                  </StepCard>
                ))}
              </ol>
              <AddStep onAdd={add} />
              <ParameterForm parameters={draft.parameters} onChange={(parameters) => put({ ...draft, parameters })} />
            </>
          )}
        </div>
        <RowsView
          looked={looked(at + 1)}
          title={t('data.afterStep', { number: at + 1 })}
          isReady={planned.whole.steps.slice(0, at + 1).some((s) => s.operation)}
        />
      </div>
    </div>
  );
};

/** The recipe as far as a step, for what leads on from there. */
const planRecipeAt = (before: readonly PlannedRecipe[], whole: PlannedRecipe, count: number): PlannedRecipe =>
  before[count] ?? whole;

const StepCount = ({ looked }: { looked: Looked }) => {
  const { t, i18n } = useTranslation();
  const count = useQuery({
    queryKey: ['recipe-count', looked],
    queryFn: ({ signal }) => api.recipeCount(looked, signal),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });
  const found = count.data?.found;
  if (!found) return count.data?.failure || count.error ? <>–</> : <>…</>;
  return <>{t('data.rows', { count: found.count, shown: found.count.toLocaleString(i18n.language) })}</>;
};
