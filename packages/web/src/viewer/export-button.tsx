import { useMutation, useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useTranslation } from 'react-i18next';
import { api, type OutputFacts, type RunState } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { Button } from '../ui/controls.tsx';
import { download } from './print.ts';
import { allOpen, isAllOpen } from './use-folds.ts';

interface ExportButtonProps {
  /** A run that is complete; null while there is none. */
  run: RunState | null;
  onFailure: (error: Error | null) => void;
}

/** A file that is wanted; `open`: with everything open that can be closed. */
interface Wanted {
  output: OutputFacts;
  open: boolean;
}

/** Gives a run’s pages as a file: at once where there is one way, out of a menu where there are more. */
export const ExportButton = ({ run, onFailure }: ExportButtonProps) => {
  const { t } = useTranslation();
  const outputs = useQuery(queries.outputs());
  const write = useMutation({
    mutationFn: async ({ output: { name, extension }, open }: Wanted) => {
      if (!run) return;
      const { id, report } = open ? await allOpen(run) : run;
      download(await api.file(id, name), `${report}.${extension}`);
    },
    onMutate: () => onFailure(null),
    onError: onFailure,
  });
  const [first, ...more] = outputs.data ?? [];
  if (!first) return null;
  const busy = write.isPending ? write.variables.output.label : null;
  const hasClosed = run?.isFoldable === true && !isAllOpen(run);
  const face = (label: string) => (
    <>
      <Download size={14} aria-hidden /> <span className="max-sm:sr-only">{label}</span>
    </>
  );
  const isOff = run === null || busy !== null;
  if ((more.length === 0 && !hasClosed) || busy !== null)
    return (
      <Button look="primary" disabled={isOff} onClick={() => write.mutate({ output: first, open: false })}>
        {face(busy === null ? t('viewer.export', { format: first.label }) : t('viewer.exporting', { format: busy }))}
      </Button>
    );
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <Button look="primary" disabled={isOff}>
          {face(t('viewer.exportAs'))}
        </Button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className="menu z-60" align="end">
          {[first, ...more].flatMap((output) =>
            (hasClosed ? [false, true] : [false]).map((open) => (
              <DropdownMenu.Item
                key={`${output.name} ${open}`}
                className="menu-item"
                onSelect={() => write.mutate({ output, open })}
              >
                {hasClosed
                  ? t(open ? 'viewer.outputAllOpen' : 'viewer.outputAsShown', { format: output.label })
                  : output.label}
              </DropdownMenu.Item>
            )),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};
