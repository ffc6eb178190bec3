import { phrase } from '../../problems/phrases.ts';
import { isNumeric, numericText, toNumber } from '../../value/number.ts';
import { DATA_TYPES, type DataType, decodeValue, FormulaError, List, type Value } from '../../value/value.ts';
import type { ArgumentType, FunctionDefinition, FunctionTable } from './context.ts';

/**
 * A value as functions of a host's own take and give it: texts; numbers; true and false; dates as `2026-02-28`, times as
 * `2026-02-28T09:30:00.000Z`; pictures as `data:` addresses; lists of these; null for blank.
 */
export type PlainValue = null | string | number | boolean | readonly PlainValue[];

/** What an argument of a type arrives as. */
export type PlainOf<T extends ArgumentType, Exact extends boolean = false> = T extends 'number'
  ? (Exact extends true ? string : number) | null
  : T extends 'boolean'
    ? boolean | null
    : T extends 'list'
      ? readonly PlainValue[] | null
      : T extends 'any'
        ? PlainValue
        : string | null;

type Takes = readonly (readonly [name: string, type: ArgumentType])[];

/** Arguments in their order; those past `min` may be missing. */
type Arguments<T extends Takes, Exact extends boolean> = {
  readonly [P in keyof T]: T[P] extends readonly [string, infer A extends ArgumentType] ? PlainOf<A, Exact> : never;
};

/** What a function knows of the run it works in. */
export interface FunctionSurroundings {
  /** Of the report: a BCP 47 tag, and an IANA name. */
  language: string;
  timeZone: string;
  /** When the report runs, as `2026-02-28T09:30:00.000Z`: the same in all its formulas. */
  runAt: string;
}

/** A function that a host adds to formulas. It must give the same for the same arguments, and cannot wait for anything. */
export interface AddedFunction<T extends Takes = Takes, Exact extends boolean = boolean> {
  /** Names and types of the arguments; the last one repeats while `max` allows it. */
  takes: T;
  /** Fewest arguments; as many as `takes` names when left out. */
  min?: number;
  /** Most arguments, up to 255; as many as `takes` names when left out. */
  max?: number;
  /** Type of what it gives. */
  gives: DataType;
  /** A sentence for the editor’s completion. */
  help: string;
  /** A formula that is TRUE, for the editor’s completion. */
  example: string;
  /** Numbers arrive as texts of all their digits, for arithmetic of the function’s own; otherwise with some 15 digits. */
  exact?: Exact;
  /**
   * Gives a value of the type in `gives`; a number as a number, of which 15 digits count, or as a text with all its digits. What
   * it throws becomes `#VALUE!` with its words.
   */
  run(values: Arguments<T, Exact>, surroundings: FunctionSurroundings): PlainValue;
}

/** Functions of a host's own by their names, in capital letters. */
export type AddedFunctions = Readonly<Record<string, AddedFunction>>;

/** A function with its arguments checked against what it takes. */
export const defineFunction = <const T extends Takes, Exact extends boolean = false>(
  definition: AddedFunction<T, Exact>,
): AddedFunction => definition as unknown as AddedFunction;

/** As formulas are read: names in them become capital letters. */
const NAME = /^[A-Z][A-Z0-9.]*$/;
const MOST_ARGUMENTS = 255;
const ARGUMENT_TYPES: readonly string[] = [...DATA_TYPES, 'list', 'temporal', 'any'];

/** What is wrong with a function as it was written; null when nothing is. */
const mistakeIn = (name: string, given: unknown): string | null => {
  if (!NAME.test(name)) return 'it cannot be named so: use capital letters, digits and dots';
  if (typeof given !== 'object' || given === null) return 'give an object with takes, gives, help, example and run';
  const { takes, min, max, gives, help, example, run } = given as Partial<Record<keyof AddedFunction, unknown>>;
  if (!Array.isArray(takes)) return '“takes” is a list of names and types, as [["amount", "number"]]';
  for (const [i, taken] of takes.entries()) {
    if (!Array.isArray(taken) || typeof taken[0] !== 'string')
      return `argument ${i + 1} in “takes” is a name and a type, as ["amount", "number"]`;
    if (!ARGUMENT_TYPES.includes(taken[1]))
      return `the type of “${taken[0]}” in “takes” is none; there is: ${ARGUMENT_TYPES.join(', ')}`;
  }
  if (!(DATA_TYPES as readonly unknown[]).includes(gives)) return `“gives” is one of: ${DATA_TYPES.join(', ')}`;
  for (const [key, count] of Object.entries({ min, max })) {
    if (count !== undefined && !(Number.isInteger(count) && Number(count) >= 0 && Number(count) <= MOST_ARGUMENTS))
      return `“${key}” is a whole number from 0 to ${MOST_ARGUMENTS}`;
  }
  if (Number(min ?? takes.length) > Number(max ?? takes.length)) return '“min” is more than “max”';
  if (takes.length === 0 && Number(max ?? 0) > 0) return '“max” allows arguments that “takes” does not name';
  if (typeof help !== 'string') return '“help” is a sentence for the editor';
  if (typeof example !== 'string') return '“example” is a formula that is TRUE, for the editor';
  return typeof run === 'function' ? null : '“run” is the function that works it out';
};

/**
 * Functions of a host's own as formulas take them: with plain values in and out, and an error value for whatever they throw or
 * give that is not of their type. Throws an error that names the function and its mistake.
 */
export const addedFunctions = (functions: AddedFunctions): FunctionTable =>
  Object.fromEntries(
    Object.entries(functions).map(([name, added]) => {
      const mistake = mistakeIn(name, added);
      if (mistake !== null) throw new Error(`The function “${name}”: ${mistake}.`);
      return [name, heldFunction(name, added)];
    }),
  );

const heldFunction = (name: string, added: AddedFunction): FunctionDefinition => {
  const { takes, gives, help, example, exact = false } = added;
  const { min = takes.length, max = takes.length } = added;
  return {
    takes,
    min,
    max,
    gives,
    help,
    example,
    run: (values, { report }) => {
      const surroundings = {
        language: report.language,
        timeZone: report.timeZone,
        runAt: report.runAt.toString(),
      };
      let given: unknown;
      try {
        given = added.run(
          values.map((value) => plainValue(value, exact)),
          surroundings,
        );
      } catch (error) {
        return failed('e-function-threw', name, error instanceof Error ? error.message : String(error));
      }
      // Nobody waits for it; what becomes of it is nobody’s business either.
      if (given instanceof Promise) given.catch(() => {});
      const value = takenValue(given, gives);
      return value === undefined ? failed('e-function-gave', name, shown(given)) : value;
    },
  };
};

const LONGEST_DETAIL = 200;
const failed = (code: 'e-function-threw' | 'e-function-gave', name: string, detail: string): FormulaError =>
  new FormulaError('#VALUE!', phrase(code, { name, detail: detail.slice(0, LONGEST_DETAIL) }));

const shown = (given: unknown): string => {
  if (given instanceof Promise) return 'Promise';
  try {
    return String(typeof given === 'object' ? JSON.stringify(given) : given);
  } catch {
    return typeof given;
  }
};

const plainValue = (value: Value, exact: boolean): PlainValue => {
  if (value === null || typeof value === 'string' || typeof value === 'boolean') return value;
  if (isNumeric(value)) return exact ? numericText(value) : toNumber(value);
  if (value instanceof List) return value.values.map((one) => plainValue(one, exact));
  return value instanceof FormulaError ? value.code : value.toString();
};

/** Digits that count in a number without a text of its digits. */
const DIGITS = 15;

/** A value as a function gave it; `undefined` where it is not of the type. */
const takenValue = (given: unknown, type: DataType): Value | undefined => {
  if (given === null || given === undefined || given === '') return type === 'text' ? (given ?? null) : null;
  const fits = type === 'number' ? ['number', 'string'] : [type === 'boolean' ? 'boolean' : 'string'];
  if (!fits.includes(typeof given)) return undefined;
  if (typeof given === 'number' && !Number.isFinite(given)) return new FormulaError('#NUM!', phrase('e-no-number'));
  const wire =
    typeof given === 'number' && !Number.isSafeInteger(given) ? given.toPrecision(DIGITS) : (given as string | number);
  const value = decodeValue(wire, type);
  return value instanceof FormulaError ? undefined : value;
};
