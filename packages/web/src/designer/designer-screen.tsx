import { findItem, type Report, reportModel } from '@gaveta/core';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { ChevronLeft, Play, Redo2, Save, Undo2 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useCallback, useEffect, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { useNavigate, useParams } from 'react-router';
import { ApiFailure, api, type SaidProblem, type StoredReport } from '../api/client.ts';
import { tellHost } from '../embed/frame.ts';
import { useLive } from '../live/use-live.ts';
import { Button, IconButton, Notice } from '../ui/controls.tsx';
import { Failure, useFailureText } from '../ui/failure.tsx';
import { Panel } from '../ui/panel.tsx';
import { Board } from './board.tsx';
import { DataTray } from './data-tray.tsx';
import { LivePage } from './live-page.tsx';
import { MissingModels } from './missing-models.tsx';
import { SelectionTray } from './selection-tray.tsx';
import { useDesigner } from './state.ts';

/** Gives way to text boxes: keys that mean something there are theirs. */
const inTextBox = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'SELECT', 'TEXTAREA'].includes(target.tagName));

export const DesignerScreen = ({ home }: { home: string | null }) => {
  const { t } = useTranslation();
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const said = useFailureText();
  const stored = useQuery({
    queryKey: ['report', id],
    queryFn: () => api.report(id),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const models = useQuery({ queryKey: ['models'], queryFn: api.models });
  const recipes = useQuery({ queryKey: ['recipes'], queryFn: api.recipes });
  const history = useDesigner((s) => s.history);
  const savedReport = useDesigner((s) => s.savedReport);
  const [base, setBase] = useState(0);
  const [liveOn, setLiveOn] = useState(true);
  const [conflict, setConflict] = useState<StoredReport | null>(null);
  const report = history?.report ?? null;
  const live = useLive(report, liveOn);
  const changed = report !== savedReport;

  useEffect(() => {
    if (!stored.data) return;
    useDesigner.getState().open(stored.data.definition);
    setBase(stored.data.revision);
    setConflict(null);
  }, [stored.data]);
  useEffect(() => () => useDesigner.setState({ history: null, savedReport: null }), []);

  const save = useMutation({
    mutationFn: async ({ definition, on }: { definition: Report; on: number }) => ({
      definition,
      saved: await api.save(id, definition, on),
    }),
    onSuccess: ({ definition, saved }) => {
      useDesigner.getState().markSaved(definition);
      setBase(saved.revision);
      setConflict(null);
      void queries.invalidateQueries({ queryKey: ['reports'] });
      tellHost({ kind: 'saved', report: id, revision: saved.revision });
    },
    onError: (error) => {
      if (error instanceof ApiFailure && error.code === 'conflict') setConflict(error.document.current as StoredReport);
      else
        tellHost({
          kind: 'error',
          code: error instanceof ApiFailure ? error.code : 'unexpected',
          detail: said(error).detail,
        });
    },
  });
  const copy = useMutation({
    mutationFn: (definition: Report) =>
      api.create({ ...definition, name: t('designer.copyName', { name: definition.name }) }),
    onSuccess: (made, definition) => {
      useDesigner.getState().markSaved(definition);
      void queries.invalidateQueries({ queryKey: ['reports'] });
      navigate(home === null ? `/embed/reports/${made.id}/design` : `/reports/${made.id}/design`);
    },
  });
  const saveNow = useCallback(() => {
    const definition = useDesigner.getState().history?.report;
    if (definition && !save.isPending) save.mutate({ definition, on: base });
  }, [save, base]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const { undo, redo, removeSelected, duplicateSelected } = useDesigner.getState();
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (command && key === 's') {
        event.preventDefault();
        // What is being typed counts: leaving the box takes it over.
        if (document.activeElement instanceof HTMLElement && inTextBox(document.activeElement))
          document.activeElement.blur();
        saveNow();
        return;
      }
      if (command && event.key === 'Enter') {
        event.preventDefault();
        setLiveOn((on) => !on);
        return;
      }
      if (inTextBox(event.target)) return;
      if (command && key === 'z') {
        event.preventDefault();
        if (event.shiftKey) redo();
        else undo();
      } else if (command && key === 'y') {
        event.preventDefault();
        redo();
      } else if (command && key === 'd') {
        event.preventDefault();
        duplicateSelected(t('edits.duplicate'));
      } else if (event.key === 'Delete' || event.key === 'Backspace') removeSelected(t('edits.remove'));
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [saveNow, t]);

  useEffect(() => {
    const warn = (event: BeforeUnloadEvent): void => {
      if (changed) event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, [changed]);

  const leave = (to: string): void => {
    if (!changed || window.confirm(t('designer.leave'))) {
      void queries.invalidateQueries({ queryKey: ['report', id] });
      navigate(to);
    }
  };

  if (stored.error) return <Failure error={stored.error} retry={() => void stored.refetch()} />;
  if (!report || !history) return <Notice>{t('app.loading')}</Notice>;
  const { model } = reportModel(report, {
    models: models.data ?? [],
    recipe: (name) => recipes.data?.find((r) => r.id === name) ?? null,
  });
  const lastDone = history.done.at(-1)?.name;
  const lastUndone = history.undone.at(-1)?.name;
  const viewer = home === null ? `/embed/reports/${id}` : `/reports/${id}`;

  return (
    <div className="grid h-full grid-rows-[44px_auto_1fr]">
      <header className="flex items-center gap-2 border-b border-rule px-3.5">
        <button
          type="button"
          className="flex items-center text-ink-2 hover:text-pine"
          onClick={() => leave(home ?? viewer)}
        >
          <ChevronLeft size={15} aria-hidden /> {home === null ? t('app.back') : t('app.reports')}
        </button>
        <h1 className="truncate text-[14px] font-semibold">{report.name}</h1>
        <span className="truncate text-ink-3" role="status" data-testid="save-state">
          {save.isPending
            ? t('designer.saving')
            : changed
              ? t('designer.unsaved')
              : t('designer.saved', { revision: base })}
        </span>
        <span className="flex-1" />
        <IconButton
          label={lastDone ? t('designer.undoNamed', { name: lastDone }) : t('designer.undo')}
          disabled={!lastDone}
          onClick={() => useDesigner.getState().undo()}
        >
          <Undo2 size={16} />
        </IconButton>
        <IconButton
          label={lastUndone ? t('designer.redoNamed', { name: lastUndone }) : t('designer.redo')}
          disabled={!lastUndone}
          onClick={() => useDesigner.getState().redo()}
        >
          <Redo2 size={16} />
        </IconButton>
        <ProblemsChip problems={live.problems} />
        <Button
          look="chip"
          aria-pressed={liveOn}
          className={liveOn ? 'border-[#bdd6ca] bg-pine-soft text-pine' : ''}
          onClick={() => setLiveOn(!liveOn)}
        >
          <span aria-hidden className={`size-2 rounded-full ${liveOn ? 'bg-pine' : 'bg-ink-3'}`} /> {t('designer.live')}
        </Button>
        <Button onClick={() => leave(viewer)}>
          <Play size={14} aria-hidden /> {t('designer.run')}
        </Button>
        <Button look="primary" disabled={!changed || save.isPending} onClick={saveNow}>
          <Save size={14} aria-hidden /> {t('designer.save')}
        </Button>
      </header>
      <div>
        {models.data && <MissingModels report={report} models={models.data} />}
        {conflict && (
          <div
            role="alert"
            className="flex flex-wrap items-center gap-2 border-b border-brass bg-brass-soft px-3.5 py-2"
          >
            <span className="mr-auto">
              {t('designer.conflict', { author: conflict.changedBy, revision: conflict.revision })}
            </span>
            <Button onClick={() => copy.mutate(report)}>{t('designer.conflictCopy')}</Button>
            <Button onClick={() => save.mutate({ definition: report, on: conflict.revision })}>
              {t('designer.conflictOver')}
            </Button>
            <Button onClick={() => void stored.refetch()}>{t('designer.conflictTheirs')}</Button>
          </div>
        )}
        {save.error && !conflict && (
          <p role="alert" className="border-b border-rust bg-rust-soft px-3.5 py-2 text-rust">
            {t('designer.saveFailed', { detail: said(save.error).detail })}
          </p>
        )}
      </div>
      <div
        className={`grid min-h-0 ${liveOn ? 'grid-cols-[256px_minmax(0,1fr)_minmax(0,0.61fr)]' : 'grid-cols-[256px_minmax(0,1fr)]'}`}
      >
        <div className="grid min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,1fr)_minmax(0,1.15fr)] border-r border-rule">
          <DataTray report={report} model={model} />
          <SelectionTray report={report} />
        </div>
        <main className="relative flex min-h-0 flex-col">
          <Board report={report} />
          <KeyLine />
        </main>
        {liveOn && <LivePage view={live} report={report} />}
      </div>
    </div>
  );
};

const KeyLine = () => {
  const { t } = useTranslation();
  const keys: [string, string][] = [
    ['← →', t('designer.help.move')],
    ['Enter', t('designer.help.enter')],
    ['Del', t('designer.help.delete')],
    ['Ctrl D', t('designer.help.duplicate')],
  ];
  return (
    <div
      aria-hidden
      className="pointer-events-none absolute inset-x-4 bottom-3 flex h-8 items-center gap-3 overflow-hidden rounded-lg bg-ink px-3.5 text-[12px] whitespace-nowrap text-[#f4efe2]"
    >
      {keys.map(([key, words]) => (
        <span key={key}>
          <kbd className="rounded bg-[#3b474a] px-1.5 font-mono text-[11px]">{key}</kbd> {words}
        </span>
      ))}
    </div>
  );
};

const ProblemsChip = ({ problems }: { problems: readonly SaidProblem[] }) => {
  const { t } = useTranslation();
  const go = (p: SaidProblem): void => {
    const { history, select } = useDesigner.getState();
    if (p.place.item && history && findItem(history.report, p.place.item)) select([p.place.item]);
    else if (p.place.drawer) select([], { drawer: p.place.drawer, band: 'detail' });
  };
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button
          look="chip"
          disabled={problems.length === 0}
          className={problems.length > 0 ? 'border-[#eac5ba] bg-rust-soft text-[#86301f]' : ''}
        >
          {t('designer.problems', { count: problems.length })}
        </Button>
      </Popover.Trigger>
      <Panel align="end" className="max-h-96 w-96 overflow-auto p-2">
        <ul>
          {problems.map((p) => (
            <li key={`${p.code}${p.place.path}${p.text}`}>
              <Popover.Close asChild>
                <button
                  type="button"
                  className="block w-full rounded px-2 py-1.5 text-left hover:bg-desk/60"
                  onClick={() => go(p)}
                >
                  {p.place.report && <b>{p.place.report}: </b>}
                  {p.text}
                </button>
              </Popover.Close>
            </li>
          ))}
        </ul>
      </Panel>
    </Popover.Root>
  );
};
