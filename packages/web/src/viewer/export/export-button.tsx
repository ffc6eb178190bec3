import { useQuery } from '@tanstack/react-query';
import { Download } from 'lucide-react';
import { Popover } from 'radix-ui';
import { lazy, Suspense, useState } from 'react';
import type { RunState } from '../../api/client.ts';
import { queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button } from '../../ui/controls.tsx';
import { Panel } from '../../ui/panel.tsx';
import { useExport } from './use-export.ts';

/** Comes when it is opened. */
const ExportPanel = lazy(() => import('./export-panel.tsx').then(({ ExportPanel }) => ({ default: ExportPanel })));

/** Opens what a run can be taken away as. */
export const ExportButton = ({
  run,
  parameters,
  isAsked = false,
  onDone,
}: {
  /** One that is complete; null while there is none. */
  run: RunState | null;
  /** Names of its parameters. */
  parameters: readonly string[];
  /** It opens by itself once the run is complete. */
  isAsked?: boolean;
  /** A file was made. */
  onDone?: (format: string, name: string) => void;
}) => {
  const { t } = useTranslation();
  const [isOpen, setOpen] = useState(isAsked);
  const outputs = useQuery(queries.outputs());
  // A file goes on being made while the panel is closed.
  const making = useExport(run, (format, name) => {
    setOpen(false);
    onDone?.(format, name);
  });
  if (!outputs.data || outputs.data.length === 0) return null;
  return (
    <Popover.Root open={isOpen && run !== null} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button look="primary" disabled={run === null}>
          <Download size={14} aria-hidden />{' '}
          <span className="max-md:sr-only">{t(making.write.isPending ? 'export.preparing' : 'export.title')}</span>
        </Button>
      </Popover.Trigger>
      <Panel label={t('export.title')} align="end" className="flex max-h-[80vh] w-[520px] max-w-[96vw] overflow-hidden">
        <Suspense fallback={<p className="p-4 text-ink-3">{t('app.loading')}</p>}>
          {run && <ExportPanel run={run} outputs={outputs.data} parameters={parameters} making={making} />}
        </Suspense>
      </Panel>
    </Popover.Root>
  );
};
