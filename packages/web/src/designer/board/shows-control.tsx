import { ChevronLeft, ChevronRight } from 'lucide-react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { BOARD_SHOWS, useBoardWords } from '../design/board-words.ts';

/** What fields show on the board, and which row's values. */
export const ShowsControl = () => {
  const { t } = useTranslation();
  const { shows, row, rows } = useBoardWords();
  const next = BOARD_SHOWS[(BOARD_SHOWS.indexOf(shows) + 1) % BOARD_SHOWS.length]!;
  const step = (by: number, label: string) => {
    const Picture = by < 0 ? ChevronLeft : ChevronRight;
    return (
      <button
        type="button"
        aria-label={label}
        title={label}
        disabled={by < 0 ? row === 0 : row >= rows - 1}
        className="grid size-5 place-items-center rounded hover:bg-bar-key disabled:opacity-40"
        onClick={() => useBoardWords.setState({ row: Math.max(0, Math.min(row + by, rows - 1)) })}
      >
        <Picture size={13} aria-hidden />
      </button>
    );
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: buttons in a line are no fieldset
    <div role="group" aria-label={t('board.shows')} className="pointer-events-auto me-2 flex flex-none items-center">
      <button
        type="button"
        data-testid="board-shows"
        title={t('board.showNext')}
        className="rounded px-1.5 hover:bg-bar-key"
        onClick={() => useBoardWords.setState({ shows: next })}
      >
        {t(`board.show_${shows}`)}
      </button>
      {shows === 'value' && (
        <>
          {step(-1, t('board.rowBefore'))}
          <span className="min-w-8 text-center tabular-nums" data-testid="board-row">
            {rows === 0 ? '–' : `${Math.min(row, rows - 1) + 1}/${rows}`}
          </span>
          {step(1, t('board.rowAfter'))}
        </>
      )}
    </div>
  );
};
