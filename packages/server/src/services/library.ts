import type { AnswerOf, BodyRead } from '@gaveta/core/contract';
import { ApiError } from '../base/api-error.ts';
import type { GrantTarget } from '../store/grant-store.ts';
import type { SeenFolder, SeenThing } from '../store/library-store.ts';
import { ROOT } from '../store/schema.ts';
import type { Store, Where } from '../store/store.ts';
import { rankOf } from '../store/viewer.ts';
import type { ActivityBook } from './activity.ts';
import type { Caller, Calls } from './call.ts';
import type { FirstPages } from './first-pages.ts';
import type { Gate } from './gate.ts';

type LibraryCalls =
  | 'GET /folders'
  | 'POST /folders'
  | 'PUT /folders/:id'
  | 'DELETE /folders/:id'
  | 'POST /folders/:id/restore'
  | 'GET /folders/:id/access'
  | 'PUT /folders/:id/access'
  | 'GET /library'
  | 'GET /library/bin'
  | 'GET /library/:id'
  | 'GET /library/:id/picture'
  | 'PUT /library/:id'
  | 'POST /library/:id/copy'
  | 'PUT /library/:id/star'
  | 'GET /library/:id/access'
  | 'PUT /library/:id/access'
  | 'GET /people'
  | 'GET /reports/:id/publications'
  | 'POST /reports/:id/publish'
  | 'POST /reports/:id/ask';

/** Folders inside each other. */
const DEEPEST = 20;
/** People and groups that are offered at once. */
const MOST_PEOPLE = 20;

type Access = AnswerOf<'GET /folders/:id/access'>;
type Thing = AnswerOf<'GET /library/:id'>;

/** Where something new of a caller is kept, in a folder that they may put it in; null: that of the host’s own code. */
export const whereNew = (caller: Caller, folder: SeenFolder | null, note: string): Where => ({
  note,
  owner: caller.isCode ? null : caller.user,
  ...(folder ? { folder: folder.id, publish: folder.publishing === 'each-save' } : {}),
});

/** Folders, what is in them, who may do what, and what readers see. */
export const libraryService = (
  store: Store,
  gate: Gate,
  firstPages: FirstPages,
  book: ActivityBook,
): Calls<LibraryCalls> => {
  const { library, grants } = store;

  /** A folder that a caller may do something with. Throws as if it were not there when they may not see it. */
  const folderOf = async (caller: Caller, id: string, needed: 'see' | 'change' | 'manage'): Promise<SeenFolder> => {
    const found = await library.folder(gate.viewer(caller), id);
    if (!found) throw new ApiError('unknown-folder', { id });
    if (rankOf(found.may) < rankOf(needed)) throw new ApiError('not-allowed-in-folder');
    return found;
  };
  const sentFolder = async (caller: Caller, id: string): Promise<SeenFolder> => folderOf(caller, id, 'see');

  /** How many folders stand around one, as far as the caller sees them. */
  const depthOf = (all: readonly SeenFolder[], id: string): number => {
    let depth = 0;
    for (let at = all.find((one) => one.id === id); at?.parent && depth <= DEEPEST; depth++)
      at = all.find((one) => one.id === at!.parent);
    return depth;
  };
  const checkName = (all: readonly SeenFolder[], name: string, parent: string | null, but: string | null): void => {
    const isTaken = all.some(
      (one) => one.id !== but && one.parent === parent && one.name.toLowerCase() === name.toLowerCase(),
    );
    if (isTaken) throw new ApiError('folder-name-taken', { name });
  };

  const accessOf = async (caller: Caller, target: GrantTarget): Promise<Access> => {
    const seen = new Set((await library.folders(gate.viewer(caller))).map(({ id }) => id));
    const places = await grants.around(target);
    return {
      places: places.map(({ folder, name, owner, inherits, grants: own }, i) => {
        const isSeen = folder === null || seen.has(folder);
        return { here: i === 0, name: isSeen ? name : null, owner, inherits, grants: own };
      }),
    };
  };
  const changeAccess = async (
    caller: Caller,
    target: GrantTarget,
    change: BodyRead<'PUT /folders/:id/access'>,
  ): Promise<void> => {
    if (gate.isHosts) throw new ApiError('host-decides');
    if ('principal' in change) await grants.put(target, change.principal, change.may, caller.user);
    else if ('folder' in target) await library.changeFolder(target.folder, change, caller.user);
    else await library.changeThing(target.thing, change);
  };

  /** Things with how often they ran. */
  const withRuns = async (things: readonly SeenThing[]): Promise<Thing[]> => {
    const found = await store.firstPages.runsOf(things.map(({ id }) => id));
    return things.map((thing) => {
      const { runs = 0, milliseconds = null } = found.get(thing.id) ?? {};
      return { ...thing, runs, seconds: milliseconds === null ? null : milliseconds / 1000 };
    });
  };
  const sent = async (caller: Caller, id: string): Promise<Thing> =>
    (await withRuns([await gate.checkId(caller, 'view', id)]))[0]!;

  return {
    'GET /folders': async ({ caller }) => ({
      folders: await library.folders(gate.viewer(caller)),
      decides: gate.isHosts ? 'host' : 'library',
    }),
    'POST /folders': async ({ caller, body: { name, note, parent } }) => {
      await folderOf(caller, parent, 'change');
      const all = await library.folders(gate.viewer(caller));
      checkName(all, name, parent, null);
      if (depthOf(all, parent) >= DEEPEST) throw new ApiError('folders-too-deep', { most: DEEPEST });
      const owner = caller.isCode ? null : caller.user;
      return sentFolder(caller, await library.createFolder({ name, note, parent, owner }, caller.user));
    },
    'PUT /folders/:id': async ({ caller, params: { id }, body: { parent, publishing, name, note } }) => {
      const folder = await folderOf(caller, id, publishing === undefined ? 'change' : 'manage');
      const isFixed = id === ROOT || folder.isPersonal;
      if (isFixed && (name !== undefined || parent !== undefined || publishing === null))
        throw new ApiError('folder-stays');
      const all = await library.folders(gate.viewer(caller));
      if (parent !== undefined && parent !== folder.parent) {
        await folderOf(caller, parent, 'change');
        checkName(all, name ?? folder.name, parent, id);
        if (depthOf(all, parent) >= DEEPEST) throw new ApiError('folders-too-deep', { most: DEEPEST });
        if (!(await library.moveFolder(id, parent, caller.user)))
          throw new ApiError('folder-in-itself', { name: folder.name });
      } else if (name !== undefined) checkName(all, name, folder.parent, id);
      const changed = {
        ...(name === undefined ? {} : { name }),
        ...(note === undefined ? {} : { note }),
        ...(publishing === undefined ? {} : { publishing }),
      };
      if (Object.keys(changed).length > 0) await library.changeFolder(id, changed, caller.user);
      return sentFolder(caller, id);
    },
    'DELETE /folders/:id': async ({ caller, params: { id } }) => {
      const folder = await folderOf(caller, id, 'change');
      if (id === ROOT || folder.isPersonal) throw new ApiError('folder-stays');
      await library.setAsideFolder(id);
      return undefined;
    },
    'POST /folders/:id/restore': async ({ caller, params: { id } }) => {
      if (!(await library.binnedFolder(gate.viewer(caller), id))) throw new ApiError('unknown-folder', { id });
      await library.restoreFolder(id);
      return sentFolder(caller, id);
    },
    'GET /folders/:id/access': async ({ caller, params: { id } }) => {
      await folderOf(caller, id, 'change');
      return accessOf(caller, { folder: id });
    },
    'PUT /folders/:id/access': async ({ caller, params: { id }, body }) => {
      await folderOf(caller, id, 'manage');
      await changeAccess(caller, { folder: id }, body);
      return accessOf(caller, { folder: id });
    },

    'GET /library': async ({ caller, query }) => {
      const viewer = gate.viewer(caller);
      if (!gate.isHosts || caller.isCode) {
        const { things, more } = await library.things(viewer, query);
        return { things: await withRuns(things), more };
      }
      // The host decides on each, so that all are asked for before some are given.
      const { things } = await library.things(viewer, { ...query, from: 0, count: 1_000_000 });
      const allowed = await gate.allowed(caller, things);
      const end = query.from + query.count;
      return { things: await withRuns(allowed.slice(query.from, end)), more: allowed.length > end };
    },
    'GET /library/bin': async ({ caller }) => {
      const all = await library.bin(gate.viewer(caller));
      if (!gate.isHosts) return all;
      const may = await Promise.all(
        all.map(
          ({ kind, id }) =>
            kind === 'folder' ||
            gate.deleted(caller, id).then(
              () => true,
              () => false,
            ),
        ),
      );
      return all.filter((_, i) => may[i]);
    },
    'GET /library/:id': ({ caller, params: { id } }) => sent(caller, id),
    'GET /library/:id/picture': async ({ caller, params: { id } }) =>
      firstPages.of(await gate.checkId(caller, 'view', id), caller),
    'PUT /library/:id': async ({ caller, params: { id }, body: { name, folder, note, tags } }) => {
      const thing = await gate.checkId(caller, 'change', id);
      if (folder !== undefined && folder !== thing.folder) await gate.folderFor(caller, folder);
      if (name !== undefined && name !== thing.name) {
        const definition = { ...(await gate.definitionOf(caller, id)), name };
        if ('sketch' in definition) await gate.beforeSaveSketch(id, definition, caller);
        else await gate.beforeSave({ id, definition, sketch: null, caller: caller.session });
        // What it is called is no part of what readers wait for: where they see the newest, they go on to.
        const publish = thing.publishing === 'each-save' || thing.published === thing.revision;
        const saved = await store.save(id, definition, thing.revision, caller.user, '', publish);
        if (!saved.ok)
          throw new ApiError('conflict', { author: thing.changedBy, revision: thing.revision }, { current: thing });
      }
      const changed = {
        ...(note === undefined ? {} : { note }),
        ...(tags === undefined ? {} : { tags: [...new Set(tags)] }),
        ...(folder === undefined ? {} : { folder }),
      };
      if (Object.keys(changed).length > 0) await library.changeThing(id, changed);
      if (folder !== undefined && folder !== thing.folder) book.note(caller, 'moved', thing, { folder });
      if (name !== undefined || note !== undefined || tags !== undefined)
        book.note(caller, 'changed', thing, { ...(name === undefined ? {} : { name }), ...changed });
      return sent(caller, id);
    },
    'POST /library/:id/copy': async ({ caller, params: { id }, body: { name, folder: asked } }) => {
      await gate.checkCreate(caller);
      const thing = await gate.checkId(caller, 'view', id);
      const beside = asked ?? thing.folder;
      const folder = await gate.folderFor(caller, beside).catch((error: unknown) => {
        // Beside one that may only be read: among their own.
        if (asked === undefined && error instanceof ApiError) return gate.folderFor(caller, null);
        throw error;
      });
      const copy = { ...(await gate.definitionOf(caller, id)), name: name ?? thing.name };
      if ('sketch' in copy) await gate.beforeSaveSketch(null, copy, caller);
      else await gate.beforeSave({ id: null, definition: copy, sketch: null, caller: caller.session });
      const made = await store.create(copy, caller.user, undefined, whereNew(caller, folder, thing.note));
      book.note(caller, 'created', made, { copyOf: id });
      return sent(caller, made.id);
    },
    'PUT /library/:id/star': async ({ caller, params: { id }, body: { starred } }) => {
      await gate.checkId(caller, 'view', id);
      await library.star(caller.user, id, starred);
      return sent(caller, id);
    },
    'GET /library/:id/access': async ({ caller, params: { id } }) => {
      await gate.checkId(caller, 'change', id);
      return accessOf(caller, { thing: id });
    },
    'PUT /library/:id/access': async ({ caller, params: { id }, body }) => {
      const thing = await gate.checkId(caller, 'manage', id);
      await changeAccess(caller, { thing: id }, body);
      book.note(caller, 'access', thing, body);
      return accessOf(caller, { thing: id });
    },
    'GET /people': ({ query: { search } }) => grants.people(search, MOST_PEOPLE),

    'GET /reports/:id/publications': async ({ caller, params: { id } }) => {
      await gate.checkId(caller, 'change', id);
      return store.publications(id);
    },
    'POST /reports/:id/publish': async ({ caller, params: { id }, body: { revision, note } }) => {
      const thing = await gate.checkId(caller, 'publish', id);
      if (revision !== null && !(await store.revision(id, revision)))
        throw new ApiError('unknown-revision', { id, number: String(revision) });
      const isNew = revision !== null && revision > (thing.published ?? 0);
      // Two pairs of eyes: what is new was asked for by somebody else. What readers saw before may always come back.
      if (isNew && thing.publishing === 'two-people') {
        const { asked } = thing;
        if (asked?.revision !== revision) throw new ApiError('publish-not-asked', { revision });
        if (asked.by === caller.user) throw new ApiError('publish-own');
      }
      await store.publish(id, revision, caller.user, note);
      book.note(caller, isNew ? 'published' : 'taken-back', thing, { revision, note });
      return sent(caller, id);
    },
    'POST /reports/:id/ask': async ({ caller, params: { id }, body: { revision, note } }) => {
      const thing = await gate.checkId(caller, 'change', id);
      if (revision !== null && !(await store.revision(id, revision)))
        throw new ApiError('unknown-revision', { id, number: String(revision) });
      book.note(caller, 'asked', thing, { revision, note });
      await store.ask(id, revision === null ? null : { revision, by: caller.user, note });
      return sent(caller, id);
    },
  };
};
