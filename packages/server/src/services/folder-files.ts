import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import {
  type AnswerOf,
  type BodyRead,
  type Filed,
  type FileKind,
  fileOfThing,
  isRecipeFile,
  readFiled,
  thingFile,
} from '@gaveta/core/contract';
import { isHouseThing } from '@gaveta/core/internal';
import { ApiError, wordsOf } from '../base/api-error.ts';
import { withText } from '../base/problem-text.ts';
import { entryId, entryOf } from '../store/entries.ts';
import type { AskedThings, SeenFolder, SeenThing } from '../store/library-store.ts';
import type { Store, Where } from '../store/store.ts';
import { rankOf } from '../store/viewer.ts';
import type { ActivityBook } from './activity.ts';
import { type Caller, type Calls, issuesOf } from './call.ts';
import type { DefinitionRights } from './definition-rights.ts';
import type { Gate } from './gate.ts';
import { whereNew } from './where-new.ts';

export interface FolderFileParts {
  store: Store;
  gate: Gate;
  rights: DefinitionRights;
  book: ActivityBook;
}

type File = AnswerOf<'GET /folders/:id/files'>['files'][number];
type Change = AnswerOf<'POST /folders/:id/files'>['changes'][number];
type Asked = BodyRead<'POST /folders/:id/files'>;

/** What tells of a folder, and of what is in it besides definitions. */
const FOLDER = 'folder.json';

const written = (value: unknown): string => `${JSON.stringify(value, null, 2)}\n`;

/** A name as a part of a path: what a file system or a zip would take for something else is written otherwise. */
const asPart = (name: string): string => {
  const safe = name.replace(/[\\/:*?"<>|\p{Cc}%]/gu, (sign) => encodeURIComponent(sign)).replace(/^\.+|[. ]+$/g, '_');
  return safe === '' ? '_' : safe;
};

/** What stands in a folder’s own file. */
interface FolderFile {
  id?: string;
  name?: string;
  note?: string;
  /** By the id of a thing. */
  things?: Record<string, { note?: string; tags?: string[] }>;
}

const ORDER: readonly FileKind[] = ['picture', 'theme', 'recipe', 'report', 'sketch'];

/** A thing as a file says it. */
interface Brought {
  path: string;
  id: string;
  kind: FileKind;
  /** Parts of the path of its folder. */
  folder: string[];
  definition: Filed | null;
  note: string;
  tags: string[];
  /** Why it cannot be read, in words. */
  problems: string[];
}

const parsed = (text: string): unknown => {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    return undefined;
  }
};

const objectOf = (value: unknown): Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : {};

const textIn = (value: unknown, most: number): string => (typeof value === 'string' ? value.slice(0, most) : '');

const folderFileOf = (text: string | undefined): FolderFile => {
  const { id, name, note, things } = objectOf(text === undefined ? undefined : parsed(text));
  return {
    ...(typeof id === 'string' ? { id: id.slice(0, 120) } : {}),
    ...(typeof name === 'string' ? { name: name.trim().slice(0, 200) } : {}),
    ...(typeof note === 'string' ? { note: note.slice(0, 500) } : {}),
    things: objectOf(things) as NonNullable<FolderFile['things']>,
  };
};

/** Reads a thing’s file; null for a file that is none. */
const broughtFrom = ({ path, text }: File, folders: ReadonlyMap<string, FolderFile>): Brought | null => {
  const thing = fileOfThing(path);
  if (!thing) return null;
  const { id, kind } = thing;
  const folder = path.split('/').slice(0, -1);
  const about = objectOf(folders.get(folder.join('/'))?.things?.[id]);
  const tags = Array.isArray(about.tags) ? about.tags.filter((tag): tag is string => typeof tag === 'string') : [];
  const brought = {
    ...{ path, id, kind, folder, note: textIn(about.note, 500) },
    tags: tags.slice(0, 20).map((tag) => tag.slice(0, 60)),
  };
  const json = parsed(text);
  if (json === undefined) return { ...brought, definition: null, problems: ['it is no JSON'] };
  const read = readFiled(kind, json);
  if (read.filed) return { ...brought, definition: read.filed, problems: [] };
  const problems = read.error ? [issuesOf(read.error)] : withText(read.problems).map(({ text }) => text ?? '');
  return { ...brought, definition: null, problems };
};

/** Folders as files, to keep under version control or to take elsewhere, and back. */
export const folderFileService = ({
  store,
  gate,
  rights,
  book,
}: FolderFileParts): Calls<'GET /folders/:id/files' | 'POST /folders/:id/files'> => {
  const { library } = store;

  const folderOf = async (caller: Caller, id: string, needed: 'see' | 'change'): Promise<SeenFolder> => {
    const found = await library.folder(gate.viewer(caller), id);
    if (!found) throw new ApiError('unknown-folder', { id });
    if (rankOf(found.may) < rankOf(needed)) throw new ApiError('not-allowed-in-folder');
    return found;
  };
  const thingsIn = async (caller: Caller, folder: string): Promise<SeenThing[]> => {
    const asked: AskedThings = {
      ...{ place: 'folder', folder, find: '', sort: 'name', descending: false, from: 0, count: 100_000 },
    };
    const { things } = await library.things(gate.viewer(caller), asked);
    return gate.allowed(caller, things);
  };
  /** Null for what can be read no more, and for what becomes no file. */
  const definitionOf = async (caller: Caller, id: string): Promise<Filed | null> => {
    const entry = entryOf(id);
    if (entry) {
      const recipe = entry.kind === 'recipe' ? await store.data.recipe(entry.key) : null;
      return recipe && { name: recipe.name, steps: recipe.steps, parameters: recipe.parameters };
    }
    const { read, sketch, house } = await gate.found(caller, id, 'newest');
    return sketch ?? house ?? (read.ok ? read.report : null);
  };
  const create = async (caller: Caller, filed: Filed, id: string | undefined, where: Where): Promise<SeenThing> => {
    let made: string;
    if (isRecipeFile(filed)) {
      const key = id === undefined ? undefined : entryOf(id)?.key;
      made = entryId('recipe', (await store.data.createRecipe(filed, caller.user, key, where)).id);
    } else {
      await gate.beforeSaveOf(null, filed, caller);
      const publish = isHouseThing(filed) ? { ...where, publish: true } : where;
      made = (await store.create(filed, caller.user, id ?? randomUUID(), publish)).id;
    }
    return gate.checkId(caller, 'view', made);
  };
  /** False: somebody saved it in the meantime. */
  const save = async (caller: Caller, filed: Filed, current: SeenThing): Promise<boolean> => {
    const { id } = current;
    if (isRecipeFile(filed)) {
      const key = entryOf(id)!.key;
      const before = await store.data.recipe(key);
      return before !== null && (await store.data.saveRecipe(key, filed, before.revision, caller.user)).ok;
    }
    await gate.beforeSaveOf(id, filed, caller);
    const publish = current.publishing === 'each-save';
    return (await store.save(id, filed, current.revision, caller.user, '', publish)).ok;
  };

  /** What a file would do, or does. */
  const bring = async (
    caller: Caller,
    one: Brought,
    folder: { id: string; seen: SeenFolder | null },
    { apply, expect }: Asked,
  ): Promise<Change> => {
    const { path, id, kind, definition, note, tags } = one;
    const change = { path, id, kind, name: definition?.name ?? id, revision: null as number | null };
    if (!definition) return { ...change, what: 'refused', problems: one.problems };
    const current = await library.thing(gate.viewer(caller), id);
    const visible = current && (await gate.allowed(caller, [current])).length > 0 ? current : null;
    try {
      await rights.check(caller, definition);
      await gate.checkNested(caller, definition);
      if (visible) return await bringAgain(caller, one, visible, folder, { apply, expect });
      await gate.checkCreate(caller);
      if (apply && folder.seen) {
        // An id that is used by what they do not see stays what it is.
        const isFree = caller.may('manage') && (await library.isFree(id));
        const made = await create(caller, definition, isFree ? id : undefined, whereNew(caller, folder.seen, note));
        if (tags.length > 0) await library.changeThing(made.id, { tags });
        book.note(caller, 'created', made, { from: 'files' });
        return { ...change, id: made.id, revision: made.revision, what: 'added', problems: [] };
      }
      return { ...change, what: 'added', problems: [] };
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      return { ...change, what: 'refused', problems: [wordsOf(error)] };
    }
  };

  const bringAgain = async (
    caller: Caller,
    { path, id, kind, definition, note, tags }: Brought,
    current: SeenThing,
    folder: { id: string },
    { apply, expect }: Pick<Asked, 'apply' | 'expect'>,
  ): Promise<Change> => {
    const change = { path, id, kind, name: definition!.name, revision: current.revision, problems: [] as string[] };
    const before = await definitionOf(caller, id);
    const isSame = isDeepStrictEqual(before, JSON.parse(JSON.stringify(definition)));
    const isMoved = current.folder !== folder.id;
    const isToldOtherwise = current.note !== note || !isDeepStrictEqual(current.tags, tags);
    if (isSame && !isMoved && !isToldOtherwise) return { ...change, what: 'same' };
    await gate.checkId(caller, 'change', id);
    const expected = expect[id];
    if (expected !== undefined && expected !== current.revision) return { ...change, what: 'conflict' };
    const what = isSame ? 'moved' : 'changed';
    if (!apply) return { ...change, what };
    if (!isSame) {
      if (!(await save(caller, definition!, current))) return { ...change, what: 'conflict' };
      change.revision = current.revision + 1;
      book.note(caller, 'saved', { id, name: definition!.name }, { from: 'files', revision: change.revision });
    }
    if (isMoved || isToldOtherwise) await library.changeThing(id, { folder: folder.id, note, tags });
    if (isMoved) book.note(caller, 'moved', current, { folder: folder.id });
    return { ...change, what };
  };

  return {
    'GET /folders/:id/files': async ({ caller, params: { id } }) => {
      const root = await folderOf(caller, id, 'see');
      const all = await library.folders(gate.viewer(caller));
      const files: File[] = [];
      const revisions: Record<string, number> = {};
      const add = async (folder: SeenFolder, at: string): Promise<void> => {
        const things = await thingsIn(caller, folder.id);
        const about: NonNullable<FolderFile['things']> = {};
        for (const { id: thing, kind, note, tags, revision } of things) {
          const definition = await definitionOf(caller, thing);
          // What can be read no more is left where it is, as are connections.
          if (!definition) continue;
          files.push({ path: `${at}${thingFile(thing, kind as FileKind)}`, text: written(definition) });
          revisions[thing] = revision;
          if (note !== '' || tags.length > 0)
            about[thing] = { ...(note === '' ? {} : { note }), ...(tags.length === 0 ? {} : { tags }) };
        }
        const { id: own, name, note } = folder;
        const told = {
          id: own,
          name,
          ...(note === '' ? {} : { note }),
          ...(Object.keys(about).length === 0 ? {} : { things: about }),
        };
        files.push({ path: `${at}${FOLDER}`, text: written(told) });
        const taken = new Set<string>();
        for (const inner of all.filter(({ parent }) => parent === folder.id)) {
          let part = asPart(inner.name);
          // Two whose names are written alike stay two.
          if (taken.has(part.toLowerCase())) part = `${part} ${inner.id}`;
          taken.add(part.toLowerCase());
          await add(inner, `${at}${part}/`);
        }
      };
      await add(root, '');
      return { files, revisions };
    },
    'POST /folders/:id/files': async ({ caller, params: { id }, body }) => {
      const root = await folderOf(caller, id, 'change');
      const told = new Map<string, FolderFile>();
      for (const { path, text } of body.files) {
        const parts = path.split('/');
        if (parts.at(-1) === FOLDER) told.set(parts.slice(0, -1).join('/'), folderFileOf(text));
      }
      // What others name comes before them.
      const brought = body.files
        .flatMap((file) => broughtFrom(file, told) ?? [])
        .sort((a, b) => ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind));
      const changes: Change[] = [];
      const all = await library.folders(gate.viewer(caller));
      /** Folders by their paths; those that would be created have no id yet. */
      const found = new Map<string, { id: string; seen: SeenFolder | null }>([['', { id: root.id, seen: root }]]);
      const folderAt = async (parts: readonly string[]): Promise<{ id: string; seen: SeenFolder | null }> => {
        const key = parts.join('/');
        const before = found.get(key);
        if (before) return before;
        const around = await folderAt(parts.slice(0, -1));
        const { id: own, name: called, note = '' } = told.get(key) ?? {};
        const name = called || parts.at(-1)!;
        const inside = all.filter(({ parent }) => parent === around.id);
        const seen =
          inside.find((one) => one.id === own) ??
          inside.find((one) => one.name.toLowerCase() === name.toLowerCase()) ??
          null;
        if (seen) {
          found.set(key, { id: seen.id, seen });
          return found.get(key)!;
        }
        const change = { path: `${key}/${FOLDER}`, id: own ?? '', kind: 'folder' as const, name, revision: null };
        changes.push({ ...change, what: 'added', problems: [] });
        if (!body.apply || !around.seen) {
          found.set(key, { id: `new ${key}`, seen: null });
          return found.get(key)!;
        }
        const isFree = own !== undefined && caller.may('manage') && (await library.isFolderFree(own));
        const made = await library.createFolder(
          { name, note, parent: around.id, owner: caller.isCode ? null : caller.user },
          caller.user,
          isFree ? own : randomUUID(),
        );
        const created = await folderOf(caller, made, 'change');
        all.push(created);
        found.set(key, { id: made, seen: created });
        return found.get(key)!;
      };
      for (const one of brought) changes.push(await bring(caller, one, await folderAt(one.folder), body));
      return { changes };
    },
  };
};
