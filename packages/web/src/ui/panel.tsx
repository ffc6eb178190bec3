import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';

interface PanelProps {
  /** What it holds, for those who do not see it. */
  label: string;
  /** Side of its button that it lines up with. */
  align: 'start' | 'end';
  className: string;
  /** In CSS pixels; left out: as the class says. */
  width?: number;
  /** Told before Escape closes it. */
  onEscape?: () => void;
  children: ReactNode;
}

/** What opens below a button, or at a point: the same paper everywhere. Stands inside a Popover.Root. */
export const Panel = ({ label, align, className, width, onEscape, children }: PanelProps) => (
  <Popover.Portal>
    <Popover.Content
      aria-label={label}
      align={align}
      sideOffset={6}
      collisionPadding={4}
      className={`panel z-60 rounded-lg border border-rule bg-paper shadow-lg ${className}`}
      style={{ width }}
      onEscapeKeyDown={(event) => {
        // Escape closes what a formula offers first.
        if (document.querySelector('.cm-tooltip-autocomplete')) event.preventDefault();
        else onEscape?.();
      }}
    >
      {children}
    </Popover.Content>
  </Popover.Portal>
);
