import { Command, useCommandState } from 'cmdk';
import { type ReactNode, useEffect, useRef } from 'react';

/** What was found by typing: the best comes first, and into sight with each letter. */
export const FoundList = ({ className, children }: { className: string; children: ReactNode }) => {
  const list = useRef<HTMLDivElement>(null);
  const search = useCommandState((state) => state.search);
  const before = useRef(search);
  useEffect(() => {
    if (before.current === search) return;
    before.current = search;
    // What matches best is put first after this has been drawn.
    const frame = requestAnimationFrame(() => list.current?.scrollTo({ top: 0 }));
    return () => cancelAnimationFrame(frame);
  }, [search]);
  return (
    <Command.List ref={list} className={`overflow-auto [overflow-anchor:none] ${className}`}>
      {children}
    </Command.List>
  );
};
