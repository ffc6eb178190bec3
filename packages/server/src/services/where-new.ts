import type { SeenFolder } from '../store/library-store.ts';
import type { Where } from '../store/store.ts';
import type { Caller } from './call.ts';

/** Where something new of a caller is kept, in a folder that they may put it in; null: that of the host’s own code. */
export const whereNew = (caller: Caller, folder: SeenFolder | null, note: string): Where => ({
  note,
  owner: caller.isCode ? null : caller.user,
  ...(folder ? { folder: folder.id, publish: folder.publishing === 'each-save' } : {}),
});
