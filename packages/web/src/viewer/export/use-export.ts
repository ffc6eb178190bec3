import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api, type OutputFacts, type RunState } from '../../api/client.ts';
import { download } from '../print.ts';
import { allOpen } from '../use-folds.ts';
import type { OptionValues } from './options.ts';

/** A file that is wanted; `open`: with everything open that can be closed. */
export interface Wanted {
  output: OutputFacts;
  options: OptionValues;
  open: boolean;
}

/** How many pages or rows of a file are written; null while that is not known. */
export type ExportProgress = { done: number; of: number } | null;

/** Milliseconds between two questions how far a file is. */
const ASK = 300;

/** Makes files of a run, one at a time, each of which can be given up. */
export const useExport = (run: RunState | null, onDone: () => void) => {
  const [progress, setProgress] = useState<ExportProgress>(null);
  const abort = useRef<AbortController | null>(null);
  // Whoever leaves the page wants no file of it.
  useEffect(() => () => abort.current?.abort(), []);
  const write = useMutation({
    mutationFn: async ({ output, options, open }: Wanted) => {
      if (!run) return;
      const stop = new AbortController();
      abort.current = stop;
      const { signal } = stop;
      const { id } = open ? await allOpen(run) : run;
      let isOver = false;
      const follow = async (): Promise<void> => {
        while (!isOver && !signal.aborted) {
          const making = await api.filesMade(id, signal).catch(() => []);
          const found = making.find((one) => one.output === output.name);
          if (found && !isOver) setProgress(found);
          await new Promise((resolve) => setTimeout(resolve, ASK));
        }
      };
      void follow();
      try {
        const { blob, name } = await api.file(id, output.name, options, signal);
        download(blob, name);
      } finally {
        isOver = true;
        setProgress(null);
      }
    },
    onSuccess: onDone,
  });
  const cancel = (): void => {
    abort.current?.abort();
    write.reset();
    setProgress(null);
  };
  return { write, progress, cancel };
};
