import { type Completion, type Problem, problemText } from '@gaveta/core';
import i18next from 'i18next';
import pt from './pt-PT.words.json';

/**
 * Words that the engine and the server say in English (problems of a report, errors of the API, help of functions), in
 * the interface's language. What has no words of its own there stays as it is.
 */
type Said = Record<string, { says: string; mend: string }>;
type Errors = Record<string, { title: string; detail: string }>;

const patterns = pt.patterns.map(([from, to]) => [new RegExp(from!, 's'), to!] as const);

const isOurs = (): boolean => i18next.language === 'pt-PT';

/** A phrase that fills a gap of a sentence: “a number”, “Did you mean amount?”. */
const phrase = (text: string): string => {
  const known = (pt.phrases as Record<string, string>)[text];
  if (known) return known;
  const match = patterns.find(([from]) => from.test(text));
  return match ? text.replace(match[0], match[1]) : text;
};

const fill = (template: string, data: Record<string, unknown>): string =>
  template.replace(/\{(\w+)\}/g, (_, key: string) => phrase(String(data[key] ?? '')));

/** Tells problems apart in a list. */
export const problemKey = (p: Problem): string => JSON.stringify([p.code, p.place, p.data]);

/** What happened and what to do. */
export const problemWords = (p: Problem): string => {
  const words = isOurs() ? (pt.problems as Said)[p.code] : undefined;
  return words ? `${fill(words.says, p.data)} ${fill(words.mend, p.data)}`.trim() : problemText(p);
};

/** Title and detail of an error that the server answered with; `data` fills them. */
export const errorWords = (error: {
  code: string;
  title: string;
  detail: string;
  document: Record<string, unknown>;
}): { title: string; detail: string } => {
  const words = isOurs() ? (pt.errors as Errors)[error.code] : undefined;
  if (!words) return { title: error.title, detail: error.detail };
  const data = (error.document.data ?? { detail: error.detail }) as Record<string, unknown>;
  return { title: words.title, detail: fill(words.detail, data) };
};

/** Help of a function or total: its signature and what it gives. */
export const functionWords = ({ insert, label, detail }: Pick<Completion, 'insert' | 'label' | 'detail'>): string => {
  const help = isOurs() ? (pt.functions as Record<string, string>)[insert] : undefined;
  if (!help) return `${label}\n${detail}`;
  const names = pt.arguments as Record<string, string>;
  const signature = label.slice(insert.length).replace(/[a-z]+/g, (name) => names[name] ?? name);
  return `${insert}${signature}\n${help}`;
};
