import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';

interface PanelProps {
  /** Side of its button that it lines up with. */
  align: 'start' | 'end';
  className: string;
  children: ReactNode;
}

/** What opens below a button: the same paper everywhere. Stands inside a Popover.Root. */
export const Panel = ({ align, className, children }: PanelProps) => (
  <Popover.Portal>
    <Popover.Content
      align={align}
      sideOffset={6}
      className={`z-30 rounded-lg border border-rule bg-paper shadow-lg ${className}`}
    >
      {children}
    </Popover.Content>
  </Popover.Portal>
);
