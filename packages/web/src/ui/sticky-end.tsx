import type { ReactNode } from 'react';

/** What ends a column that scrolls, with a padding of 16 pixels around: it stays in sight however long the column is. */
export const StickyEnd = ({ children }: { children: ReactNode }) => (
  <div className="sticky -bottom-4 z-10 -mx-4 mt-auto -mb-4 border-t border-rule bg-paper px-4 py-3">{children}</div>
);
