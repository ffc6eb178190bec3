import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { api, type OutputFacts, type RunState } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import { download } from '../../ui/download.ts';
import { onPaper } from '../use-laid.ts';
import type { OptionValues } from './options.ts';

/** Files that are wanted, several of them as a zip; `open`: with everything open that can be closed. */
export interface Wanted {
  files: readonly { output: OutputFacts; options: OptionValues }[];
  /** Pattern of the name; empty: as the host has it. */
  fileName: string;
  open: boolean;
}

/** Makes files of a run, one at a time, each of which can be given up. */
export const useExport = (run: RunState | null, onDone: (format: string, name: string) => void) => {
  /** The run whose file is being made: another one where everything is opened for it. */
  const [making, setMaking] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  // Whoever leaves the page wants no file of it.
  useEffect(() => () => abort.current?.abort(), []);
  const write = useMutation({
    mutationFn: async ({ files, fileName, open }: Wanted) => {
      if (!run) return null;
      const stop = new AbortController();
      abort.current = stop;
      const { id } = await onPaper(run, open);
      setMaking(id);
      const asked = files.map(({ output, options }) => ({ output: output.name, options }));
      const { blob, name } = await api.file(id, asked, fileName, stop.signal);
      download(blob, name);
      return { format: asked.length > 1 ? 'zip' : asked[0]!.output, name };
    },
    onSuccess: (made) => made && onDone(made.format, made.name),
    onSettled: () => setMaking(null),
  });
  const made = useQuery({ ...queries.filesMade(making ?? ''), enabled: making !== null });
  const wanted = write.isPending ? write.variables.files : [];
  const name = wanted.length > 1 ? 'zip' : wanted[0]?.output.name;
  /** How many pages or rows of the file are written, or files of several; null while that is not known. */
  const progress = (making !== null && made.data?.find(({ output }) => output === name)) || null;
  const cancel = (): void => {
    abort.current?.abort();
    write.reset();
    setMaking(null);
  };
  return { write, progress, cancel };
};
