import { type FormulaSetting, type Look, lookSchema } from '../definition/schema.ts';
import { isNumeric, toNumber } from '../value/number.ts';
import { FormulaError, type Value } from '../value/value.ts';
import { POINTS, type PreparedItem } from './prepared.ts';
import type { LayingOut } from './words.ts';

const PLACES = ['x', 'y', 'width', 'height'] as const;
type Place = (typeof PLACES)[number];

/** Longest side that a formula may give, in millimetres. */
const FARTHEST = 5000;

const isPlace = (name: FormulaSetting): name is Place => (PLACES as readonly string[]).includes(name);

/** Millimetres as points; null for what is no length. */
const length = (name: Place, value: Value): number | null => {
  if (!isNumeric(value)) return null;
  const number = toNumber(value);
  if (!Number.isFinite(number)) return null;
  return Math.min(FARTHEST, Math.max(name === 'width' || name === 'height' ? 0 : -FARTHEST, number)) * POINTS;
};

/** The value as a look may have it; undefined when it is unfit. */
const lookValue = (name: keyof Look, value: Value): unknown => {
  const plain = isNumeric(value) ? toNumber(value) : value;
  const read = lookSchema.shape[name].safeParse(plain);
  return read.success ? read.data : undefined;
};

/** The item with what its formulas decide on for the rows that are current. */
export const settle = (item: PreparedItem, out: LayingOut): PreparedItem => {
  const box = { ...item.box };
  const look: Record<string, unknown> = {};
  for (const [name, evaluate] of item.settings) {
    const value = evaluate(out.context);
    out.formulas++;
    if (value === null || value instanceof FormulaError) continue;
    if (isPlace(name)) {
      const points = length(name, value);
      if (points !== null) box[name] = points;
      continue;
    }
    const isColor = name === 'fill' || name === 'stroke';
    const fit = lookValue(isColor ? 'color' : name, value);
    if (fit !== undefined) look[name] = fit;
  }
  switch (item.kind) {
    case 'words':
      return item.settled(box, look as Look);
    case 'line':
      return { ...item, box, item: { ...item.item, ...pick(look, ['color']) } };
    case 'rectangle':
      return { ...item, box, item: { ...item.item, ...pick(look, ['fill', 'stroke', 'opacity']) } };
    case 'barcode':
      return { ...item, box, item: { ...item.item, ...pick(look, ['color']) } };
    case 'picture':
      return { ...item, box, item: { ...item.item, ...pick(look, ['opacity']) } };
    default:
      return item satisfies never;
  }
};

const pick = (from: Record<string, unknown>, names: readonly string[]): Record<string, unknown> =>
  Object.fromEntries(names.flatMap((name) => (from[name] === undefined ? [] : [[name, from[name]]])));
