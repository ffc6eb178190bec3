import type { Report } from '../definition/schema.ts';
import { applyEdit, type Edit } from './edit.ts';

/** One thing done. Both definitions share everything that the edit left alone, so a step costs what it changed. */
interface Step {
  name: string;
  edit: Edit;
  before: Report;
  after: Report;
}

/** Everything done and undone since a report was opened. Unlimited. */
export interface History {
  report: Report;
  done: readonly Step[];
  undone: readonly Step[];
}

export const emptyHistory = (report: Report): History => ({ report, done: [], undone: [] });

/** Applies an edit under a name that undo can show. An edit that changes nothing leaves no step. */
export const record = (history: History, name: string, edit: Edit): History => {
  const before = history.report;
  const after = applyEdit(before, edit);
  if (after === before) return history;
  return { report: after, done: [...history.done, { name, edit, before, after }], undone: [] };
};

/** Gives the very definition back that was there before, so that undoing to the saved one can be seen as such. */
export const undo = (history: History): History => {
  const step = history.done.at(-1);
  if (!step) return history;
  return { report: step.before, done: history.done.slice(0, -1), undone: [...history.undone, step] };
};

export const redo = (history: History): History => {
  const step = history.undone.at(-1);
  if (!step) return history;
  return { report: step.after, done: [...history.done, step], undone: history.undone.slice(0, -1) };
};

/** What was done and undone, as JSON: the definition before the first step, the steps, and how many of them are done. */
export interface PackedHistory {
  start: Report;
  steps: { name: string; edit: Edit }[];
  done: number;
}

/** A history to keep elsewhere; steps longest ago are left out where it would take more than `limit` characters. */
export const packHistory = ({ report, done, undone }: History, limit: number): PackedHistory => {
  const size = (value: unknown): number => JSON.stringify(value).length;
  const ahead = [...undone].reverse().map(({ name, edit }) => ({ name, edit }));
  let left = limit - size(report) - size(ahead);
  let from = done.length;
  while (from > 0 && left > 0) {
    left -= size(done[from - 1]!.edit);
    if (left > 0) from--;
  }
  const kept = done.slice(from);
  return {
    start: kept[0]?.before ?? report,
    steps: [...kept.map(({ name, edit }) => ({ name, edit })), ...(left > 0 ? ahead : [])],
    done: kept.length,
  };
};

/**
 * A history that was packed, done again from its start; null where it does not lead to `report` as it is now. `known` are
 * definitions that take the place of ones that are the same, so that they are known again.
 */
export const unpackHistory = (packed: PackedHistory, report: Report, known: readonly Report[] = []): History | null => {
  const named = new Map([...known, report].map((one) => [plain(one), one]));
  const asKnown = (one: Report): Report => named.get(plain(one)) ?? one;
  let before = asKnown(packed.start);
  const steps = packed.steps.map(({ name, edit }): Step => {
    const after = asKnown(applyEdit(before, edit));
    const step = { name, edit, before, after };
    before = after;
    return step;
  });
  const done = steps.slice(0, packed.done);
  const now = done.at(-1)?.after ?? asKnown(packed.start);
  return now === report ? { report, done, undone: steps.slice(packed.done).reverse() } : null;
};

/** A definition as text, whatever the order of its parts' names. */
const plain = (value: unknown): string =>
  JSON.stringify(value, (_, part: unknown) =>
    typeof part === 'object' && part !== null && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1)))
      : part,
  );
