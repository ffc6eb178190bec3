import { dashOf } from '../../layout/default-look.ts';
import { POINTS } from '../../layout/prepared.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';
import { lineSchema } from './schema.ts';

export const prepareLine: PrepareItem<'line'> = ({ item }, common) =>
  plainItem(common, {
    item,
    shapes: lineSchema.shape,
    stretches: item.stretch ?? false,
    lay: ({ color, thickness, dash, id }, { x, y, width, height }, out) => {
      const points = thickness * POINTS;
      const dashes = dashOf(dash, points);
      const ends = { x, y, x2: x + width, y2: y + height };
      out.marks.push({
        kind: 'line',
        ...ends,
        color,
        thickness: points,
        item: id,
        ...(dashes ? { dash: dashes } : {}),
      });
    },
  });
