import type { Step } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Save } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { useNavigate, useOutletContext, useParams, useSearchParams } from 'react-router';
import { ApiFailure, api } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { useThemes } from '../api/use-themes.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { agreed } from '../ui/confirm.tsx';
import { Button, Notice } from '../ui/controls.tsx';
import { useFailureText } from '../ui/failure.tsx';
import { useLikelyFolder } from '../ui/save-form.tsx';
import type { DataParts } from './data-screen.tsx';
import { TextBox } from './fields.tsx';
import { isChanged, undoByKey, useDrafts } from './recipe-draft.ts';
import { lackWords, RecipeEditor, UndoRedo, usePlannedDraft } from './recipe-editor.tsx';
import { reportFromRecipe } from './report-from-recipe.ts';
import { sourceId } from './sources.ts';

export const RecipeScreen = () => {
  const { t } = useTranslation();
  const { id = 'new' } = useParams();
  const { models, recipes, canSql } = useOutletContext<DataParts>();
  const navigate = useNavigate();
  const client = useQueryClient();
  const said = useFailureText();
  const [search] = useSearchParams();
  const history = useDrafts((s) => s.drafts[id]);
  const { open, change } = useDrafts.getState();
  const stored = recipes.find((r) => r.id === id);
  useEffect(() => {
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
    }
  }, [id, stored, open, search, t]);
  const users = useQuery({ ...queries.recipeUsers(id), enabled: stored !== undefined });

  const draft = history?.now;
  const planned = usePlannedDraft(draft, { models, recipes });

  const folder = useLikelyFolder();
  const save = useMutation({
    mutationFn: async () => {
      const now = useDrafts.getState().drafts[id]!;
      const made =
        now.base === 0 ? await api.createRecipe(now.now, folder) : await api.saveRecipe(id, now.now, now.base);
      return { made, draft: now.now };
    },
    onSuccess: async ({ made, draft: saved }) => {
      await client.invalidateQueries(queries.recipes());
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
      await client.invalidateQueries(queries.recipes());
    },
  });
  const copy = useMutation({
    mutationFn: () => api.createRecipe({ ...draft!, name: t('data.copyOf', { name: draft!.name }) }),
    onSuccess: async (made) => {
      await client.invalidateQueries(queries.recipes());
      // What was changed is in the copy; the recipe itself stays as it is stored.
      useDrafts.getState().forget(id);
      navigate(`/data/recipes/${made.id}`);
    },
  });
  const { house } = useThemes();
  const makeReport = useMutation({
    mutationFn: () => api.create(reportFromRecipe(id, draft!, planned!.whole.fields, house)),
    onSuccess: (made) => {
      void client.invalidateQueries(queries.reports());
      navigate(`/reports/${made.id}/design`);
    },
  });
  const isLacking = useRef(false);
  isLacking.current = planned !== null && lackWords(t, planned.whole) !== null;
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (command && key === 's') {
        event.preventDefault();
        if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
        if (!isLacking.current) save.mutate();
      } else undoByKey(event, id);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [id, save]);

  if (!draft || !planned)
    return <Notice>{id !== 'new' && recipes.length > 0 && !stored ? t('data.noRecipe') : t('app.loading')}</Notice>;
  const put = (next: typeof draft): void => change(id, next);
  const changed = isChanged(history!);
  const lack = lackWords(t, planned.whole);
  const failed = save.error ?? remove.error ?? makeReport.error ?? copy.error;
  const broken = failed ? said(failed).detail : null;

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
        <UndoRedo id={id} />
        {stored && (
          <Button look="quiet" disabled={copy.isPending || lack !== null} onClick={() => copy.mutate()}>
            {t('data.saveCopy')}
          </Button>
        )}
        {stored && (
          <Button
            look="quiet"
            onClick={async () => {
              if (await agreed(t('data.removeSure', { name: draft.name }), t('data.remove'))) remove.mutate();
            }}
          >
            {t('data.remove')}
          </Button>
        )}
        <Button
          disabled={!stored || changed || planned.whole.problems.length > 0}
          title={changed ? t('data.saveFirst') : ''}
          onClick={() => navigate(`/sketches/new?from=${encodeURIComponent(sourceId({ recipe: stored!.id }))}`)}
        >
          {t('library.newSketch')}
        </Button>
        <Button
          disabled={history!.base === 0 || changed || planned.whole.problems.length > 0}
          title={changed ? t('data.saveFirst') : ''}
          onClick={() => makeReport.mutate()}
        >
          {t('data.useInReport')}
        </Button>
        <Button
          look="primary"
          disabled={!changed || save.isPending || draft.steps.length === 0 || lack !== null}
          title={lack ?? ''}
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
              className="ms-2 underline"
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
      <RecipeEditor
        key={id}
        id={id}
        planned={planned}
        models={models}
        recipes={recipes}
        canSql={canSql}
        open={id === 'new' ? 0 : -1}
      />
    </div>
  );
};
