import { applyPatches, type Patch } from 'immer';
import type { Report } from '../definition/schema.ts';
import type { Applied } from './edit.ts';

interface Step {
  name: string;
  patches: Patch[];
  inverse: Patch[];
}

/** Everything done and undone since a report was opened. Unlimited; a step keeps only what it changed. */
export interface History {
  report: Report;
  done: readonly Step[];
  undone: readonly Step[];
}

export const emptyHistory = (report: Report): History => ({ report, done: [], undone: [] });

/** Adds an applied edit under a name that undo can show. An edit that changed nothing leaves no step. */
export const record = (history: History, name: string, applied: Applied): History => {
  if (applied.patches.length === 0) return history;
  const step = { name, patches: applied.patches, inverse: applied.inverse };
  return { report: applied.report, done: [...history.done, step], undone: [] };
};

export const undo = (history: History): History => {
  const step = history.done.at(-1);
  if (!step) return history;
  const report = applyPatches(history.report, step.inverse);
  return { report, done: history.done.slice(0, -1), undone: [...history.undone, step] };
};

export const redo = (history: History): History => {
  const step = history.undone.at(-1);
  if (!step) return history;
  const report = applyPatches(history.report, step.patches);
  return { report, done: [...history.done, step], undone: history.undone.slice(0, -1) };
};
