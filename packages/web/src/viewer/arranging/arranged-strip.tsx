import { AS_MADE } from '@gaveta/core/internal';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { isAsMade, without } from './arrangement.ts';
import type { Arranging } from './use-arranging.ts';

/** What of a report is not as it was made, each with the way back. */
export const ArrangedStrip = ({ arranging }: { arranging: Arranging }) => {
  const { t } = useTranslation();
  const { now, columns, set } = arranging;
  if (isAsMade(now)) return null;
  const labelOf = (id: string): string => columns.find((column) => column.id === id)?.label ?? '…';
  return (
    <section
      aria-label={t('viewer.arranged.title')}
      className="flex flex-wrap items-center gap-1.5 border-b border-rule bg-brass-soft/60 px-3.5 py-1.5"
    >
      {now.sorts.map(({ column, descending }) => (
        <Difference key={column} onUndo={() => set(without(now, 'sorts', column))}>
          {t(descending ? 'viewer.arranged.sortedDown' : 'viewer.arranged.sorted', { name: labelOf(column) })}
        </Difference>
      ))}
      {now.filters.map(({ column, value }) => (
        <Difference key={column} onUndo={() => set(without(now, 'filters', column))}>
          {value === null || value === ''
            ? t('viewer.arranged.blank', { name: labelOf(column) })
            : t('viewer.arranged.only', { name: labelOf(column), value: String(value) })}
        </Difference>
      ))}
      {now.hidden.map((column) => (
        <Difference key={column} onUndo={() => set(without(now, 'hidden', column))}>
          {t('viewer.arranged.hidden', { name: labelOf(column) })}
        </Difference>
      ))}
      <button type="button" className="rounded px-1.5 text-ink-2 hover:text-pine" onClick={() => set(AS_MADE)}>
        {t('viewer.arranged.undo')}
      </button>
    </section>
  );
};

const Difference = ({ children, onUndo }: { children: ReactNode; onUndo: () => void }) => {
  const { t } = useTranslation();
  return (
    <span className="inline-flex h-6 items-center gap-1 rounded-full border border-brass/40 bg-paper ps-2.5 pe-1">
      {children}
      <button
        type="button"
        aria-label={t('viewer.arranged.undoOne')}
        title={t('viewer.arranged.undoOne')}
        className="grid size-4 place-items-center rounded-full text-ink-3 hover:bg-desk hover:text-ink"
        onClick={onUndo}
      >
        <X size={11} aria-hidden />
      </button>
    </span>
  );
};
