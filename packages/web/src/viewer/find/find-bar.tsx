import { ChevronDown, ChevronUp, List, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import type { Find } from './use-find.ts';

/** More than that is no word that somebody looks for. */
const LONGEST = 200;

interface FindBarProps {
  find: Find;
  /** Shows all matches in a list; null where there is no place for one. */
  onList: (() => void) | null;
  onClose: () => void;
}

/** What is looked for on all pages, which match is shown, and the way from one to the next. */
export const FindBar = ({ find, onList, onClose }: FindBarProps) => {
  const { t } = useTranslation();
  const box = useRef<HTMLInputElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time it is opened
  useEffect(() => box.current?.select(), [find.opened]);
  const { count, at, sought } = find;
  const none = !count;
  return (
    <search
      className="flex h-10 flex-none items-center gap-1.5 border-b border-rule bg-paper px-3.5"
      aria-label={t('viewer.find.title')}
    >
      <input
        ref={box}
        type="search"
        className="h-7 w-64 min-w-0 shrink appearance-none rounded [&::-webkit-search-cancel-button]:hidden border border-rule bg-paper px-2"
        aria-label={t('viewer.find.title')}
        placeholder={t('viewer.find.placeholder')}
        maxLength={LONGEST}
        value={find.text}
        onChange={(event) => find.type(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') find.step(event.shiftKey ? -1 : 1);
          else if (event.key === 'Escape') onClose();
          else return;
          event.preventDefault();
        }}
      />
      <IconButton label={t('viewer.find.previous')} disabled={none} onClick={() => find.step(-1)}>
        <ChevronUp size={16} aria-hidden />
      </IconButton>
      <IconButton label={t('viewer.find.next')} disabled={none} onClick={() => find.step(1)}>
        <ChevronDown size={16} aria-hidden />
      </IconButton>
      {onList && (
        <IconButton label={t('viewer.find.list')} disabled={none} onClick={onList}>
          <List size={16} aria-hidden />
        </IconButton>
      )}
      <span role="status" className="truncate text-ink-2 tabular-nums" data-testid="found">
        {sought === null
          ? ''
          : count === null
            ? t('viewer.find.looking')
            : count === 0
              ? t('viewer.find.none')
              : t('viewer.find.place', { at: at + 1, count })}
      </span>
      <span className="flex-1" />
      <IconButton label={t('viewer.find.close')} onClick={onClose}>
        <X size={16} aria-hidden />
      </IconButton>
    </search>
  );
};
