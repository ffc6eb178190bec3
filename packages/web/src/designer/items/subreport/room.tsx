import { FileStack } from 'lucide-react';
import { useTranslation } from '../../../i18n/use-translation.ts';
import { useDesigner } from '../../design/state.ts';
import type { BoardProps, ItemRoom } from '../room.ts';
import { SubreportContent } from './content.tsx';

/** On the board. */
const Board = ({ item }: BoardProps<'subreport'>) => {
  const { t } = useTranslation();
  const reportNames = useDesigner((s) => s.reportNames);
  return (
    <div className="size-full overflow-hidden border border-brass bg-brass-soft/30 p-1 text-[11px] text-ink-2">
      <b>{t('kinds.subreport')}</b> {reportNames[item.report] ?? t('subreport.choose')}
    </div>
  );
};

export const subreportRoom: ItemRoom<'subreport'> = {
  Board,
  Content: SubreportContent,
  add: { id: 'subreport', icon: FileStack },
};
