import { isDeepStrictEqual } from 'node:util';
import type { AccessLevel, Publishing } from '@gaveta/core/contract';
import type { HouseThing, OwnTheme } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import type { Grant, GrantTarget } from '../store/grant-store.ts';
import type { SeenFolder } from '../store/library-store.ts';
import { ROOT } from '../store/schema.ts';
import type { Store } from '../store/store.ts';
import { HOST } from '../store/viewer.ts';
import { houseThingOf } from './house.ts';

/** What code of the host’s own says of a folder; what is left out stays as it is. */
export interface FolderInCode {
  name: string;
  note?: string;
  /** Id of the folder that it is in; the library itself when left out. */
  parent?: string;
  /** Whether what somebody may do with the folder around it holds here too; it does when left out. */
  inherits?: boolean;
  /** How revisions of what is in it come before readers; `null`: as in the folder around it. */
  publishing?: Publishing | null;
}

/** The library, for code of the host’s own, which may do what it likes with it. Throws ApiError, as the API answers. */
export interface LibraryInCode {
  /** Every folder, by name; `root` is the one that all are in. */
  folders(): Promise<SeenFolder[]>;
  /** Creates a folder under an id, or changes it. */
  putFolder(id: string, folder: FolderInCode): Promise<void>;
  /** Says how revisions come before readers where no folder says otherwise. */
  publishing(publishing: Publishing): Promise<void>;
  /** Keeps a picture under an id, a PNG or JPEG, or keeps it anew: reports that show it show it from then on. */
  putPicture(id: string, picture: { name: string; data: Uint8Array; folder?: string }): Promise<void>;
  /** Keeps a theme under an id, written as those of the option `themes`, or keeps it anew. */
  putTheme(id: string, theme: OwnTheme, folder?: string): Promise<void>;
  /** Says whether new reports may begin as a report is. */
  template(id: string, isTemplate: boolean): Promise<void>;
  /** Moves a thing into a folder: `recipe:…` and `connection:…` with an id or name are the ids of those. */
  move(id: string, folder: string): Promise<void>;
  /**
   * Lets somebody do as much with a folder, or with one thing: `user:…`, `group:…` as tokens name them, or `everybody`. Null takes
   * away what was granted there.
   */
  grant(target: GrantTarget, principal: string, may: AccessLevel | null): Promise<void>;
  /** What was granted on a folder, or on one thing, itself. */
  grants(target: GrantTarget): Promise<Grant[]>;
}

const CODE = 'code';

export const libraryInCode = (store: Store): LibraryInCode => {
  const { library, grants } = store;
  const check = async (target: GrantTarget): Promise<void> => {
    if ('folder' in target) {
      if (!(await library.folder(HOST, target.folder))) throw new ApiError('unknown-folder', { id: target.folder });
    } else if (!(await library.thing(HOST, target.thing))) throw new ApiError('unknown-report', { id: target.thing });
  };
  const keep = async (id: string, thing: HouseThing, folder: string): Promise<void> => {
    await check({ folder });
    const found = await store.get(id);
    if (!found) {
      await store.create(thing, CODE, id, { folder });
      return;
    }
    if (!found.house) throw new ApiError('id-taken', { id });
    if (isDeepStrictEqual(found.house, thing)) return;
    await store.save(id, thing, found.stored.revision, CODE, '');
  };
  return {
    putPicture: async (id, { name, data, folder = ROOT }) => {
      const type = data[0] === 0xff ? 'jpeg' : 'png';
      const source = `data:image/${type};base64,${Buffer.from(data).toString('base64')}`;
      await keep(id, houseThingOf({ gavetaPicture: 1, name, source }), folder);
    },
    putTheme: (id, theme, folder = ROOT) => keep(id, houseThingOf({ gavetaTheme: 1, ...theme }), folder),
    template: async (id, isTemplate) => {
      const found = await library.thing(HOST, id);
      if (!found) throw new ApiError('unknown-report', { id });
      if (isTemplate && found.kind !== 'report') throw new ApiError('not-a-template');
      await library.changeThing(id, { isTemplate });
    },
    folders: () => library.folders(HOST),
    putFolder: async (id, { name, note = '', parent = ROOT, inherits, publishing }) => {
      await check({ folder: parent });
      if (id === ROOT) throw new ApiError('folder-stays');
      const found = await library.folder(HOST, id);
      if (!found) await library.createFolder({ name, note, parent, owner: null }, CODE, id);
      else if (found.parent !== parent && !(await library.moveFolder(id, parent, CODE)))
        throw new ApiError('folder-in-itself', { name });
      const changed = {
        ...(found ? { name, note } : {}),
        ...(inherits === undefined ? {} : { inherits }),
        ...(publishing === undefined ? {} : { publishing }),
      };
      if (Object.keys(changed).length > 0) await library.changeFolder(id, changed, CODE);
    },
    publishing: (publishing) => library.changeFolder(ROOT, { publishing }, CODE),
    move: async (id, folder) => {
      await check({ thing: id });
      await check({ folder });
      await library.changeThing(id, { folder });
    },
    grant: async (target, principal, may) => {
      await check(target);
      if (!/^(?:everybody|(?:user|group):[^\s].*)$/su.test(principal))
        throw new ApiError('wrong-body', { detail: `“${principal}” is no user:…, group:… or everybody` });
      await grants.put(target, principal, may, CODE);
    },
    grants: async (target) => {
      await check(target);
      return (await grants.around(target))[0]?.grants ?? [];
    },
  };
};
