import { Columns3 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import { Panel } from '../../ui/panel.tsx';
import { withColumn } from './arrangement.ts';
import type { Arranging } from './use-arranging.ts';

/** Which columns are shown. */
export const ColumnsMenu = ({ arranging }: { arranging: Arranging }) => {
  const { t } = useTranslation();
  const { columns, now, set } = arranging;
  const offered = columns.filter(({ mayBeHidden }) => mayBeHidden);
  const shown = offered.filter(({ id }) => !now.hidden.includes(id));
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <IconButton label={t('viewer.arranged.columns')}>
          <Columns3 size={16} />
        </IconButton>
      </Popover.Trigger>
      <Panel label={t('viewer.arranged.columns')} align="start" className="w-60 p-2 [--panel-height:60vh]">
        {offered.map(({ id, label }) => {
          const isShown = !now.hidden.includes(id);
          return (
            <label key={id} className="flex min-h-7 items-center gap-2 rounded px-1.5 hover:bg-desk/50">
              <input
                type="checkbox"
                className="accent-pine"
                checked={isShown}
                // One at least stays.
                disabled={isShown && shown.length === 1}
                onChange={() => set(withColumn(now, id, !isShown))}
              />
              {label}
            </label>
          );
        })}
      </Panel>
    </Popover.Root>
  );
};
