import { applyEdit, changesBetween, houseTheme, type Report, themeEdit } from '@gaveta/core/internal';
import { ApiError, wordsOf } from '../base/api-error.ts';
import type { SeenThing } from '../store/library-store.ts';
import type { Store } from '../store/store.ts';
import type { ActivityBook } from './activity.ts';
import type { Caller, Calls } from './call.ts';
import type { FirstPages } from './first-pages.ts';
import type { Gate } from './gate.ts';
import { type House, houseThingOf } from './house.ts';
import { whereNew } from './where-new.ts';

export interface HouseCallParts {
  store: Store;
  gate: Gate;
  house: House;
  firstPages: FirstPages;
  book: ActivityBook;
}

type HouseCalls =
  | 'POST /library'
  | 'GET /library/:id/definition'
  | 'PUT /library/:id/definition'
  | 'POST /library/:id/theme';

/** Pictures and themes of the library, and themes put on reports. */
export const houseService = (
  { store, gate, house: shelf, firstPages, book }: HouseCallParts,
  /** A thing as it is sent. */
  sent: (caller: Caller, id: string) => Promise<SeenThing & { runs: number; seconds: number | null }>,
): Calls<HouseCalls> => {
  /** What the theme makes of a report, and what differs then. */
  const themed = (report: Report, theme: ReturnType<typeof houseTheme>) => {
    const next = applyEdit(report, themeEdit(report, theme));
    return { next, changes: changesBetween(report, next) };
  };

  return {
    'POST /library': async ({ caller, body: { definition, folder: asked, note } }) => {
      await gate.checkCreate(caller);
      const thing = houseThingOf(definition);
      shelf.checkName(thing);
      const folder = await gate.folderFor(caller, asked ?? null);
      // Readers see it at once: nobody reads it by itself.
      const made = await store.create(thing, caller.user, undefined, {
        ...whereNew(caller, folder, note),
        publish: true,
      });
      firstPages.makeOf(made.id, caller);
      book.note(caller, 'created', made);
      return sent(caller, made.id);
    },
    'GET /library/:id/definition': async ({ caller, params: { id } }) => {
      const { revision } = await gate.checkId(caller, 'view', id);
      const { house } = await gate.found(caller, id, 'newest');
      if (!house) throw new ApiError('unknown-report', { id });
      return { definition: house, revision };
    },
    'PUT /library/:id/definition': async ({ caller, params: { id }, body: { definition, base } }) => {
      const stored = await gate.checkId(caller, 'change', id);
      const thing = houseThingOf(definition);
      if (stored.kind !== ('gavetaPicture' in thing ? 'picture' : 'theme'))
        throw new ApiError('unknown-report', { id });
      shelf.checkName(thing);
      const saved = await store.save(id, thing, base, caller.user, '', true);
      if (!saved.ok)
        throw new ApiError('conflict', { author: stored.changedBy, revision: stored.revision }, { current: stored });
      firstPages.makeOf(id, caller);
      book.note(caller, 'saved', saved.stored, { revision: saved.stored.revision });
      return sent(caller, id);
    },
    'POST /library/:id/theme': async ({ caller, params: { id }, body: { reports, apply, note } }) => {
      await gate.checkId(caller, 'view', id);
      const { house } = await gate.found(caller, id, 'newest');
      if (!house || !('gavetaTheme' in house)) throw new ApiError('unknown-report', { id });
      const theme = houseTheme(house);
      const done = [];
      for (const one of new Set(reports)) {
        const stored = await gate.checkId(caller, 'view', one);
        const about = { id: one, name: stored.name, problem: null, changes: [] };
        try {
          await gate.checkId(caller, 'change', one);
          const report = await gate.definitionOf(caller, one);
          if (!('body' in report)) throw new ApiError('unknown-report', { id: one });
          const { next, changes } = themed(report, theme);
          if (changes.length === 0) {
            done.push({ ...about, what: 'same' as const });
            continue;
          }
          if (apply) {
            await gate.beforeSaveOf(one, next, caller);
            const publish = stored.publishing === 'each-save';
            const saved = await store.save(one, next, stored.revision, caller.user, note, publish);
            if (!saved.ok)
              throw new ApiError(
                'conflict',
                { author: stored.changedBy, revision: stored.revision },
                { current: stored },
              );
            firstPages.makeOf(one, caller);
            book.note(caller, 'saved', saved.stored, { revision: saved.stored.revision, theme: theme.name });
          }
          done.push({ ...about, what: 'changed' as const, changes });
        } catch (error) {
          if (!(error instanceof ApiError)) throw error;
          done.push({ ...about, what: 'refused' as const, problem: wordsOf(error) });
        }
      }
      return done;
    },
  };
};
