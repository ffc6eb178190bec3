import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api, type OutputFacts, type RunState } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import { download } from '../print.ts';
import { allOpen } from '../use-folds.ts';
import type { OptionValues } from './options.ts';

/** A file that is wanted; `open`: with everything open that can be closed. */
export interface Wanted {
  output: OutputFacts;
  options: OptionValues;
  open: boolean;
}

/** Makes files of a run, one at a time, each of which can be given up. */
export const useExport = (run: RunState | null, onDone: () => void) => {
  /** The run whose file is being made: another one where everything is opened for it. */
  const [making, setMaking] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  // Whoever leaves the page wants no file of it.
  useEffect(() => () => abort.current?.abort(), []);
  const write = useMutation({
    mutationFn: async ({ output, options, open }: Wanted) => {
      if (!run) return;
      const stop = new AbortController();
      abort.current = stop;
      const { id } = open ? await allOpen(run) : run;
      setMaking(id);
      const { blob, name } = await api.file(id, output.name, options, stop.signal);
      download(blob, name);
    },
    onSuccess: onDone,
    onSettled: () => setMaking(null),
  });
  const files = useQuery({ ...queries.filesMade(making ?? ''), enabled: making !== null });
  const name = write.isPending ? write.variables.output.name : null;
  /** How many pages or rows of the file are written; null while that is not known. */
  const progress = (making !== null && files.data?.find(({ output }) => output === name)) || null;
  const cancel = (): void => {
    abort.current?.abort();
    write.reset();
    setMaking(null);
  };
  return { write, progress, cancel };
};
