import { Popover } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { useDrag } from '../ui/drag.ts';
import { Panel } from '../ui/panel.tsx';

const TONES = {
  column: 'border-pine',
  group: 'border-brass',
  plain: 'border-ink-3',
} as const;

interface WordProps {
  id: string;
  label: string;
  tone: keyof typeof TONES;
  /** What a press opens; null where nothing can be changed. */
  children: ((close: () => void) => ReactNode) | null;
  width?: string;
}

/** A word of the sentence that is pressed to change what it says. */
export const Word = ({ id, label, tone, children, width = 'w-72' }: WordProps) => {
  const [open, setOpen] = useState(false);
  if (!children) return <b className="font-semibold">{label}</b>;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          data-word={id}
          className={`max-w-[40ch] truncate rounded-t border-b-2 px-0.5 align-bottom font-semibold hover:bg-pine-soft/60 ${TONES[tone]}`}
        >
          {label}
        </button>
      </Popover.Trigger>
      <Panel label={label} align="start" className={`${width} max-w-[94vw] overflow-auto [--panel-height:560px]`}>
        {children(() => setOpen(false))}
      </Panel>
    </Popover.Root>
  );
};

/** Words with commas and “and” between them. */
export const Listed = ({ words, and }: { words: readonly ReactNode[]; and: string }) =>
  words.map((word, i) => (
    // biome-ignore lint/suspicious/noArrayIndexKey: words are told apart by their place
    <span key={i}>
      {i === 0 ? '' : i === words.length - 1 ? ` ${and} ` : ', '}
      {word}
    </span>
  ));

/** Where fields are dropped on the sentence, lit up while one is over it. */
export const Zone = ({ zone, children }: { zone: string; children: ReactNode }) => {
  const isOver = useDrag((drag) => drag.over === zone);
  const isDragging = useDrag((drag) => drag.dragged !== null);
  return (
    <span
      data-drop={zone}
      className={`rounded ${isDragging ? 'outline-1 outline-dashed outline-ink-3' : ''} ${isOver ? 'bg-pine-soft outline-pine!' : ''}`}
    >
      {children}
    </span>
  );
};
