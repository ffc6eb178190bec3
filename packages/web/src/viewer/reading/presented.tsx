import { ChevronLeft, ChevronRight, X } from 'lucide-react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import type { Reading } from './use-reading.ts';

/** What lies over pages that are presented: their number, and the ways to the others and out. */
export const Presented = ({ reading, count }: { reading: Reading; count: number }) => {
  const { t } = useTranslation();
  const { page } = reading;
  return (
    <div
      role="toolbar"
      aria-label={t('viewer.toolbar')}
      className="fixed end-3 bottom-3 flex h-9 items-center gap-1 rounded-full bg-bar/80 px-2 text-bar-text opacity-30 transition-opacity duration-100 focus-within:opacity-100 hover:opacity-100 [&_button]:text-bar-text [&_button:hover]:bg-white/15"
    >
      <IconButton label={t('viewer.previous')} disabled={page <= 1} onClick={() => reading.turn(-1, count)}>
        <ChevronLeft size={15} />
      </IconButton>
      <span data-testid="presented-place" className="min-w-12 text-center tabular-nums">
        {page} / {count}
      </span>
      <IconButton label={t('viewer.next')} disabled={page >= count} onClick={() => reading.turn(1, count)}>
        <ChevronRight size={15} />
      </IconButton>
      <IconButton label={t('viewer.presentEnd')} onClick={() => reading.present(false)}>
        <X size={15} />
      </IconButton>
    </div>
  );
};
