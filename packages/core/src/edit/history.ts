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
