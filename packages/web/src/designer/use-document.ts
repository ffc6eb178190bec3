import { changesBetween, type Report } from '@gaveta/core/internal';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { ApiFailure, api, type DraftHead, type StoredReport } from '../api/client.ts';
import { othersOf, slotOf } from '../api/draft-slots.ts';
import { queries } from '../api/queries.ts';
import { offerMethods, tellHost } from '../embed/frame.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { useFailureText } from '../ui/failure.tsx';
import { keepHistory } from './design/kept-history.ts';
import { useDesigner } from './design/state.ts';

/** How long after an edit the work is put by, in milliseconds. */
const PAUSE = 700;

export interface BroughtBack {
  savedAt: string;
  /** In how many things it differs from what is saved. */
  changes: number;
  /** It was put by in another window, which may still be open and keeps it. */
  fromOther: boolean;
}

export interface DocumentState {
  /** Revision that the work was begun on; 0 for a report that is new. */
  base: number;
  changed: boolean;
  saving: boolean;
  /** When the work as it is now was put by; null while it is not. */
  keptAt: string | null;
  /** Work that was brought back on opening; null when none was. */
  broughtBack: BroughtBack | null;
  /** Work on the same report that other windows of the same person have put by. */
  others: readonly DraftHead[];
  openOther: (other: DraftHead) => void;
  removeOther: (other: DraftHead) => void;
  conflict: StoredReport | null;
  loadError: unknown;
  saveError: unknown;
  retry: () => void;
  /** Saves under the name given, or the one that the report has. */
  save: (settings?: { name?: string; note?: string; over?: number }) => void;
  saveCopy: () => void;
  /** Opens what is stored and drops what is not saved. */
  openStored: () => void;
  /** Puts the work by now; settles when that is done. */
  keep: () => Promise<void>;
  dismissBroughtBack: () => void;
}

/**
 * The report being designed: a stored one, or a new one that has only unsaved work. Work that is not saved is put by on
 * the server a moment after each edit, so that a closed window or a crash loses nothing.
 */
export const useDocument = (id: string | null, key: string): DocumentState => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const client = useQueryClient();
  const said = useFailureText();
  const history = useDesigner((s) => s.history);
  const savedReport = useDesigner((s) => s.savedReport);
  const [base, setBase] = useState(0);
  const baseNow = useRef(base);
  baseNow.current = base;
  const [conflict, setConflict] = useState<StoredReport | null>(null);
  const [keptAt, setKeptAt] = useState<{ report: Report; at: string } | null>(null);
  const [broughtBack, setBroughtBack] = useState<BroughtBack | null>(null);
  const [others, setOthers] = useState<DraftHead[]>([]);
  /** Work of another window that was opened here. */
  const adopted = useRef<{ key: string; savedAt: string } | null>(null);
  const slot = id === null ? key : slotOf(id);
  /** What is saved was asked for: work of other windows is offered, and not opened by itself. */
  const wantsStored = useRef(false);
  /** The definition that was put by last; null when none is. */
  const kept = useRef<Report | null>(null);
  const report = history?.report ?? null;
  const changed = report !== savedReport;

  const opened = useQuery({
    queryKey: ['opened', key],
    queryFn: async () => {
      if (id === null) return { stored: null, draft: await api.draft(key), others: [] };
      const [stored, own, drafts] = await Promise.all([api.report(id), api.draft(slot), api.drafts()]);
      const others = othersOf(drafts, id);
      // A window that was closed left its work behind: it goes on here, and stays there until somebody gives it up.
      const [left] = others;
      const taken = left && !wantsStored.current ? await api.draft(left.key) : null;
      return { stored, draft: own ?? taken, others };
    },
    staleTime: 0,
    gcTime: 0,
    retry: false,
  });

  const { data } = opened;
  useEffect(() => {
    if (!data) return;
    const { stored, draft, others } = data;
    const { documentKey, open, left } = useDesigner.getState();
    // What was just saved for the first time is open already.
    if (documentKey === key) return;
    setConflict(null);
    const definition = draft?.definition ?? stored?.definition;
    if (!definition) return;
    const isWork =
      draft !== null && (!stored || JSON.stringify(draft.definition) !== JSON.stringify(stored.definition));
    open(key, isWork ? definition : (stored?.definition ?? definition), stored?.definition ?? null);
    setBase(isWork ? draft.base : (stored?.revision ?? 0));
    kept.current = isWork ? useDesigner.getState().history!.report : null;
    setKeptAt(isWork ? { report: kept.current!, at: draft.savedAt } : null);
    setBroughtBack(
      isWork && stored && !left.has(key)
        ? {
            savedAt: draft.savedAt,
            changes: changesBetween(stored.definition, draft.definition).length,
            fromOther: draft.key !== slot,
          }
        : null,
    );
    adopted.current = isWork && draft.key !== slot && stored ? { key: draft.key, savedAt: draft.savedAt } : null;
    setOthers(others.filter((other) => other.key !== draft?.key));
  }, [data, key, slot]);
  const keep = useCallback(async (): Promise<void> => {
    const { history: now, savedReport: saved, documentKey } = useDesigner.getState();
    // Until a report has come in, another one may still be there.
    if (!now || documentKey !== key) return;
    const definition = now.report;
    keepHistory(key, now);
    if (definition === saved) {
      if (kept.current === null) return;
      kept.current = null;
      setKeptAt(null);
      await api.removeDraft(slot);
    } else if (kept.current !== definition) {
      const { savedAt } = await api.putDraft(slot, { definition, report: id, base });
      kept.current = definition;
      setKeptAt({ report: definition, at: savedAt });
    }
  }, [id, key, slot, base]);
  const keepLast = useRef(keep);
  useEffect(
    () => () => {
      // Whichever way a report is left, also for another one, what was done last is put by.
      void keepLast.current().catch(() => undefined);
      useDesigner.getState().leave(key);
    },
    [key],
  );
  useEffect(() => {
    // Only now, so that it is still that of the report that is left when this one comes in its place.
    keepLast.current = keep;
  });
  useEffect(() => () => useDesigner.getState().close(), []);
  useEffect(() => {
    if (!report) return;
    // What cannot be put by now is tried again with the next edit; saving tells what is wrong.
    const timer = setTimeout(() => void keep().catch(() => undefined), PAUSE);
    return () => clearTimeout(timer);
  }, [report, keep]);
  useEffect(() => {
    const hide = (): void => {
      if (document.visibilityState === 'hidden') void keep().catch(() => undefined);
    };
    const warn = (event: BeforeUnloadEvent): void => {
      const { history: now, savedReport: saved } = useDesigner.getState();
      if (now && now.report !== saved && now.report !== kept.current) event.preventDefault();
    };
    document.addEventListener('visibilitychange', hide);
    window.addEventListener('beforeunload', warn);
    return () => {
      document.removeEventListener('visibilitychange', hide);
      window.removeEventListener('beforeunload', warn);
    };
  }, [keep]);

  const forget = async (): Promise<void> => {
    kept.current = null;
    setKeptAt(null);
    setBroughtBack(null);
    await api.removeDraft(slot).catch(() => undefined);
  };
  /** What was taken over from another window is stored now, unless that window has gone on since. */
  const forgetAdopted = async (): Promise<void> => {
    const from = adopted.current;
    adopted.current = null;
    if (from) await api.removeDraft(from.key, from.savedAt).catch(() => undefined);
  };
  /** Opens work of another window in the place of what is open here, which stays put by. */
  const openOther = async (other: DraftHead): Promise<void> => {
    await keep();
    const found = await api.draft(other.key);
    if (!found) return;
    const { open, savedReport: saved } = useDesigner.getState();
    open(key, found.definition, saved);
    setBase(found.base);
    adopted.current = { key: other.key, savedAt: other.savedAt };
    setOthers((list) => list.filter((one) => one.key !== other.key));
  };
  const removeOther = async (other: DraftHead): Promise<void> => {
    await api.removeDraft(other.key, other.savedAt);
    setOthers((list) => list.filter((one) => one.key !== other.key));
  };
  const saving = useMutation({
    mutationFn: async (wanted: { definition: Report; on: number; note: string; folder?: string }) => {
      const { definition, on, note, folder } = wanted;
      const where = { note, ...(folder === undefined ? {} : { folder }) };
      const saved = id === null ? await api.create(definition, where) : await api.save(id, definition, on, note);
      await forget();
      await forgetAdopted();
      return { definition, saved };
    },
    onSuccess: ({ definition, saved }) => {
      const state = useDesigner.getState();
      state.markSaved(definition);
      setBase(saved.revision);
      setConflict(null);
      void client.invalidateQueries(queries.reports());
      void client.invalidateQueries(queries.report(saved.id));
      void client.invalidateQueries(queries.revisions(saved.id));
      tellHost({ kind: 'saved', report: saved.id, revision: saved.revision });
      if (id === null) {
        // The same document goes on under its address, with everything that can be undone.
        useDesigner.setState({ documentKey: saved.id });
        navigate(`/reports/${saved.id}/design`, { replace: true });
      }
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
  const copying = useMutation({
    mutationFn: (definition: Report) =>
      api.create({ ...definition, name: t('designer.copyName', { name: definition.name }) }),
    onSuccess: async (made) => {
      await forget();
      await forgetAdopted();
      void client.invalidateQueries(queries.reports());
      navigate(`/reports/${made.id}/design`);
    },
  });
  const save = (settings: { name?: string; folder?: string; note?: string; over?: number } = {}): void => {
    const { edit, savedReport: saved } = useDesigner.getState();
    const { name, folder, note = '', over } = settings;
    if (name !== undefined) edit(t('edits.rename'), { do: 'report', settings: { name } });
    const now = useDesigner.getState().history;
    if (now && now.report !== saved && !saving.isPending)
      saving.mutate({ definition: now.report, on: over ?? base, note, ...(folder === undefined ? {} : { folder }) });
  };
  // What the host's page asks for, and is told.
  const isUnsaved = changed && history !== null;
  useEffect(() => tellHost({ kind: 'opened', report: id, screen: 'designer' }), [id]);
  useEffect(() => tellHost({ kind: 'unsaved', report: id, isUnsaved }), [id, isUnsaved]);
  useEffect(() => () => tellHost({ kind: 'unsaved', report: id, isUnsaved: false }), [id]);
  const mutate = useRef(saving.mutateAsync);
  mutate.current = saving.mutateAsync;
  useEffect(
    () =>
      offerMethods({
        save: async ({ note }) => {
          const { history: now, savedReport: saved } = useDesigner.getState();
          if (now && now.report !== saved) await mutate.current({ definition: now.report, on: baseNow.current, note });
          return null;
        },
      }),
    [],
  );
  return {
    base,
    changed,
    saving: saving.isPending,
    keptAt: keptAt?.report === report ? keptAt.at : null,
    broughtBack,
    others,
    openOther: (other) => void openOther(other),
    removeOther: (other) => void removeOther(other),
    conflict,
    loadError: opened.error,
    saveError: conflict ? null : (saving.error ?? copying.error),
    retry: () => void opened.refetch(),
    save,
    saveCopy: () => history && copying.mutate(history.report),
    openStored: async () => {
      await forget();
      wantsStored.current = true;
      useDesigner.setState({ documentKey: null });
      void opened.refetch();
    },
    keep,
    dismissBroughtBack: () => setBroughtBack(null),
  };
};
