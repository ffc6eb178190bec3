import {
  type Comparison,
  type Field,
  isWritten,
  keepingAway,
  type Parameter,
  type PlannedRecipe,
  type Problem,
  planRecipe,
  type Query,
  readDefinition,
  type Source,
  type StepKind,
} from '@gaveta/core/internal';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { TFunction } from 'i18next';
import { Redo2, Undo2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import type { GivenValues, Looked, ModelWithOrigin, RecipeDraft, StoredRecipe } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { shownParameters } from '../parameters/all-words.ts';
import { ParameterChips } from '../parameters/parameter-chips.tsx';
import { IconButton } from '../ui/controls.tsx';
import { AddStep, FirstStep } from './add-step.tsx';
import type { ChoiceHome } from './parameters/choices-editor.tsx';
import { parameterFor } from './parameters/parameter-for.ts';
import { ParameterForm } from './parameters/parameter-form.tsx';
import { movedStep, useDrafts, withNewStep, withoutStep, withParameter, withStep } from './recipe-draft.ts';
import { RowsView } from './rows-view.tsx';
import { sourceChoices, sourceWords } from './sources.ts';
import { StepCard } from './step-card.tsx';
import { newStep, StepEditor } from './step-rooms.ts';

/** What the steps of a draft may take from. */
interface Around {
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  /** Other queries of the report that the steps belong to. */
  queries?: readonly Query[];
}

const NONE: readonly Query[] = [];

/** A draft planned as a whole and up to each step; `fieldsOf` a source that it may take from. */
export interface PlannedDraft {
  whole: PlannedRecipe;
  before: PlannedRecipe[];
  fieldsOf: (source: Source) => readonly Field[];
}

export const usePlannedDraft = (
  draft: RecipeDraft | undefined,
  { models, recipes, queries = NONE }: Around,
): PlannedDraft | null =>
  useMemo(() => {
    if (!draft) return null;
    const context = {
      models,
      recipe: (name: string) => recipes.find((r) => r.id === name) ?? null,
      queries,
      parameters: draft.parameters,
    };
    const whole = planRecipe({ name: 'recipe', steps: draft.steps }, context);
    // What can be brought in at a step depends on the steps before it.
    const before = draft.steps.map((_, i) => planRecipe({ name: 'recipe', steps: draft.steps.slice(0, i) }, context));
    const fieldsOf = (source: Source): readonly Field[] =>
      planRecipe({ name: 'source', steps: [{ step: 'take', from: source }] }, context).fields;
    return { whole, before, fieldsOf };
  }, [draft, models, recipes, queries]);

/** Undo and redo of a draft. */
export const UndoRedo = ({ id }: { id: string }) => {
  const { t } = useTranslation();
  const history = useDrafts((s) => s.drafts[id]);
  const { undo, redo } = useDrafts.getState();
  return (
    <>
      <IconButton label={t('designer.undo')} disabled={!history?.done.length} onClick={() => undo(id)}>
        <Undo2 size={16} />
      </IconButton>
      <IconButton label={t('designer.redo')} disabled={!history?.undone.length} onClick={() => redo(id)}>
        <Redo2 size={16} />
      </IconButton>
    </>
  );
};

/** The table that a recipe takes its first rows from; null where they come from elsewhere. */
const takenFrom = ({ steps }: RecipeDraft): { model: string; entity: string } | null => {
  const [first] = steps;
  return first?.step === 'take' && 'entity' in first.from ? first.from : null;
};

/** Where the choices of a recipe’s parameters come from: the model of its first table. */
const useRecipeHome = (
  draft: RecipeDraft,
  models: readonly ModelWithOrigin[],
  recipes: readonly StoredRecipe[],
): ChoiceHome | null =>
  useMemo(() => {
    const model = takenFrom(draft)?.model;
    const read = readDefinition({ gaveta: 2, name: 'Recipe', model, parameters: draft.parameters, body: [] });
    const recipe = (id: string): StoredRecipe | null => recipes.find((r) => r.id === id) ?? null;
    return read.ok && model !== undefined ? { report: read.report, context: { models, recipe } } : null;
  }, [draft, models, recipes]);

/** What a step among the first ones lacks, with its number; null when none lacks anything. */
const lackBefore = ({ steps }: PlannedRecipe, count: number): { number: number; problem: Problem } | null => {
  for (const [i, { problems }] of steps.slice(0, count).entries()) {
    const problem = problems.find(({ code }) => code === 'recipe-step-unfinished');
    if (problem) return { number: i + 1, problem };
  }
  return null;
};

/** The same in words. */
export const lackWords = (t: TFunction, recipe: PlannedRecipe, count = recipe.steps.length): string | null => {
  const lack = lackBefore(recipe, count);
  return lack && t('data.stepLacks', { number: lack.number, words: problemWords(lack.problem) });
};

interface RecipeEditorProps extends Around {
  /** Of the draft that is edited. */
  id: string;
  planned: PlannedDraft;
  canSql: boolean;
  /** The step that is open at first; none when left out. */
  open?: number;
}

/** The steps of a draft, its parameters, and the rows after the step that is looked at. */
export const RecipeEditor = ({
  id,
  planned,
  models,
  recipes,
  queries = NONE,
  canSql,
  open = -1,
}: RecipeEditorProps) => {
  const { t } = useTranslation();
  const [selected, setSelected] = useState(open);
  const [values, setValues] = useState<GivenValues>({});
  const draft = useDrafts((s) => s.drafts[id]!.now);
  const latest = (): RecipeDraft => useDrafts.getState().drafts[id]!.now;
  const put = (next: RecipeDraft): void => useDrafts.getState().change(id, next);
  const at = selected < 0 ? draft.steps.length - 1 : Math.min(selected, draft.steps.length - 1);
  const looked = (count: number): Looked => ({
    steps: draft.steps.slice(0, count),
    parameters: draft.parameters,
    values,
    ...(queries.length > 0 ? { queries } : {}),
  });
  const written = isWritten(planned.whole);
  const away = useMemo(() => keepingAway({ ...draft, queries: [{ name: 'rows', steps: draft.steps }] }), [draft]);
  const home = useRecipeHome(draft, models, recipes);
  /** The step that asks for them is changed right after, in one step to undo. */
  const addParameters = (made: readonly Parameter[]): void =>
    useDrafts.setState(({ drafts }) => ({
      drafts: { ...drafts, [id]: { ...drafts[id]!, now: made.reduce(withParameter, drafts[id]!.now) } },
    }));
  const addParameter = (field: Field, is: string): string => {
    const { report } = home ?? {};
    const take = takenFrom(draft);
    // Only a field of the table itself has its name there.
    const rows = models
      .find((m) => m.name === report?.model)
      ?.entities.find((e) => e.name === take?.entity && e.fields.some((f) => f.name === field.name))?.name;
    const made = parameterFor(field, is, rows ? { rows, value: field.name } : null, draft.parameters);
    addParameters([made]);
    return made.name;
  };
  const sources = sourceChoices(models, recipes, t('data.recipes'), id, { label: t('queries.title'), list: queries });
  const database = models.find((m) => m.origin.kind === 'database') ?? models[0];
  const add = (kind: StepKind): void => {
    const before = planned.whole.steps[at];
    const upTo = planned.before[at + 1] ?? planned.whole;
    const { relations } = upTo;
    const made = { planned: planned.whole, fields: before?.fields ?? [], relations, model: database?.name ?? '', t };
    put(withNewStep(draft, newStep(kind, made), at));
    setSelected(at + 1);
  };
  return (
    <>
      {draft.parameters.length > 0 && (
        <nav
          aria-label={t('viewer.parameters')}
          className="flex flex-wrap items-center gap-2 border-b border-rule px-3.5 py-2"
        >
          <ParameterChips
            parameters={shownParameters(draft.parameters, away)}
            values={values}
            onChange={(name, value) => setValues((old) => ({ ...old, [name]: value }))}
            source={home ? { definition: home.report } : undefined}
          />
        </nav>
      )}
      <div className="grid min-h-0 flex-1 grid-cols-[420px_minmax(0,1fr)]">
        <div className="overflow-auto border-e border-rule p-3">
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
                    source={(from) => sourceWords(from, models, recipes)}
                    isSelected={i === at && selected >= 0}
                    count={
                      step.operation && lackBefore(planned.whole, i + 1) === null ? (
                        <StepCount looked={looked(i + 1)} isWritten={written} />
                      ) : null
                    }
                    onSelect={() => setSelected(i === selected ? -1 : i)}
                    onChange={(next) => put(withStep(latest(), i, next))}
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
                      onChange={(next) => put(withStep(latest(), i, next))}
                      fields={planned.whole.steps[i - 1]?.fields ?? []}
                      relations={planned.before[i]!.relations}
                      parameters={draft.parameters}
                      before={draft.steps.slice(0, i)}
                      models={models}
                      recipes={recipes}
                      sources={sources}
                      fieldsOf={planned.fieldsOf}
                      onNewParameter={(field, is: Comparison | string) => addParameter(field, is)}
                      onNewParameters={addParameters}
                      planned={planned.whole}
                    />
                  </StepCard>
                ))}
              </ol>
              <AddStep onAdd={add} />
              <ParameterForm
                home={home}
                parameters={draft.parameters}
                onChange={(parameters) => put({ ...draft, parameters })}
              />
            </>
          )}
        </div>
        <RowsView
          looked={looked(at + 1)}
          title={t('data.afterStep', { number: at + 1 })}
          isReady={planned.whole.steps.slice(0, at + 1).some((s) => s.operation)}
          lack={lackWords(t, planned.whole, at + 1)}
        />
      </div>
    </>
  );
};

/** `isWritten`: the rows come from a statement that is sent once, where they are looked at; only there they are counted. */
const StepCount = ({ looked, isWritten }: { looked: Looked; isWritten: boolean }) => {
  const { t, i18n } = useTranslation();
  const count = useQuery({ ...queries.recipeCount(looked), placeholderData: keepPreviousData, enabled: !isWritten });
  const rows = useQuery({ ...queries.recipeRows(looked), enabled: false });
  const found = isWritten ? rows.data?.found?.counted : count.data?.found;
  if (!found) return isWritten || count.data?.failure || count.error ? <>–</> : <>…</>;
  return <>{t('data.rows', { count: found.count, shown: found.count.toLocaleString(i18n.language) })}</>;
};
