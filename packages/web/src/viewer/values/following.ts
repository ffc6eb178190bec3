import { followersOf, type GivenValue, joinChoices, type Parameter, splitChoices } from '@gaveta/core/internal';
import type { ParameterValues } from '../../api/client.ts';

/** A value that is taken back, since it is not offered for what was chosen elsewhere. */
export interface Unfit {
  parameter: Parameter;
  /** Those of its values that no longer fit. */
  gone: string[];
  /** What is left of it; null for nothing. */
  left: GivenValue;
}

/** Which of some values a parameter offers for the values of the others; null where that cannot be told. */
export type AskAmong = (parameter: Parameter, others: ParameterValues, among: string[]) => Promise<string[] | null>;

/**
 * Values that no longer fit once a parameter has another one: those of parameters whose choices follow it, and of others that
 * follow those.
 */
export const unfitAfter = async (
  parameters: readonly Parameter[],
  values: ParameterValues,
  changed: string,
  ask: AskAmong,
): Promise<Unfit[]> => {
  const found = new Map<string, Unfit>();
  const now: Record<string, GivenValue> = { ...values };
  const looked = new Set([changed]);
  const waiting = [changed];
  for (let name = waiting.shift(); name !== undefined; name = waiting.shift()) {
    for (const parameter of followersOf(parameters, name)) {
      const given = now[parameter.name];
      if (looked.has(parameter.name) || given === undefined || given === null || given === '') continue;
      looked.add(parameter.name);
      const chosen = parameter.type === 'choices' ? splitChoices(given) : [String(given)];
      const { [parameter.name]: _, ...others } = now;
      const offered = await ask(parameter, others, chosen);
      const gone = offered ? chosen.filter((one) => !offered.includes(one)) : [];
      if (gone.length === 0) continue;
      const kept = chosen.filter((one) => !gone.includes(one));
      const left = kept.length > 0 ? joinChoices(kept) : null;
      now[parameter.name] = left;
      found.set(parameter.name, { parameter, gone, left });
      waiting.push(parameter.name);
    }
  }
  return [...found.values()];
};
