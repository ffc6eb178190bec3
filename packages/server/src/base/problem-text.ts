import { type Problem, problemText } from '@gaveta/core/internal';

/** Problems with their words, for those who have none of their own. */
export const withText = (problems: readonly Problem[]): (Problem & { text: string })[] =>
  problems.map((p) => ({ ...p, text: problemText(p) }));
