import type { Parameter } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** A parameter as it is shown: of one without whose value rows are kept away nobody says that it shows all. */
export interface ShownParameter extends Parameter {
  keepsAway?: boolean;
}

/** Parameters as they are shown, by the names of those that keep rows away. */
export const shownParameters = (parameters: readonly Parameter[], away: readonly string[] = []): ShownParameter[] =>
  parameters.map((parameter) => (away.includes(parameter.name) ? { ...parameter, keepsAway: true } : parameter));

/** What is said where nothing was chosen for a parameter. */
export const allWords = ({ allLabel, keepsAway }: ShownParameter, t: TFunction): string =>
  allLabel ?? t(keepsAway ? 'viewer.noValue' : 'viewer.all');
