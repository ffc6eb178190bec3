import { Popover } from 'radix-ui';
import { type ReactNode, useRef } from 'react';
import { Panel } from '../../../ui/panel.tsx';

interface Props {
  /** Names it for those who look for it. */
  tag: string;
  /** The part that it stands on. */
  part: string;
  /** What stands there. */
  words: string;
  /** Of what is counted, in pine; of groups, in brass. */
  isCounted: boolean;
  /** Its choices. */
  children: ReactNode;
}

/** A tag on a part of an item, which says what stands there; a press opens its choices. */
export const Tag = ({ tag, part, words, isCounted, children }: Props) => {
  const from = useRef<{ x: number; y: number } | null>(null);
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <button
          type="button"
          data-tag={tag}
          className={`max-w-full truncate rounded-full border px-1.5 text-[10.5px] leading-[15px] ${isCounted ? 'border-pine/40 bg-pine-soft text-chip' : 'border-brass/50 bg-brass-soft text-ink'}`}
          onPointerDown={({ clientX, clientY }) => {
            from.current = { x: clientX, y: clientY };
          }}
          // What was dragged along with its item was not pressed.
          onClick={(event) => {
            const { x, y } = from.current ?? { x: event.clientX, y: event.clientY };
            if (Math.hypot(event.clientX - x, event.clientY - y) > 3) event.preventDefault();
          }}
          onDoubleClick={(event) => event.stopPropagation()}
        >
          <span className="opacity-70">{part}</span> <b className="font-semibold">{words}</b>
        </button>
      </Popover.Trigger>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: what is pressed in the panel is no press of the item, which React takes it for */}
      <span
        className="contents"
        onPointerDown={(event) => event.stopPropagation()}
        onDoubleClick={(event) => event.stopPropagation()}
      >
        <Panel label={words} align="start" className="max-h-[70vh] w-72 overflow-auto p-2.5">
          {children}
        </Panel>
      </span>
    </Popover.Root>
  );
};
