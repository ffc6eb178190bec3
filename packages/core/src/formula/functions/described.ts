import { phrase } from '../../problems/phrases.ts';
import { FormulaError } from '../../value/value.ts';
import type { FunctionDefinition, FunctionTable } from './context.ts';

/** A function as it is checked and offered, without what works it out. */
export interface FunctionFacts extends Omit<FunctionDefinition, 'run'> {
  name: string;
}

/** A function that a host added, and where browsers find what works it out: an address below the API’s, or null. */
export interface HostFunction extends FunctionFacts {
  module: string | null;
}

export const describedFunctions = (table: FunctionTable): FunctionFacts[] =>
  Object.entries(table).map(([name, { run: _, ...facts }]) => ({ name, ...facts }));

const ELSEWHERE = new FormulaError('#N/A', phrase('e-server-only'));

/** Functions that are known here and worked out elsewhere: what they give is not available. */
export const fromDescribed = (described: readonly FunctionFacts[]): FunctionTable =>
  Object.fromEntries(described.map(({ name, ...facts }) => [name, { ...facts, run: () => ELSEWHERE }]));
