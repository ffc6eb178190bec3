import { useLiveView } from '../../design/context.ts';

/** The place of a figure, out of the mark that stands for it. */
const PLACE = /^<g role="img"[^>]*><rect x="(\S+)" y="(\S+)" width="(\S+)" height="(\S+)"/;

/** What the live page drew first of an item, as a picture of its own; null while there is none. */
const drawingOf = (pages: readonly { marks: readonly string[] }[], id: string): string | null => {
  const own = `data-item="${id}"`;
  for (const { marks } of pages) {
    const start = marks.findIndex((mark) => mark.startsWith('<g role="img"') && mark.includes(own));
    if (start < 0) continue;
    const [, x, y, width, height] = PLACE.exec(marks[start]!) ?? [];
    let end = start + 1;
    // Its marks follow one another; the next one like it begins another instance.
    while (end < marks.length && marks[end]!.includes(own) && !marks[end]!.startsWith('<g role="img"')) end++;
    const inside = marks.slice(start + 1, end).join('');
    return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${x} ${y} ${width} ${height}" preserveAspectRatio="none" width="100%" height="100%" style="white-space:pre;font-kerning:none">${inside}</svg>`;
  }
  return null;
};

/** An item on the board as the live page shows it. */
export const LiveDrawing = ({ id }: { id: string }) => {
  const drawing = useLiveView(({ pages }) => drawingOf(pages, id));
  if (drawing === null) return null;
  return (
    <div
      aria-hidden
      className="pointer-events-none absolute inset-0 overflow-hidden opacity-80"
      // biome-ignore lint/security/noDangerouslySetInnerHtml: marks of pages, whose texts are escaped
      dangerouslySetInnerHTML={{ __html: drawing }}
    />
  );
};
