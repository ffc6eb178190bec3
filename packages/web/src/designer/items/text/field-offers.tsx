import type { Completion } from '@gaveta/core/internal';
import { createPortal } from 'react-dom';
import { useTranslation } from '../../../i18n/use-translation.ts';

interface OffersProps {
  id: string;
  offered: readonly Completion[];
  /** Place of the one that is marked. */
  marked: number;
  /** In CSS pixels of the window. */
  at: { x: number; y: number };
  onTake: (choice: Completion) => void;
}

/** Fields that can be put in where one types. The text keeps the keyboard. */
export const FieldOffers = ({ id, offered, marked, at, onTake }: OffersProps) => {
  const { t } = useTranslation();
  return createPortal(
    <div
      data-text-tools
      id={id}
      role="listbox"
      aria-label={t('text.fields')}
      className="fixed z-60 max-h-56 w-56 overflow-auto rounded-md border border-rule bg-paper p-1 shadow-lg"
      style={{ left: Math.min(at.x, window.innerWidth - 240), top: Math.min(at.y, window.innerHeight - 230) }}
    >
      {offered.map((choice, i) => (
        // biome-ignore lint/a11y/useKeyWithClickEvents: the text box has the keyboard
        <div
          key={choice.insert}
          id={`${id}-${i}`}
          role="option"
          tabIndex={-1}
          aria-selected={i === marked}
          ref={(element) => {
            if (i === marked) element?.scrollIntoView({ block: 'nearest' });
          }}
          className="flex w-full cursor-default items-baseline gap-2 rounded px-1.5 py-0.5 aria-selected:bg-pine-soft"
          onPointerDown={(event) => event.preventDefault()}
          onClick={() => onTake(choice)}
        >
          <span className="truncate">{choice.label}</span>
          <span className="ms-auto truncate font-mono text-[10.5px] text-ink-3">{choice.insert}</span>
        </div>
      ))}
    </div>,
    document.body,
  );
};
