import { Table2 } from 'lucide-react';
import { useTranslation } from 'react-i18next';
import type { BoardProps, ItemRoom } from '../room.ts';

/** On the board. */
const Board = ({ item }: BoardProps<'crosstab'>) => {
  const { t } = useTranslation();
  return (
    <div className="size-full overflow-hidden border border-brass p-1 text-[11px] text-ink-2">
      <b>{t('kinds.crosstab')}</b> {item.id}
    </div>
  );
};

export const crosstabRoom: ItemRoom<'crosstab'> = {
  Board,
  add: { id: 'crosstab', icon: Table2 },
};
