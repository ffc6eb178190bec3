import { DropdownMenu } from 'radix-ui';

/** One choice of a small menu. */
export const MenuLine = ({ onSelect, children }: { onSelect: () => void; children: string }) => (
  <DropdownMenu.Item className="rounded px-2 py-0.5 outline-none data-[highlighted]:bg-pine-soft" onSelect={onSelect}>
    {children}
  </DropdownMenu.Item>
);
