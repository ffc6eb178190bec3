import { useMutation, useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useTranslation } from 'react-i18next';
import { api, type OutputFacts, type RunState } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { Button } from '../ui/controls.tsx';
import { download } from './print.ts';

interface ExportButtonProps {
  /** A run that is complete; null while there is none. */
  run: RunState | null;
  onFailure: (error: Error | null) => void;
}

/** Gives a run’s pages as a file: at once where there is one format, out of a menu where there are more. */
export const ExportButton = ({ run, onFailure }: ExportButtonProps) => {
  const { t } = useTranslation();
  const outputs = useQuery(queries.outputs());
  const write = useMutation({
    mutationFn: async ({ name, extension }: OutputFacts) => {
      if (run) download(await api.file(run.id, name), `${run.report}.${extension}`);
    },
    onMutate: () => onFailure(null),
    onError: onFailure,
  });
  const [first, ...more] = outputs.data ?? [];
  if (!first) return null;
  const busy = write.isPending ? write.variables.label : null;
  const face = (label: string) => (
    <>
      <Download size={14} aria-hidden /> {label}
    </>
  );
  const isOff = run === null || busy !== null;
  if (more.length === 0 || busy !== null)
    return (
      <Button look="primary" disabled={isOff} onClick={() => write.mutate(first)}>
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
          {[first, ...more].map((output) => (
            <DropdownMenu.Item key={output.name} className="menu-item" onSelect={() => write.mutate(output)}>
              {output.label}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
};
