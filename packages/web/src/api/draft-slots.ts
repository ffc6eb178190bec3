import type { DraftHead } from './client.ts';

const NAME = 'gaveta-window';

/** This window, told apart from others of the same person; the same after it is loaded anew. */
const windowId = (): string => {
  const made = Math.random().toString(36).slice(2, 10);
  try {
    const known = sessionStorage.getItem(NAME);
    if (known) return known;
    sessionStorage.setItem(NAME, made);
  } catch {
    // Without storage the window is another one each time; nothing is lost by that.
  }
  return made;
};

/** Where this window puts its work on a stored report by: other windows of the same person have places of their own. */
export const slotOf = (report: string): string => `${report}~${windowId()}`;

/** Work of other windows on a report, the newest first. */
export const othersOf = (drafts: readonly DraftHead[], report: string): DraftHead[] =>
  drafts
    .filter((draft) => draft.report === report && draft.key !== slotOf(report))
    .sort((a, b) => (a.savedAt < b.savedAt ? 1 : -1));
