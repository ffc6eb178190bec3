import type { Mark, Page } from '@gaveta/core/internal';

/** How much smaller a page becomes on slides of a size: all slides of a presentation have that of its first page. */
export const scaleTo = (page: Pick<Page, 'width' | 'height'>, size: Pick<Page, 'width' | 'height'>): number =>
  Math.min(1, size.width / page.width, size.height / page.height);

const boxed = <B extends { x: number; y: number; width: number; height: number }>(box: B, scale: number): B => ({
  ...box,
  x: box.x * scale,
  y: box.y * scale,
  width: box.width * scale,
  height: box.height * scale,
});

/** A mark that much smaller; those that become pictures, and what is in them, stay as they are. */
export const scaled = (mark: Mark, scale: number): Mark => {
  if (scale === 1) return mark;
  switch (mark.kind) {
    case 'text':
      return {
        ...mark,
        x: mark.x * scale,
        y: mark.y * scale,
        width: mark.width * scale,
        size: mark.size * scale,
      };
    case 'line': {
      const { x, y, x2, y2, thickness } = mark;
      return { ...mark, x: x * scale, y: y * scale, x2: x2 * scale, y2: y2 * scale, thickness: thickness * scale };
    }
    case 'rectangle': {
      const { thickness = 1, radius = 0 } = mark;
      return { ...boxed(mark, scale), thickness: thickness * scale, radius: radius * scale };
    }
    case 'picture':
      return { ...boxed(mark, scale), ...(mark.window ? { window: boxed(mark.window, scale) } : {}) };
    case 'region':
    case 'slot':
      return boxed(mark, scale);
    default:
      return mark;
  }
};

/** Where something stands on a slide that is that much smaller. */
export const scaledPlace = boxed;
