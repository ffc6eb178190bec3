import { newSketch, type Reached, reachOf, type Sketch, type Source } from '@gaveta/core/internal';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { api } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { sketches, sketchQueries } from '../api/sketches.ts';
import { sourceLabel, sourceOf } from '../data/sources.ts';
import { useIsHidden } from '../embed/settings.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { newKey } from '../start/choices.ts';
import { Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';
import { ScreenHeader } from '../ui/screen-header.tsx';
import { ChooseRows } from './choose-rows.tsx';
import { SketchPage } from './sketch-page.tsx';
import { useSketch } from './use-sketch.ts';

type Found = {
  models: NonNullable<ReturnType<typeof useModels>['data']>;
  recipes: NonNullable<ReturnType<typeof useRecipes>['data']>;
};

const useModels = () => useQuery(queries.models());
const useRecipes = () => useQuery(queries.recipes());

/** A sketch: a stored one, one that is new and was begun, or the choice of rows for one. */
export const SketchScreen = () => {
  const { t } = useTranslation();
  const { id, draft } = useParams();
  const isHidden = useIsHidden();
  const session = useQuery(queries.session());
  const mayDesign = (session.data?.rights.includes('design') ?? false) && !isHidden('design');
  const models = useModels();
  const recipes = useQuery({ ...queries.recipes(), enabled: mayDesign });
  const stored = useQuery({ ...sketchQueries.stored(id ?? ''), enabled: id !== undefined, retry: false });
  const kept = useQuery({
    ...sketchQueries.draft(draft ?? id ?? ''),
    enabled: mayDesign && (draft ?? id) !== undefined,
  });
  const [round, setRound] = useState(0);
  const error = models.error ?? recipes.error ?? stored.error ?? kept.error;
  if (error) return <Failure error={error} retry={() => void stored.refetch()} />;
  const isWaiting =
    !models.data ||
    (mayDesign && !recipes.data) ||
    (id !== undefined && !stored.data) ||
    (mayDesign && (draft ?? id) !== undefined && !kept.isFetchedAfterMount);
  if (isWaiting) return <Notice>{t('app.loading')}</Notice>;
  const found = { models: models.data!, recipes: recipes.data ?? [] };
  if (id === undefined && draft === undefined) return <BeginSketch {...found} />;
  const work = kept.data ?? null;
  const sketch = work?.sketch ?? stored.data?.sketch ?? null;
  if (!sketch) return <Notice title={t('sketch.goneTitle')}>{t('sketch.gone')}</Notice>;
  return (
    <OpenSketch
      key={`${id ?? draft} ${round}`}
      {...found}
      id={id ?? null}
      draft={draft ?? id!}
      sketch={sketch}
      saved={stored.data?.sketch ?? null}
      base={work ? work.base : (stored.data?.revision ?? 0)}
      isReading={!mayDesign}
      known={mayDesign ? null : (stored.data?.reach ?? null)}
      onAgain={() => setRound(round + 1)}
    />
  );
};

interface OpenProps extends Found {
  id: string | null;
  /** Key of the work that is not saved. */
  draft: string;
  sketch: Sketch;
  saved: Sketch | null;
  base: number;
  isReading: boolean;
  known: readonly Reached[] | null;
  onAgain: () => void;
}

const OpenSketch = ({ models, recipes, id, draft, sketch, saved, base, isReading, known, onAgain }: OpenProps) => {
  const navigate = useNavigate();
  const client = useQueryClient();
  const { t, i18n } = useTranslation();
  const work = useSketch({
    id: draft,
    ...{ sketch, saved, base },
    isKept: !isReading,
    onSaved: (stored) => {
      if (id === null) navigate(`/sketches/${stored.id}`, { replace: true });
    },
  });
  const begin = (from: Source): void => {
    const next = begun(
      from,
      { models, recipes },
      i18n.language,
      t('sketch.newName', { of: sourceLabel(from, models, recipes) }),
    );
    // A new one keeps its name where somebody gave it one.
    if (work.base === 0) work.change(next);
    else work.change({ ...next, name: work.sketch.name });
  };
  return (
    <SketchPage
      work={work}
      id={id}
      isReading={isReading}
      known={known}
      models={models}
      recipes={recipes}
      onRows={begin}
      onStored={async () => {
        await api.removeDraft(draft);
        await client.invalidateQueries(sketchQueries.stored(draft));
        await client.invalidateQueries(sketchQueries.draft(draft));
        onAgain();
      }}
    />
  );
};

const begun = (from: Source, { models, recipes }: Found, language: string, name: string): Sketch => {
  const context = {
    models,
    recipe: (id: string) => recipes.find((one) => one.id === id) ?? null,
    queries: [],
    parameters: [],
  };
  const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
  return newSketch(name, from, reachOf(from, context), { language, timeZone });
};

/** Where the rows of a new sketch come from; an address may say it. */
const BeginSketch = ({ models, recipes }: Found) => {
  const { t, i18n } = useTranslation();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const [error, setError] = useState<unknown>(null);
  const [isBusy, setBusy] = useState(false);
  const begin = (from: Source): void => {
    if (isBusy) return;
    setBusy(true);
    const key = newKey();
    const sketch = begun(
      from,
      { models, recipes },
      i18n.language,
      t('sketch.newName', { of: sourceLabel(from, models, recipes) }),
    );
    sketches.putDraft(key, sketch, 0).then(
      () => navigate(`/sketches/new/${key}`, { replace: true }),
      (failure) => {
        setBusy(false);
        setError(failure);
      },
    );
  };
  const given = search.get('from');
  const [hasGiven, setGiven] = useState(false);
  if (given !== null && !hasGiven) {
    setGiven(true);
    queueMicrotask(() => begin(sourceOf(given)));
  }
  return (
    <div className="flex h-full flex-col">
      <ScreenHeader title={t('sketch.begin')}>{null}</ScreenHeader>
      <main className="mx-auto flex min-h-0 w-full max-w-xl flex-1 flex-col px-6 py-6">
        <p className="mb-3 text-ink-2">{t('sketch.beginHelp')}</p>
        {error !== null && <Failure error={error} />}
        <div className="flex max-h-[70vh] min-h-0 flex-col overflow-hidden rounded-lg border border-rule bg-paper">
          <ChooseRows models={models} recipes={recipes} onPick={begin} />
        </div>
      </main>
    </div>
  );
};
