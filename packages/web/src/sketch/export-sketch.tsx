import type { Report } from '@gaveta/core/internal';
import { useMutation } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { api, type RunState } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { useFailureText } from '../ui/failure.tsx';
import { ExportButton } from '../viewer/export/export-button.tsx';

interface Props {
  /** What is exported: a stored sketch by its id, or the report of what is being worked on. */
  what: () => { report: string } | { definition: Report };
  /** Tells one state of the sketch from another. */
  state: string;
}

/** Runs the report of a sketch, and opens what it can be taken away as. */
export const ExportSketch = ({ what, state }: Props) => {
  const { t } = useTranslation();
  const said = useFailureText();
  const [run, setRun] = useState<RunState | null>(null);
  const follow = useRef<AbortController | null>(null);
  const start = useMutation({
    mutationFn: async () => {
      const controller = new AbortController();
      follow.current = controller;
      const begun = await api.run(what(), {});
      if (controller.signal.aborted) {
        void api.cancel(begun.id).catch(() => {});
        throw controller.signal.reason;
      }
      let last = begun as RunState;
      controller.signal.addEventListener('abort', () => void api.cancel(begun.id).catch(() => {}));
      await api.follow(
        begun.id,
        (now) => {
          last = now;
        },
        controller.signal,
      );
      controller.signal.throwIfAborted();
      return last;
    },
    onSuccess: setRun,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: a run of what was there before is of no use
  useEffect(() => {
    setRun(null);
    return () => follow.current?.abort();
  }, [state]);
  useEffect(() => () => follow.current?.abort(), []);
  if (run?.status === 'done')
    return <ExportButton key={run.id} run={run} parameters={[]} isAsked onDone={() => setRun(null)} />;
  const failed = start.error && !follow.current?.signal.aborted ? said(start.error).detail : null;
  return (
    <>
      {(failed || run?.status === 'failed') && (
        <span role="alert" className="text-rust">
          {failed ?? t('sketch.exportFailed')}
        </span>
      )}
      <Button disabled={start.isPending} onClick={() => start.mutate()}>
        <Download size={14} aria-hidden /> {t(start.isPending ? 'export.preparing' : 'export.title')}
      </Button>
    </>
  );
};
