import type { Arranging } from './use-arranging.ts';

const selector = (items: readonly string[]): string =>
  items.map((item) => `.page-paper [data-item="${CSS.escape(item)}"]`).join(',');

/** Captions that sort by a press look as if they did. */
export const CaptionLook = ({ arranging: { may, columns, now } }: { arranging: Arranging }) => {
  const captions = columns.flatMap((column) => column.captions);
  if (may === 'none' || captions.length === 0) return null;
  const sorted = columns.filter(({ id }) => now.sorts.some(({ column }) => column === id));
  const rules = [
    `${selector(captions)}{cursor:pointer}`,
    `:is(${selector(captions)}):hover{fill:var(--color-pine);text-decoration:underline}`,
    ...(sorted.length > 0
      ? [`:is(${selector(sorted.flatMap((column) => column.captions))}){text-decoration:underline}`]
      : []),
  ];
  return <style>{rules.join('\n')}</style>;
};
