import { AlertDialog, Dialog as Sheet } from 'radix-ui';
import type { KeyboardEvent, ReactNode } from 'react';

const SHADE = 'fixed inset-0 bg-ink/25';
const PAPER = 'fixed rounded-lg border border-rule bg-paper shadow-lg';

interface DialogProps {
  /** What it is about, for those who do not see it. */
  title: string;
  /** Told when it is to close: by Escape, or by what stands in it. */
  onClose: () => void;
  onKeyDown?: (event: KeyboardEvent) => void;
  children: ReactNode;
}

/** Work that takes the whole window for a while. A press beside it is a slip and closes nothing. */
export const Dialog = ({ title, onClose, onKeyDown, children }: DialogProps) => (
  <Sheet.Root open onOpenChange={(open) => !open && onClose()}>
    <Sheet.Portal>
      <Sheet.Overlay className={`${SHADE} z-40`} />
      <Sheet.Content
        aria-describedby={undefined}
        className={`${PAPER} inset-6 z-50 flex flex-col overflow-hidden`}
        onInteractOutside={(event) => event.preventDefault()}
        onKeyDown={(event) => {
          // Keys of the screen behind have no meaning here.
          event.stopPropagation();
          onKeyDown?.(event);
        }}
      >
        <Sheet.Title className="sr-only">{title}</Sheet.Title>
        {children}
      </Sheet.Content>
    </Sheet.Portal>
  </Sheet.Root>
);

interface QuestionProps {
  /** Null: closed. */
  title: string | null;
  onClose: () => void;
  children: ReactNode;
}

/** A question in front of everything else, that waits for an answer; Escape is no. */
export const Question = ({ title, onClose, children }: QuestionProps) => (
  <AlertDialog.Root open={title !== null} onOpenChange={(open) => !open && onClose()}>
    <AlertDialog.Portal>
      <AlertDialog.Overlay className={`${SHADE} z-70`} />
      <AlertDialog.Content
        className={`${PAPER} top-[22vh] left-1/2 z-70 w-[min(420px,calc(100vw-32px))] -translate-x-1/2 p-5`}
      >
        <AlertDialog.Title className="sr-only">{title}</AlertDialog.Title>
        {children}
      </AlertDialog.Content>
    </AlertDialog.Portal>
  </AlertDialog.Root>
);
