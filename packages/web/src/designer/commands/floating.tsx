import { Popover } from 'radix-ui';
import { type ReactNode, useMemo, useRef } from 'react';
import { Panel } from '../../ui/panel.tsx';
import { closeOverlay } from '../design/overlay.ts';

interface FloatingProps {
  label: string;
  /** Wished corner, in CSS pixels of the window; the panel stays inside it. */
  at: { x: number; y: number };
  width: number;
  children: ReactNode;
}

/** A panel over the designer that Escape or a press outside closes; after Escape the keyboard goes back to where it was. */
export const Floating = ({ label, at, width, children }: FloatingProps) => {
  const before = useRef(document.activeElement);
  const corner = useMemo(
    () => ({ current: { getBoundingClientRect: () => new DOMRect(at.x, at.y, 0, 0) } }),
    [at.x, at.y],
  );
  return (
    <Popover.Root open onOpenChange={(open) => !open && closeOverlay()}>
      <Popover.Anchor virtualRef={corner} />
      <Panel
        label={label}
        align="start"
        width={width}
        className="overflow-hidden"
        onEscape={() => {
          if (before.current instanceof HTMLElement) before.current.focus({ preventScroll: true });
        }}
      >
        {children}
      </Panel>
    </Popover.Root>
  );
};
