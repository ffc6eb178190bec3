import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';

interface PanelProps {
  /** What it holds, for those who do not see it. */
  label: string;
  /** Side of its button that it lines up with. */
  align: 'start' | 'end';
  className: string;
  children: ReactNode;
}

/** What opens below a button: the same paper everywhere. Stands inside a Popover.Root. */
export const Panel = ({ label, align, className, children }: PanelProps) => (
  <Popover.Portal>
    <Popover.Content
      aria-label={label}
      align={align}
      sideOffset={6}
      collisionPadding={4}
      className={`panel z-60 rounded-lg border border-rule bg-paper shadow-lg ${className}`}
    >
      {children}
    </Popover.Content>
  </Popover.Portal>
);
