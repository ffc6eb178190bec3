import { fitsParameter, type GivenValue, type Parameter, readParameters } from '@gaveta/core/internal';

/** What reads values of parameters: with it comes all that formulas need, which is fetched when it is first asked for. */
export { readParameters };

/** Whether a value fits a parameter by itself, as a form asks before it sends it. */
export const fits = (parameter: Parameter, given: GivenValue): boolean =>
  fitsParameter({ name: '', language: 'en', timeZone: 'UTC', parameters: [] }, parameter, given);
