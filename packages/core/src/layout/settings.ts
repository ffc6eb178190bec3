import { expectedOf } from '../definition/read.ts';
import { type BandFormulaSetting, bandSchema, type FormulaSetting } from '../definition/schema.ts';
import type { z } from '../definition/zod.ts';
import type { EvaluationContext } from '../formula/functions/context.ts';
import { type Phrase, type ProblemValue, phrase } from '../problems/phrases.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { isFormatCode } from '../text/format.ts';
import { isNumeric, toNumber } from '../value/number.ts';
import { FormulaError, type Value, valueText } from '../value/value.ts';
import { mirroredBox } from './mirrored-box.ts';
import {
  type DecidedSettings,
  type Deciding,
  type LayingOut,
  POINTS,
  type PreparedBand,
  type PreparedItem,
  type SettingShapes,
} from './prepared.ts';

const PLACES = ['x', 'y', 'width', 'height'] as const;
type PlaceSetting = (typeof PLACES)[number];

/** Longest side that a formula may give, in millimetres. */
const FARTHEST = 5000;

const isPlace = (name: FormulaSetting): name is PlaceSetting => (PLACES as readonly string[]).includes(name);

/** Millimetres as points; null for what is no length. */
const length = (name: PlaceSetting, value: Value): number | null => {
  if (!isNumeric(value)) return null;
  const number = toNumber(value);
  if (!Number.isFinite(number)) return null;
  return Math.min(FARTHEST, Math.max(name === 'width' || name === 'height' ? 0 : -FARTHEST, number)) * POINTS;
};

const TYPES = { string: 'column-text', number: 'type-number', boolean: 'true-or-false' } as const;

const expectedType = (issue: z.core.$ZodIssue): Phrase => {
  const type = issue.code === 'invalid_type' ? issue.expected : '';
  return Object.hasOwn(TYPES, type) ? phrase(TYPES[type as keyof typeof TYPES]) : expectedOf(issue);
};

/** What a value of the right type must be besides; null when it is. */
const expectedBesides = (name: string, value: unknown, styles: Deciding['styles']): ProblemValue | null => {
  if (name === 'format') return isFormatCode(String(value)) ? null : phrase('number-format');
  if (name === 'style' && styles && !styles.includes(String(value))) return styles.join(', ') || phrase('no-styles');
  return null;
};

/** The value as the setting may have it; undefined when it is unfit, which is told. */
const fitting = (
  name: FormulaSetting | BandFormulaSetting,
  value: Value,
  schema: z.ZodType,
  styles: Deciding['styles'],
  told: (data: Problem['data']) => void,
): unknown => {
  const read = schema.safeParse(isNumeric(value) ? toNumber(value) : value);
  const expected = read.success ? expectedBesides(name, read.data, styles) : expectedType(read.error.issues[0]!);
  if (read.success && expected === null) return read.data;
  // What IF gives where its condition does not hold.
  if (value === false || value === '') return undefined;
  told({ setting: phrase(`setting-${name}`), given: valueText(value).slice(0, 60), expected: expected! });
  return undefined;
};

/** The item with what its formulas decide on for the rows that are current. */
export const withSettings = (item: PreparedItem, out: LayingOut): PreparedItem => {
  const { shapes, look: looks, styles } = item.deciding;
  // What formulas decide on is counted from the left, as the definition is.
  const box = item.mirrorsIn === null ? { ...item.box } : mirroredBox(item.box, item.mirrorsIn);
  const decided: DecidedSettings = { look: {}, own: {} };
  const unfit = (data: Problem['data']): void => out.tell(problem('unfit-setting', { item: item.id }, data, 'warning'));
  for (const [name, evaluate] of item.settings) {
    const value = evaluate(out.context);
    out.formulas++;
    if (value === null || value instanceof FormulaError) continue;
    if (isPlace(name)) {
      const points = length(name, value);
      if (points !== null) box[name] = points;
      continue;
    }
    const schema = shapes[name];
    const fit = schema && fitting(name, value, schema, styles, unfit);
    if (fit !== undefined) (looks && name in looks ? decided.look : decided.own)[name] = fit;
  }
  return item.deciding.withSettings(item.mirrorsIn === null ? box : mirroredBox(box, item.mirrorsIn), decided);
};

const BANDS: SettingShapes = bandSchema.shape;

type BandSettings = { height?: number; background?: string; keepWhole?: boolean };

/** What the formulas of a band decide on for the rows that are current. Heights in millimetres. */
export const bandSettings = (
  { settings, path }: PreparedBand,
  context: EvaluationContext,
  { work, tell }: { work: { formulas: number }; tell: (found: Problem) => void },
): BandSettings => {
  const set: Partial<Record<BandFormulaSetting, unknown>> = {};
  for (const [name, evaluate] of settings) {
    const value = evaluate(context);
    work.formulas++;
    if (value === null || value instanceof FormulaError) continue;
    set[name] = fitting(name, value, BANDS[name]!, null, (data) =>
      tell(problem('unfit-setting', { path: `${path}/formulas/${name}` }, data, 'warning')),
    );
  }
  return set as BandSettings;
};
