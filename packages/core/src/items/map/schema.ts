import { color, format, formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { lookSchema } from '../../definition/look.ts';
import { ownRowsSchema, rowGroupSchema, shortWords } from '../../definition/row-groups.ts';
import { z } from '../../definition/zod.ts';
import { figureLink } from '../chart/schema.ts';

export const mapSchema = z.strictObject({
  kind: z.literal('map'),
  ...place,
  /** Rows of its own; without them it groups those that a total counts where it stands. */
  rows: ownRowsSchema.optional(),
  /** What has a shape or a dot each. */
  along: rowGroupSchema.optional(),
  /** Its shape, a text with GeoJSON (RFC 7946). */
  shape: formula.optional(),
  /** Its place in degrees, where it has no shape. */
  lon: formula.optional(),
  lat: formula.optional(),
  /** What is measured of each. */
  measure: formula.optional(),
  caption: shortWords.optional(),
  format: format.optional(),
  /** Whether values colour the shapes in steps (when left out), or are the size of dots. */
  shows: z.enum(['colors', 'dots']).optional(),
  /** How many steps of colours; 5 when left out. */
  steps: z.number().int().min(1).max(12).optional(),
  ramp: z.strictObject({ from: color, to: color }).optional(),
  labels: z.enum(['none', 'name', 'value']).optional(),
  legend: z.enum(['right', 'left', 'top', 'bottom', 'none']).optional(),
  title: shortWords.optional(),
  /** What is shown when there are no rows. */
  empty: shortWords.optional(),
  look: lookSchema.optional(),
  onPress: figureLink.optional(),
});
