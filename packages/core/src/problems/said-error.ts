import { fillWords, type ProblemData, type ProblemValue, saidValue } from './phrases.ts';

/** An error for people: `said` has its words as a phrase, so that each language has its own, or as another program said them. */
export class SaidError extends Error {
  constructor(readonly said: ProblemValue) {
    super(saidValue(said));
  }
}

/** Words that may stand inside a sentence, as a sentence of their own. */
export const asSentence = (words: string): string => {
  const whole = words.charAt(0).toUpperCase() + words.slice(1);
  return whole === '' || /[.!?…]$/.test(whole) ? whole : `${whole}.`;
};

/** Fills what an error of the API says. A phrase that fills the whole of it is made a sentence. */
export const fillDetail = (
  template: string,
  data: ProblemData,
  phrases?: Readonly<Partial<Record<string, string>>>,
): string => {
  const words = fillWords(template, data, phrases);
  return template === '{detail}' && typeof data.detail === 'object' ? asSentence(words) : words;
};
