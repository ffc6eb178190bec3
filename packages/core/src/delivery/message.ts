import { type Parameter, parameterSchema } from '../definition/schema.ts';
import { checkFormula } from '../formula/check.ts';
import type { Checked } from '../formula/checked.ts';
import { compileFormula } from '../formula/compile.ts';
import { type EvaluationContext, plainContext } from '../formula/functions/context.ts';
import type { Field } from '../model/model.ts';
import { rowScope } from '../model/scopes.ts';
import type { Problem } from '../problems/problem.ts';
import { formatValue } from '../text/format.ts';
import { FormulaError, type Value } from '../value/value.ts';

/** A piece of a text with formulas: words, or a formula that stood in braces. */
export type MessagePiece = { words: string } | { formula: string; from: number };

/** Cuts a text at formulas in braces; `{{` and `}}` are braces themselves, and one that is not closed is words. */
export const piecesOf = (text: string): MessagePiece[] => {
  const pieces: MessagePiece[] = [];
  let words = '';
  for (let at = 0; at < text.length; ) {
    const two = text.slice(at, at + 2);
    if (two === '{{' || two === '}}') {
      words += two[0];
      at += 2;
      continue;
    }
    const end = text[at] === '{' ? closing(text, at) : -1;
    if (end < 0) {
      words += text[at];
      at++;
      continue;
    }
    if (words !== '') pieces.push({ words });
    words = '';
    pieces.push({ formula: text.slice(at + 1, end), from: at + 1 });
    at = end + 1;
  }
  if (words !== '') pieces.push({ words });
  return pieces;
};

/** Where a brace is closed, texts in quotes of a formula left aside; -1: nowhere. */
const closing = (text: string, open: number): number => {
  let isQuoted = false;
  for (let at = open + 1; at < text.length; at++) {
    if (text[at] === '"') isQuoted = !isQuoted;
    else if (!isQuoted && text[at] === '}') return at;
    else if (!isQuoted && text[at] === '{') return -1;
  }
  return -1;
};

/** What formulas of a delivery may name besides the fields of a row: the report’s parameters, and what is known of the run. */
export const factParameters = (parameters: readonly Parameter[] = []): Parameter[] => {
  const fact = (name: string, type: Parameter['type']): Parameter => parameterSchema.parse({ name, label: name, type });
  const facts = [
    fact('report', 'text'),
    fact('date', 'date'),
    fact('pages', 'number'),
    fact('rows', 'number'),
    fact('owner', 'text'),
  ];
  const taken = new Set(facts.map(({ name }) => name));
  return [...facts, ...parameters.filter(({ name }) => !taken.has(name))];
};

/** What formulas of a delivery stand in. */
export interface DeliveryScope {
  /** Of the row that a part is for, each in the column after the one before it, from 1. */
  fields: readonly Field[];
  parameters: readonly Parameter[];
  report: EvaluationContext['report'];
}

/** What is wrong with the formulas of a text, with their places in it; empty when nothing is. */
export const messageProblems = (text: string, { fields, parameters }: DeliveryScope): Problem[] =>
  piecesOf(text).flatMap((piece) => {
    if ('words' in piece) return [];
    const checked = checkFormula(piece.formula, rowScope(fields, parameters));
    if (checked.ok) return [];
    const shift = (at: number | undefined): number | undefined => (at === undefined ? undefined : at + piece.from);
    return checked.problems.map(({ place: { from, to, ...place }, ...rest }) => {
      const shifted = { from: shift(from) ?? piece.from, to: shift(to) ?? piece.from + piece.formula.length };
      return { ...rest, place: { ...place, ...shifted } };
    });
  });

const formatOf = (formula: Checked): string => ('format' in formula ? (formula.format ?? '') : '');

/** What a formula gives for a row; an error where it is wrong. `row`: its values, from column 1. */
export const formulaValue = (
  formula: string,
  { fields, parameters, report }: DeliveryScope,
  row: readonly Value[] | null,
  facts: Record<string, Value>,
): { value: Value; format: string } => {
  const checked = checkFormula(formula, rowScope(fields, parameters));
  if (!checked.ok) return { value: new FormulaError('#NAME?', formula), format: '' };
  const value = compileFormula(checked.formula)(plainContext(report, facts, row ? [null, ...row] : null));
  return { value, format: formatOf(checked.formula) };
};

/** A text with its formulas filled in, as they are shown in the report’s language. */
export const filledMessage = (
  text: string,
  scope: DeliveryScope,
  row: readonly Value[] | null,
  facts: Record<string, Value>,
): string =>
  piecesOf(text)
    .map((piece) => {
      if ('words' in piece) return piece.words;
      const { value, format } = formulaValue(piece.formula, scope, row, facts);
      const { language, timeZone } = scope.report;
      return formatValue(value, format, { language, timeZone });
    })
    .join('');
