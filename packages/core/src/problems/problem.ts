import { fillWords, type ProblemData } from './phrases.ts';
import { PROBLEM_WORDS } from './words.ts';

export type ProblemCode = keyof typeof PROBLEM_WORDS;

/** Where a problem is. Every part is optional; the more of them, the closer the interface can point. */
export interface ProblemPlace {
  /** Path into the definition's JSON, as `body/0/drawers/0/detail/items/2`. */
  path?: string;
  /** Id of the item. */
  item?: string;
  /** Id of the drawer. */
  drawer?: string;
  /** 0-based character range in the formula, end exclusive. */
  from?: number;
  to?: number;
  /** Name of the report, when it is a nested one. */
  report?: string;
}

/** Something wrong with a definition or a run. The words for `code` live in words.ts, so that they can be translated. */
export interface Problem {
  code: ProblemCode;
  severity: 'error' | 'warning';
  place: ProblemPlace;
  data: ProblemData;
}

export const problem = (
  code: ProblemCode,
  place: ProblemPlace = {},
  data: Problem['data'] = {},
  severity: Problem['severity'] = 'error',
): Problem => ({ code, severity, place, data });

/** What happened and what to do, in English. */
export const problemText = (p: Problem): string => {
  const words = PROBLEM_WORDS[p.code];
  return `${fillWords(words.says, p.data)} ${fillWords(words.mend, p.data)}`.trim();
};

/** `path: text`, as the command line prints it. */
export const problemLine = (p: Problem): string => {
  const report = p.place.report ? `${p.place.report}: ` : '';
  const at = p.place.from === undefined ? '' : ` at character ${p.place.from + 1}`;
  return `${p.severity}: ${report}${p.place.path ?? 'report'}${at}: ${problemText(p)}`;
};
