import { MoreHorizontal } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { IconButton } from './controls.tsx';

/** A button with three dots that opens a small menu of what can be done with something; `label` names that. */
export const SmallMenu = ({ label, children }: { label: string; children: ReactNode }) => (
  <DropdownMenu.Root>
    <DropdownMenu.Trigger asChild>
      <IconButton label={label} className="flex-none">
        <MoreHorizontal size={15} />
      </IconButton>
    </DropdownMenu.Trigger>
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        align="end"
        sideOffset={2}
        collisionPadding={4}
        className="z-60 min-w-48 rounded-lg border border-rule bg-paper p-1 shadow-lg"
        // What was picked opens a box, which keeps the focus that it takes.
        onCloseAutoFocus={(event) => event.preventDefault()}
        onClick={(event) => event.stopPropagation()}
      >
        {children}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
);
