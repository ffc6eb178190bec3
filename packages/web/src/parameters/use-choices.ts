import type { Parameter, Report } from '@gaveta/core/internal';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { Choices, ParameterValues } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { problemWords } from '../i18n/words.ts';

/** The report whose rows choices come out of: a stored one, or one that is being designed. */
export type ChoiceSource = { report: string } | { definition: Report };

/** Stands in where nothing is asked for. */
const NOWHERE: ChoiceSource = { report: '' };

/** The choices of a parameter: those written down, or those that its rows give, which follow the other parameters. */
export const useChoices = (
  parameter: Parameter,
  values: ParameterValues,
  search: string,
  source: ChoiceSource | undefined,
): { choices: Choices['choices']; more: boolean; isLoading: boolean; failure: string | null } => {
  const fromRows = parameter.choicesFrom !== undefined && source !== undefined;
  const { [parameter.name]: _, ...others } = values;
  const found = useQuery({
    ...queries.choices(source ?? NOWHERE, parameter, others, search),
    enabled: fromRows,
    placeholderData: keepPreviousData,
  });
  if (!fromRows) {
    const wanted = search.toLowerCase();
    const choices = (parameter.choices ?? []).filter((c) => c.label.toLowerCase().includes(wanted));
    return { choices, more: false, isLoading: false, failure: null };
  }
  const unseen = found.data?.failure;
  return {
    choices: found.data?.choices ?? [],
    more: found.data?.more ?? false,
    isLoading: found.isPending,
    failure: unseen ? problemWords(unseen.problem) : found.error ? String(found.error.message) : null,
  };
};
