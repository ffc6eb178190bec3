import { type Arrangement, arranged, type Report } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import type { Caller } from './call.ts';

/** How readers may arrange the rows of a report: those who design as they like. */
export const arrangingOf = ({ readers }: Report, caller: Caller): 'none' | 'sort' | 'all' =>
  caller.may('design') ? 'all' : (readers?.arrange ?? 'sort');

/** A report in the way of its reader. Throws when they may not have it so. */
export const arrangedFor = (report: Report, arrangement: Arrangement, caller: Caller): Report => {
  const { sorts, filters, hidden } = arrangement;
  if (sorts.length + filters.length + hidden.length === 0) return report;
  const may = arrangingOf(report, caller);
  if (may === 'none' || (may === 'sort' && filters.length + hidden.length > 0)) throw new ApiError('not-arranged');
  return arranged(report, arrangement);
};
