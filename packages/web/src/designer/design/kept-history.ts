import { type History, type PackedHistory, packHistory, type Report, unpackHistory } from '@gaveta/core/internal';
import { z } from 'zod';

/** Most characters that a window keeps of what was done, and how many reports it keeps that of. */
const MOST = 1_000_000;
const KEPT = 3;

const NAME = 'gaveta.done';

const packedSchema = z.array(
  z.object({
    key: z.string(),
    packed: z.object({
      start: z.unknown(),
      steps: z.array(z.object({ name: z.string(), edit: z.unknown() })),
      done: z.number().int().min(0),
    }),
  }),
);

interface Kept {
  key: string;
  packed: PackedHistory;
}

/** What this window keeps; nothing where the browser keeps nothing, or something else is there. */
const read = (): Kept[] => {
  try {
    const kept = packedSchema.safeParse(JSON.parse(window.sessionStorage.getItem(NAME) ?? '[]'));
    return kept.success ? (kept.data as Kept[]) : [];
  } catch {
    return [];
  }
};

/** Keeps what was done to a report until the window is closed, so that undo goes on after it was loaded anew. */
export const keepHistory = (key: string, history: History): void => {
  try {
    const others = read().filter((one) => one.key !== key);
    const own = history.done.length + history.undone.length === 0 ? [] : [{ key, packed: packHistory(history, MOST) }];
    window.sessionStorage.setItem(NAME, JSON.stringify([...own, ...others].slice(0, KEPT)));
  } catch {
    // A full or missing store costs a convenience and nothing else.
  }
};

/** What was done to a report before it was loaded anew; null when nothing is known, or it is another one now. */
export const keptHistory = (key: string, report: Report, known: readonly Report[]): History | null => {
  const found = read().find((one) => one.key === key);
  try {
    return found ? unpackHistory(found.packed, report, known) : null;
  } catch {
    // An edit of another version of Gaveta may know parts that this one does not.
    return null;
  }
};
