import {
  asSentence,
  type Completion,
  fillDetail,
  fillWords,
  PROBLEM_WORDS,
  type Problem,
  type ProblemCode,
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

/** The words that are known of a language; undefined for English, and where there are none. */
export const engineWordsOf = (language: string): EngineWords | undefined => known.get(language);

/** What a problem says in English; empty for codes that are none. */
const english = (code: string): { says: string; mend: string } => ({
  says: '',
  mend: '',
  ...(Object.hasOwn(PROBLEM_WORDS, code) ? PROBLEM_WORDS[code as ProblemCode] : {}),
});

/** Begins the names of the engine's words in a file of the host's: `engine.problems.text-cut-off.says`. */
const PREFIX = 'engine.';
export const isEngineWord = (key: string): boolean => key.startsWith(PREFIX);

/**
 * The engine's words of a host's own language: those of `base` with what its file replaces. Names are those of the file of words for
 * Portuguese after `engine.`; those that are of no section or part are passed over.
 */
export const hostEngineWords = (
  base: EngineWords | undefined,
  given: Readonly<Record<string, string>>,
): EngineWords => {
  const words: EngineWords = structuredClone(
    base ?? { problems: {}, errors: {}, functions: {}, arguments: {}, phrases: {} },
  );
  for (const [key, text] of Object.entries(given)) {
    if (!isEngineWord(key)) continue;
    const [section = '', ...rest] = key.slice(PREFIX.length).split('.');
    // Names of functions may have a dot in them.
    const name = rest.join('.');
    const part = rest.at(-1);
    const code = rest.slice(0, -1).join('.');
    switch (section) {
      case 'functions':
      case 'arguments':
      case 'phrases':
        words[section][name] = text;
        break;
      case 'problems':
        if (part === 'says' || part === 'mend')
          words.problems[code] = { ...english(code), ...words.problems[code], [part]: text };
        break;
      case 'errors':
        if (part === 'title' || part === 'detail')
          words.errors[code] = { title: '', detail: '', ...words.errors[code], [part]: text };
        break;
    }
  }
  return words;
};

const ours = (): EngineWords | undefined => known.get(i18next.language);

/** Tells problems apart in a list. */
export const problemKey = (p: Problem): string => JSON.stringify([p.code, p.place, p.data]);

/** What happened and what to do. */
export const problemWords = (p: Problem): string => {
  const language = ours();
  const words = language?.problems[p.code];
  if (!language || !words?.says) return problemText(p);
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
  if (!language || !words?.detail) return { title: words?.title || error.title, detail: error.detail };
  const data = (error.document.data ?? { detail: error.detail }) as ProblemData;
  return { title: words.title || error.title, detail: fillDetail(words.detail, data, language.phrases) };
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
