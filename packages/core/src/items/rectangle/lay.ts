import { dashOf } from '../../layout/default-look.ts';
import { POINTS } from '../../layout/prepared.ts';
import { type PrepareItem, plainItem } from '../../layout/preparing.ts';
import { rectangleSchema } from './schema.ts';

export const prepareRectangle: PrepareItem<'rectangle'> = ({ item }, common) =>
  plainItem(common, {
    item,
    shapes: rectangleSchema.shape,
    stretches: item.stretch ?? false,
    lay: ({ fill, stroke, thickness, radius, id, dash, opacity }, { x, y, width, height }, out) => {
      const dashes = dashOf(dash, thickness * POINTS);
      out.marks.push({
        kind: 'rectangle',
        x,
        y,
        width,
        height,
        item: id,
        ...(fill ? { fill } : {}),
        ...(stroke ? { stroke, thickness: thickness * POINTS, ...(dashes ? { dash: dashes } : {}) } : {}),
        ...(radius ? { radius: radius * POINTS } : {}),
        ...(opacity !== undefined && opacity < 1 ? { opacity } : {}),
      });
    },
  });
