import { freeName, identifierOf, type Query, type Report } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import type { ModelWithOrigin, StoredRecipe } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import { TextBox } from '../../data/fields.tsx';
import { isChanged, undoByKey, useDrafts } from '../../data/recipe-draft.ts';
import { lackWords, RecipeEditor, UndoRedo, usePlannedDraft } from '../../data/recipe-editor.tsx';
import { useTranslation } from '../../i18n/use-translation.ts';
import { agreed } from '../../ui/confirm.tsx';
import { Button } from '../../ui/controls.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { useDesigner } from '../design/state.ts';

interface QueryDialogProps {
  report: Report;
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  /** Place of the query among the report's; one past the last for a new one. */
  at: number;
  onClose: () => void;
}

/** The steps of one of the report's queries. What is done here becomes one edit of the report when it is taken over. */
const QueryDialog = ({ report, models, recipes, at, onClose }: QueryDialogProps) => {
  const { t } = useTranslation();
  const query: Query | undefined = report.queries?.[at];
  const documentKey = useDesigner((s) => s.documentKey);
  const id = `query ${documentKey} ${at}`;
  const history = useDrafts((s) => s.drafts[id]);
  const session = useQuery(queries.session());
  const others = useMemo(() => (report.queries ?? []).filter((_, i) => i !== at), [report.queries, at]);
  const planned = usePlannedDraft(history?.now, { models, recipes, queries: others });

  // biome-ignore lint/correctness/useExhaustiveDependencies: as it is when the dialog opens
  useEffect(() => {
    const { open, forget } = useDrafts.getState();
    const name = query?.label ?? query?.name ?? t('queries.new');
    open(id, { name, steps: query?.steps ?? [], parameters: report.parameters }, 1);
    return () => forget(id);
  }, [id]);

  const lack = planned && lackWords(t, planned.whole);
  const take = (): void => {
    const { name, steps, parameters } = history!.now;
    const wanted = query?.name ?? identifierOf(name.toLowerCase()) ?? 'query';
    const queries = [...(report.queries ?? [])];
    queries[at] = { name: freeName(wanted, new Set(others.map((q) => q.name))), label: name, steps };
    useDesigner.getState().edit(t('edits.query', { name }), { do: 'report', settings: { queries, parameters } });
    onClose();
  };
  const close = async (): Promise<void> => {
    if (!history || !isChanged(history) || (await agreed(t('queries.sure'), t('queries.discard')))) onClose();
  };
  return (
    <Dialog title={t('queries.title')} onClose={() => void close()} onKeyDown={(event) => undoByKey(event, id)}>
      <div className="flex h-11 flex-none items-center gap-2 border-b border-rule px-3">
        {history && (
          <TextBox
            label={t('data.recipeName')}
            className="max-w-64 font-semibold"
            value={history.now.name}
            onChange={(name) =>
              name.trim() !== '' && useDrafts.getState().change(id, { ...history.now, name: name.trim() })
            }
          />
        )}
        {planned && planned.whole.problems.length > 0 && history!.now.steps.length > 0 && (
          <span role="status" className="truncate text-rust">
            {t('queries.broken')}
          </span>
        )}
        <span className="flex-1" />
        <UndoRedo id={id} />
        <Button onClick={close}>{t('queries.giveUp')}</Button>
        <Button
          look="primary"
          disabled={!history || history.now.steps.length === 0 || lack !== null}
          title={lack ?? ''}
          onClick={take}
        >
          {t('queries.take')}
        </Button>
      </div>
      {planned && (
        <RecipeEditor
          id={id}
          planned={planned}
          models={models}
          recipes={recipes}
          queries={others}
          canSql={session.data?.rights.includes('sql') ?? false}
        />
      )}
    </Dialog>
  );
};

export default QueryDialog;
