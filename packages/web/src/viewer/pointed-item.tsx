import { X } from 'lucide-react';
import { type RefObject, useEffect, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { IconButton } from '../ui/controls.tsx';
import { placeWithin } from './place-within.ts';

/** An item of the report that something is said about. */
export interface Pointed {
  /** Its id. */
  item: string;
  /** 1-based. */
  page: number;
  words: string;
}

interface PointedItemProps {
  pointed: Pointed;
  scroller: RefObject<HTMLElement | null>;
  onClose: () => void;
}

/** Frames an item where it stands on its page, and says below it what there is to say. */
export const PointedItem = ({ pointed, scroller, onClose }: PointedItemProps) => {
  const { t } = useTranslation();
  const { item, page, words } = pointed;
  const [at, setAt] = useState<Element | null>(null);
  useEffect(() => {
    const { current } = scroller;
    if (!current) return;
    const find = (): void => setAt(current.querySelector(`[data-page="${page}"] [data-item="${CSS.escape(item)}"]`));
    find();
    // Its page may not be drawn yet, and is drawn anew at another size.
    const watch = new MutationObserver(find);
    watch.observe(current, { childList: true, subtree: true });
    return () => watch.disconnect();
  }, [scroller, item, page]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') onClose();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [onClose]);
  const place = placeWithin(at, scroller.current);
  if (!place) return null;
  const { left, top, height } = place;
  return (
    <>
      <div
        aria-hidden
        className="pointer-events-none absolute z-10 rounded-sm outline-2 outline-offset-1 outline-rust"
        style={place}
      />
      <div
        role="status"
        data-testid="pointed-words"
        className="absolute z-10 flex w-72 max-w-[calc(100%-16px)] items-start gap-1 rounded border border-rust/40 bg-paper py-1.5 ps-3 pe-1 shadow"
        style={{ left: Math.max(8, Math.min(left, (scroller.current?.clientWidth ?? 0) - 296)), top: top + height + 8 }}
      >
        <p className="min-w-0 flex-1 py-1">{words}</p>
        <IconButton label={t('app.close')} onClick={onClose}>
          <X size={14} />
        </IconButton>
      </div>
    </>
  );
};
