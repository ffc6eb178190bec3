import { type Completion, type Problem, problemText } from '@gaveta/core/internal';
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
  phrases: Record<string, string>;
  /** Sentences with a gap: a pattern, and what it becomes. */
  patterns: string[][];
}

interface Known extends EngineWords {
  read: [RegExp, string][];
}

const known = new Map<string, Known>();

/** Takes the words of a language; English needs none. */
export const takeEngineWords = (language: string, words: EngineWords): void => {
  const read = words.patterns.map(([from, to]): [RegExp, string] => [new RegExp(from!, 's'), to!]);
  known.set(language, { ...words, read });
};

const ours = (): Known | undefined => known.get(i18next.language);

/** A phrase that fills a gap of a sentence: “a number”, “Did you mean amount?”. */
const phrase = (text: string): string => {
  const words = ours();
  const whole = words?.phrases[text];
  if (whole) return whole;
  const match = words?.read.find(([from]) => from.test(text));
  return match ? text.replace(match[0], match[1]) : text;
};

const fill = (template: string, data: Record<string, unknown>): string =>
  template.replace(/\{(\w+)\}/g, (_, key: string) => phrase(String(data[key] ?? '')));

/** Tells problems apart in a list. */
export const problemKey = (p: Problem): string => JSON.stringify([p.code, p.place, p.data]);

/** What happened and what to do. */
export const problemWords = (p: Problem): string => {
  const words = ours()?.problems[p.code];
  return words ? `${fill(words.says, p.data)} ${fill(words.mend, p.data)}`.trim() : problemText(p);
};

/** Title and detail of an error that the server answered with; `data` fills them. */
export const errorWords = (error: {
  code: string;
  title: string;
  detail: string;
  document: Record<string, unknown>;
}): { title: string; detail: string } => {
  const words = ours()?.errors[error.code];
  if (!words) return { title: error.title, detail: error.detail };
  const data = (error.document.data ?? { detail: error.detail }) as Record<string, unknown>;
  return { title: words.title, detail: fill(words.detail, data) };
};

/** Help of a function or total: its signature and what it gives. */
export const functionWords = ({ insert, label, detail }: Pick<Completion, 'insert' | 'label' | 'detail'>): string => {
  const help = ours()?.functions[insert];
  if (!help) return `${label}\n${detail}`;
  const names = ours()?.arguments ?? {};
  const signature = label.slice(insert.length).replace(/[a-z]+/g, (name) => names[name] ?? name);
  return `${insert}${signature}\n${help}`;
};
