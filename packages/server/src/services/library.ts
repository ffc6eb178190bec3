import type { AnswerOf, BodyRead } from '@gaveta/core/contract';
import { ApiError } from '../base/api-error.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { connectionUsers, usersOf } from '../recipes/users.ts';
import { type Entry, entryId, entryOf } from '../store/entries.ts';
import type { GrantTarget } from '../store/grant-store.ts';
import { isRun, type SeenFolder, type SeenThing } from '../store/library-store.ts';
import { ROOT } from '../store/schema.ts';
import type { Store, Where } from '../store/store.ts';
import { rankOf } from '../store/viewer.ts';
import type { ActivityBook } from './activity.ts';
import type { Caller, Calls } from './call.ts';
import type { DefinitionRights } from './definition-rights.ts';
import type { FirstPages } from './first-pages.ts';
import type { Gate } from './gate.ts';
import type { House } from './house.ts';
import { houseService } from './house-calls.ts';
import { usersOfReport } from './stored-reports.ts';
import { whereNew } from './where-new.ts';

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
  | 'POST /library'
  | 'GET /library/:id'
  | 'GET /library/:id/definition'
  | 'PUT /library/:id/definition'
  | 'GET /library/:id/users'
  | 'POST /library/:id/theme'
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

export interface LibraryParts {
  store: Store;
  gate: Gate;
  firstPages: FirstPages;
  book: ActivityBook;
  rights: DefinitionRights;
  house: House;
  catalogue: Catalogue;
}

/** Folders, what is in them, who may do what, and what readers see. */
export const libraryService = (parts: LibraryParts): Calls<LibraryCalls> => {
  const { store, gate, firstPages, book, catalogue, rights } = parts;
  const { library, grants, data } = store;

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

  /** Renames what has revisions, which saves one. */
  const rename = async (caller: Caller, thing: SeenThing, name: string): Promise<void> => {
    const { id } = thing;
    const definition = { ...(await gate.definitionOf(caller, id)), name };
    parts.house.checkName(definition);
    await gate.beforeSaveOf(id, definition, caller);
    // What it is called is no part of what readers wait for: where they see the newest, they go on to.
    const publish = thing.publishing === 'each-save' || thing.published === thing.revision;
    const saved = await store.save(id, definition, thing.revision, caller.user, '', publish);
    if (!saved.ok)
      throw new ApiError('conflict', { author: thing.changedBy, revision: thing.revision }, { current: thing });
  };
  /** Renames a recipe, or gives a connection another label. */
  const renameEntry = async (caller: Caller, { kind, key }: Entry, name: string): Promise<void> => {
    if (kind === 'connection') {
      caller.needs('data');
      await data.labelConnection(key, name, caller.user);
      const found = (await data.connections()).find(({ source }) => source.name === key);
      if (found) catalogue.add(found);
      return;
    }
    const recipe = await data.recipe(key);
    if (!recipe) throw new ApiError('unknown-recipe', { id: key });
    const { steps, parameters, revision, changedBy } = recipe;
    const saved = await data.saveRecipe(key, { name, steps, parameters }, revision, caller.user);
    if (!saved.ok) throw new ApiError('conflict', { author: changedBy, revision }, { current: recipe });
  };
  const copied = async (caller: Caller, thing: SeenThing, name: string, where: Where): Promise<string> => {
    const entry = entryOf(thing.id);
    if (entry?.kind === 'recipe') {
      const recipe = await data.recipe(entry.key);
      if (!recipe) throw new ApiError('unknown-recipe', { id: entry.key });
      const { steps, parameters } = recipe;
      await rights.check(caller, steps);
      return entryId(
        'recipe',
        (await data.createRecipe({ name, steps, parameters }, caller.user, undefined, where)).id,
      );
    }
    // What is secret of a connection is told nobody, and so goes into no other one.
    if (entry) throw new ApiError('connection-not-copied');
    const copy = { ...(await gate.definitionOf(caller, thing.id)), name };
    await rights.check(caller, copy);
    await gate.beforeSaveOf(null, copy, caller);
    const publish = isRun(thing) ? where : { ...where, publish: true };
    return (await store.create(copy, caller.user, undefined, publish)).id;
  };
  /** What uses a thing. */
  const usersFor = async (caller: Caller, thing: SeenThing): Promise<SeenThing[]> => {
    const { id, kind, name } = thing;
    const entry = entryOf(id);
    if (kind === 'picture') return gate.mentioning(caller, { kind: 'picture', value: id });
    if (kind === 'theme') return gate.mentioning(caller, { kind: 'theme', value: name });
    const users = entry
      ? (entry.kind === 'recipe' ? await usersOf(store, entry.key) : await connectionUsers(store, entry.key)).map(
          (one) => (one.kind === 'recipe' ? entryId('recipe', one.id) : one.id),
        )
      : (await usersOfReport(store, id)).map((one) => one.id);
    const seen = new Map([...(await gate.list(caller)), ...(await gate.entries(caller))].map((one) => [one.id, one]));
    return users.flatMap((one) => seen.get(one) ?? []);
  };
  /** Recipes in use and connections keep their folder, since rows are taken from them. */
  const checkNothingUsed = async (caller: Caller, folder: string): Promise<void> => {
    const inside = await library.within(folder);
    const used: string[] = [];
    for (const { id, name } of inside) {
      const entry = entryOf(id);
      if (!entry || (entry.kind === 'recipe' && (await usersOf(store, entry.key)).length === 0)) continue;
      used.push((await library.thing(gate.viewer(caller), id)) ? name : '…');
    }
    if (used.length > 0) throw new ApiError('folder-in-use', { names: [...new Set(used)].join(', ') });
  };

  return {
    ...houseService(parts, sent),
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
      await checkNothingUsed(caller, id);
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
    'PUT /library/:id': async ({ caller, params: { id }, body: { name, folder, note, tags, isTemplate } }) => {
      const thing = await gate.checkId(caller, 'change', id);
      if (folder !== undefined && folder !== thing.folder) await gate.folderFor(caller, folder);
      const entry = entryOf(id);
      if (isTemplate && thing.kind !== 'report') throw new ApiError('not-a-template');
      if (name !== undefined && name !== thing.name)
        await (entry ? renameEntry(caller, entry, name) : rename(caller, thing, name));
      const changed = {
        ...(note === undefined ? {} : { note }),
        ...(tags === undefined ? {} : { tags: [...new Set(tags)] }),
        ...(folder === undefined ? {} : { folder }),
        ...(isTemplate === undefined ? {} : { isTemplate }),
      };
      if (Object.keys(changed).length > 0) await library.changeThing(id, changed);
      if (folder !== undefined && folder !== thing.folder) book.note(caller, 'moved', thing, { folder });
      if (name !== undefined || note !== undefined || tags !== undefined || isTemplate !== undefined)
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
      const made = await copied(caller, thing, name ?? thing.name, whereNew(caller, folder, thing.note));
      book.note(caller, 'created', { id: made, name: name ?? thing.name }, { copyOf: id });
      return sent(caller, made);
    },
    'PUT /library/:id/star': async ({ caller, params: { id }, body: { starred } }) => {
      await gate.checkId(caller, 'view', id);
      await library.star(caller.user, id, starred);
      return sent(caller, id);
    },
    'GET /library/:id/users': async ({ caller, params: { id } }) => {
      const users = await usersFor(caller, await gate.checkId(caller, 'view', id));
      const delivered = (await store.deliveries.list({ report: id })).map(({ id: one, name, owner }) => ({
        ...{ kind: 'delivery' as const, id: one },
        // What somebody else sends is told as little as what else they have.
        name: owner === caller.user || caller.may('manage') || caller.isCode ? name : '…',
      }));
      return [...users.map(({ kind, id: one, name }) => ({ kind, id: one, name })), ...delivered];
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
      if (!isRun(thing)) throw new ApiError('unknown-report', { id });
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
