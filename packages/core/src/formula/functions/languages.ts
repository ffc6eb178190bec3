import { pluralForm } from '../../text/plural.ts';
import { toNumber } from '../../value/number.ts';
import { define, type FunctionTable, numeric, text } from './define.ts';

/** What a report says in several languages. Its translations put other texts into these formulas before they are checked. */
export const LANGUAGE_FUNCTIONS: FunctionTable = {
  SAY: define('text:t', 'text', 'A text that is translated with the report.', 'SAY("gale") = "gale"', ([x]) => text(x)),
  PLURAL: define(
    'count:n form:t*',
    'text',
    'The form of a word that a count takes in the language of the report: one, then more; languages with more forms have more.',
    '2 & " " & PLURAL(2; "night"; "nights") = "2 nights"',
    ([count, ...forms], { report }) => pluralForm(toNumber(numeric(count)), forms.map(text), report.language),
  ),
};
