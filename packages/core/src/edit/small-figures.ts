import type { FieldParts } from './field-parts.ts';
import { groupBy, totalOf } from './item-fields.ts';

/** What a field can be in a gauge. */
export const GAUGE_PARTS = ['value', 'target', 'compare', 'from', 'to'] as const;
export type GaugePart = (typeof GAUGE_PARTS)[number];

const isGaugePart = (part: string): part is GaugePart => (GAUGE_PARTS as readonly string[]).includes(part);

/** Every part takes the value of the row where it stands, or a total: a gauge stands for all rows at once. */
export const gaugeFieldParts: FieldParts<'gauge'> = {
  takesOne: true,
  isEmpty: ({ value }) => value.trim() === '',
  partFor: ({ value, target }) => (value.trim() === '' ? 'value' : target ? 'compare' : 'target'),
  withField: (item, part, field) => {
    if (!isGaugePart(part)) return null;
    const { formula, caption } = field.isOne ? { formula: field.formula, caption: field.label } : totalOf(field);
    return { [part]: formula, ...(part === 'value' && !item.title ? { title: caption } : {}) };
  },
};

export const sparklineFieldParts: FieldParts<'sparkline'> = {
  isEmpty: ({ along, measure }) => !along && measure.trim() === '',
  partFor: (_, type) => (type === 'number' ? 'measure' : 'along'),
  withField: (_, part, field) => {
    if (part === 'along') return { along: groupBy(field, new Set()) };
    return part === 'measure' ? { measure: totalOf(field).formula } : null;
  },
};

/** What a field can be in a map. */
export const MAP_PARTS = ['along', 'shape', 'lon', 'lat', 'measure'] as const;
export type MapPart = (typeof MAP_PARTS)[number];

/** Names that say of a number that it is a place in degrees. */
const LON = /^(lon|lng|long|longitude|x)$/i;
const LAT = /^(lat|latitude|y)$/i;
/** And of a text that it is a shape. */
const SHAPE = /(shape|outline|geojson|geometry|geo|border|contour)/i;

const lastOf = (formula: string): string => formula.split('.').at(-1) ?? '';

export const mapFieldParts: FieldParts<'map'> = {
  isEmpty: ({ along, shape, lon, lat, measure }) => !along && !shape && !lon && !lat && !measure,
  partFor: (_, type, formula) => {
    const name = lastOf(formula);
    if (type === 'number') return LON.test(name) ? 'lon' : LAT.test(name) ? 'lat' : 'measure';
    return SHAPE.test(name) ? 'shape' : 'along';
  },
  withField: (_, part, field) => {
    switch (part) {
      case 'along':
        return { along: groupBy(field, new Set()) };
      case 'shape':
      case 'lon':
      case 'lat':
        return { [part]: field.formula };
      case 'measure': {
        const { formula, caption } = totalOf(field);
        return { measure: formula, caption };
      }
      default:
        return null;
    }
  },
};
