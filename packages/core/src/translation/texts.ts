import { type Report, reportSchema, type TextPiece } from '../definition/schema.ts';
import { textsInFormula } from './in-formulas.ts';
import { formulasOfLine, lineOfPieces } from './pieces.ts';
import { respoken } from './walk.ts';

/** A text of a report as it is translated: once, wherever it stands. */
export interface SpokenText {
  /**
   * As translations have it: the text itself; a line whose formulas are numbers in braces (`{1} nights at {2}`); or the forms of a word
   * with ` | ` between them (`night | nights`).
   */
  text: string;
  /** `forms`: those of a word, chosen by a count. */
  kind: 'text' | 'line' | 'forms';
  /** What the numbers in braces stand for: their formulas. */
  formulas: Readonly<Record<number, string>>;
  /** Where it stands in the definition: `body/0/detail/items/2/content`. */
  paths: string[];
}

/** Without letters there is nothing to translate. */
const hasWords = (text: string): boolean => /\p{L}/u.test(text.replace(/\{\d+[:}]/g, ''));

/** What a report says by itself, in the order of its definition, each text once. Values that it shows are none of it. */
export const textsOf = (report: Report): SpokenText[] => {
  const found = new Map<string, SpokenText>();
  const note = (text: string, kind: SpokenText['kind'], path: string, formulas: SpokenText['formulas'] = {}): void => {
    if (!hasWords(text)) return;
    const before = found.get(text);
    if (before) before.paths.push(path);
    else found.set(text, { text, kind, formulas, paths: [path] });
  };
  const inFormula = (source: string, path: string): void => {
    for (const { text, isPlural } of textsInFormula(source)) note(text, isPlural ? 'forms' : 'text', path);
  };
  respoken(reportSchema, report, (value, as, path) => {
    switch (as) {
      case 'text':
        if (typeof value === 'string') note(value, 'text', path);
        break;
      case 'formula':
        if (typeof value === 'string') inFormula(value, path);
        break;
      case 'pieces': {
        const content = value as TextPiece[];
        const formulas = formulasOfLine(content);
        const isPlain = content.every((piece) => typeof piece === 'string');
        note(lineOfPieces(content), isPlain ? 'text' : 'line', path, Object.fromEntries(formulas));
        for (const formula of formulas.values()) inFormula(formula, path);
        break;
      }
      case 'follows':
        break;
      default:
        as satisfies never;
    }
    return value;
  });
  return [...found.values()];
};
