import {
  asSentence,
  type Completion,
  fillDetail,
  fillWords,
  type Problem,
  type ProblemData,
  type ProblemValue,
  problemText,
  saidValue,
} from '@gaveta/core/internal';
import i18next from 'i18next';

/**
 * Words that the engine and the server say in English (problems of a report, errors of the API, help of functions), in
 * the interface's language. What has no words of its own there stays as it is.
 */
export interface EngineWords {
  problems: Record<string, { says: string; mend: string }>;
  errors: Record<string, { title: string; detail: string }>;
  functions: Record<string, string>;
  arguments: Record<string, string>;
  /** What fills gaps, by its code. */
  phrases: Record<string, string>;
}

const known = new Map<string, EngineWords>();

/** Takes the words of a language; English needs none. */
export const takeEngineWords = (language: string, words: EngineWords): void => {
  known.set(language, words);
};

const ours = (): EngineWords | undefined => known.get(i18next.language);

/** Tells problems apart in a list. */
export const problemKey = (p: Problem): string => JSON.stringify([p.code, p.place, p.data]);

/** What happened and what to do. */
export const problemWords = (p: Problem): string => {
  const language = ours();
  const words = language?.problems[p.code];
  if (!words) return problemText(p);
  const said = (sentence: string): string => fillWords(sentence, p.data, language.phrases);
  return `${said(words.says)} ${said(words.mend)}`.trim();
};

/** Title and detail of an error that the server answered with; `data` fills them. */
export const errorWords = (error: {
  code: string;
  title: string;
  detail: string;
  document: Record<string, unknown>;
}): { title: string; detail: string } => {
  const language = ours();
  const words = language?.errors[error.code];
  if (!words) return { title: error.title, detail: error.detail };
  const data = (error.document.data ?? { detail: error.detail }) as ProblemData;
  return { title: words.title, detail: fillDetail(words.detail, data, language.phrases) };
};

/** Words of the server, in the interface’s language, as a sentence. */
export const saidWords = (said: ProblemValue): string => asSentence(saidValue(said, ours()?.phrases));

/** Help of a function or total: its signature and what it gives. */
export const functionWords = ({ insert, label, detail }: Pick<Completion, 'insert' | 'label' | 'detail'>): string => {
  const help = ours()?.functions[insert];
  if (!help) return `${label}\n${detail}`;
  const names = ours()?.arguments ?? {};
  const signature = label.slice(insert.length).replace(/[a-z]+/g, (name) => names[name] ?? name);
  return `${insert}${signature}\n${help}`;
};
