import { isNumeric, type PieceSum, toNumber, type Value } from '@gaveta/core/internal';

/** A cell of a row as sums see it. */
interface SummedCell {
  column: number;
  value: Value;
  source?: string | undefined;
}

/** A number that is worked out from cells of its own row, by their columns. */
export type RowSum =
  | { number: string }
  | { column: number }
  | { operator: '+' | '-' | '*' | '/'; parts: readonly RowSum[] }
  | { round: number; part: RowSum };

/** How far what a spreadsheet works out may be from the value that the report shows, as a share of it: beyond all digits that are shown. */
const NEAR = 1e-13;

/** How a cell is worked out from others of its row; null where they do not come to its value as spreadsheets calculate. */
export const rowSum = (sum: PieceSum, own: SummedCell, cells: readonly SummedCell[]): RowSum | null => {
  if (!isNumeric(own.value)) return null;
  const resolve = (part: PieceSum): RowSum | null => {
    if ('number' in part) return part;
    const { of } = part;
    const cell = of === undefined ? undefined : cells.find((one) => one.source === of && one !== own);
    if (cell) return { column: cell.column };
    if ('round' in part) {
      const inner = resolve(part.part);
      return inner && { round: part.round, part: inner };
    }
    if (!('operator' in part)) return null;
    const parts = part.parts.map(resolve);
    return parts.includes(null) ? null : { operator: part.operator, parts: parts.flatMap((one) => one ?? []) };
  };
  const resolved = resolve(sum);
  if (!resolved || 'column' in resolved || !hasCell(resolved)) return null;
  const value = (column: number): number | null => {
    const found = cells.find((one) => one.column === column)!.value;
    // A spreadsheet takes a cell without a value for 0.
    return found === null ? 0 : isNumeric(found) ? toNumber(found) : null;
  };
  const [wanted, found] = [toNumber(own.value), result(resolved, value)];
  return found !== null && Math.abs(found - wanted) <= Math.abs(wanted) * NEAR ? resolved : null;
};

const hasCell = (sum: RowSum): boolean =>
  'column' in sum || ('parts' in sum ? sum.parts.some(hasCell) : 'part' in sum && hasCell(sum.part));

/** Null where it lies so close to the middle that programs may differ in what they round it to. */
const rounded = (value: number, digits: number): number | null => {
  const scaled = Math.abs(value) * 10 ** digits;
  if (!Number.isFinite(scaled) || Math.abs((scaled % 1) - 0.5) < 1e-6) return null;
  return (Math.sign(value) * Math.round(scaled)) / 10 ** digits;
};

/** What a spreadsheet makes of it, with numbers of 64 bits; null where a cell holds none. */
const result = (sum: RowSum, value: (column: number) => number | null): number | null => {
  if ('number' in sum) return Number(sum.number);
  if ('column' in sum) return value(sum.column);
  if ('round' in sum) {
    const inner = result(sum.part, value);
    return inner === null ? null : rounded(inner, sum.round);
  }
  const [left, right] = sum.parts.map((part) => result(part, value));
  if (left === null || left === undefined || right === null) return null;
  if (right === undefined) return -left;
  switch (sum.operator) {
    case '+':
      return left + right;
    case '-':
      return left - right;
    case '*':
      return left * right;
    case '/':
      return right === 0 ? null : left / right;
    default:
      return sum.operator satisfies never;
  }
};

/** As formulas of spreadsheets are written. `cell`: a cell of the row by its column; `separator`: between what functions take. */
export const sumText = (sum: RowSum, cell: (column: number) => string, separator: ',' | ';'): string => {
  if ('number' in sum) return sum.number.startsWith('-') ? `(${sum.number})` : sum.number;
  if ('column' in sum) return cell(sum.column);
  if ('round' in sum) return `ROUND(${sumText(sum.part, cell, separator)}${separator}${sum.round})`;
  const parts = sum.parts.map((part) => {
    const text = sumText(part, cell, separator);
    return 'operator' in part ? `(${text})` : text;
  });
  return parts.length === 1 ? `-${parts[0]}` : parts.join(sum.operator);
};
