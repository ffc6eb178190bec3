import { ApiFailure, GavetaClient } from '@gaveta/client';
import { fileOfThing } from '@gaveta/core/contract';
import { changesBetween, readDefinition } from '@gaveta/core/internal';
import { whyNot } from '../why-not.ts';
import {
  digestOf,
  type Known,
  type LibraryFile,
  putFile,
  readFolder,
  readKnown,
  removeFile,
  writeKnown,
} from './folder-on-disk.ts';
import { bothSides, type Side } from './two-sides.ts';

export interface SyncOptions {
  /** Address of a running Gaveta; left out: that of the last time. */
  server?: string;
  token?: string;
  /** Id of the folder of the library; left out: that of the last time, or the library itself. */
  library?: string;
  /** Does what is shown, instead of only showing it. */
  yes?: boolean;
  /** Of what changed on both sides, the server’s is taken by `pull`, or that here by `push`. */
  force?: boolean;
}

interface Place {
  folder: string;
  server: string;
  library: string;
  known: Known | null;
  client: GavetaClient;
}

const placeOf = async (folder: string, { server, token, library }: SyncOptions): Promise<Place | null> => {
  const before = await readKnown(folder);
  const address = server ?? before?.server;
  if (address === undefined) {
    console.error('gaveta: which server? Name it with --server, as in --server http://localhost:3000/reports/.');
    return null;
  }
  const id = library ?? before?.folder ?? 'root';
  // What was known of another server, or of another folder, says nothing here.
  const known = before?.server === address && before.folder === id ? before : null;
  const given = token ?? process.env.GAVETA_TOKEN ?? null;
  const client = new GavetaClient({ server: address, ...(given === null ? {} : { token: () => given }) });
  return { folder, server: address, library: id, known, client };
};

/** Does something with a server; says why it cannot be, and gives 3. */
const talking = async (server: string, work: () => Promise<number>): Promise<number> => {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof ApiFailure)) throw error;
    console.error(`gaveta: ${server}: ${whyNot(error)}.`);
    return 3;
  }
};

const line = (word: string, path: string, more = ''): void =>
  console.log(`${word.padEnd(10)}${path}${more === '' ? '' : `  ${more}`}`);

const done = (isDone: boolean | undefined, count: number, what: string): void => {
  if (count === 0) console.log('Nothing to do: both sides are the same.');
  else if (!isDone) console.log(`Nothing was ${what} yet. Say --yes to do it.`);
};

const remember = (place: Place, files: readonly LibraryFile[], revisions: Record<string, number>): Promise<void> =>
  writeKnown(place.folder, {
    server: place.server,
    folder: place.library,
    files: Object.fromEntries(files.map((file) => [file.path, digestOf(file)])),
    revisions,
  });

/** Brings a folder of the library into files. What was changed here alone stays; what was on both sides is left and said. */
export const pull = async (folder: string, options: SyncOptions): Promise<number> => {
  const place = await placeOf(folder, options);
  if (!place) return 2;
  return talking(place.server, async () => {
    const { files, revisions } = await place.client.call('GET /folders/:id/files', { params: { id: place.library } });
    const sides = bothSides(await readFolder(folder), files, place.known);
    const isTaken = ({ standing }: Side): boolean =>
      standing === 'there' || (standing === 'both' && options.force === true);
    const coming = sides.filter(isTaken);
    const both = sides.filter((side) => side.standing === 'both' && !isTaken(side));
    for (const { path, here, there } of coming)
      line(there === null ? 'remove' : here === null ? 'add' : 'update', path);
    for (const { path } of both)
      line('conflict', path, 'changed here and there; it is left as it is here (--force takes that of the server)');
    done(options.yes, coming.length + both.length, 'written');
    if (options.yes) {
      for (const { path, there } of coming) {
        if (there === null) await removeFile(folder, path);
        else await putFile(folder, { path, text: there });
      }
      // What differs on both sides is not known to be the same.
      const settled = new Set(
        sides.filter((side) => side.standing === 'same' || isTaken(side)).map(({ path }) => path),
      );
      const before = place.known?.files ?? {};
      await writeKnown(folder, {
        server: place.server,
        folder: place.library,
        files: Object.fromEntries([
          ...Object.entries(before).filter(([path]) => !settled.has(path)),
          ...files.filter(({ path }) => settled.has(path)).map((file) => [file.path, digestOf(file)] as const),
        ]),
        revisions: {
          ...place.known?.revisions,
          ...Object.fromEntries(
            [...settled].flatMap((path) => {
              const id = fileOfThing(path)?.id;
              const revision = id === undefined ? undefined : revisions[id];
              return id === undefined || revision === undefined ? [] : [[id, revision]];
            }),
          ),
        },
      });
    }
    return both.length > 0 ? 1 : 0;
  });
};

/** Bytes of files that are sent at once. */
const MOST_SENT = 2_000_000;

/** In lots that a server takes; what tells of folders goes with each. */
const lotsOf = (files: readonly LibraryFile[]): LibraryFile[][] => {
  const about = files.filter(({ path }) => path.endsWith('folder.json'));
  const lots: LibraryFile[][] = [];
  let size = Number.POSITIVE_INFINITY;
  for (const file of files) {
    if (about.includes(file)) continue;
    if (size + file.text.length > MOST_SENT) {
      lots.push([...about]);
      size = 0;
    }
    lots.at(-1)!.push(file);
    size += file.text.length;
  }
  return lots.length > 0 || about.length === 0 ? lots : [about];
};

const WORDS = {
  added: 'add',
  changed: 'update',
  moved: 'move',
  conflict: 'conflict',
  refused: 'refused',
  same: '',
} as const;

/** Takes files into a folder of the library. Nothing is deleted there; what was saved there since is left and said. */
export const push = async (folder: string, options: SyncOptions): Promise<number> => {
  const place = await placeOf(folder, options);
  if (!place) return 2;
  return talking(place.server, async () => {
    const files = await readFolder(folder);
    if (files.length === 0) {
      console.error(
        `gaveta: there are no definitions in “${folder}”: files whose names end in .report.json, .sketch.json, .recipe.json, .picture.json or .theme.json.`,
      );
      return 2;
    }
    let count = 0;
    let isWhole = true;
    for (const lot of lotsOf(files)) {
      const body = {
        files: lot,
        apply: options.yes ?? false,
        expect: options.force ? {} : (place.known?.revisions ?? {}),
      };
      const { changes } = await place.client.call('POST /folders/:id/files', { params: { id: place.library }, body });
      for (const { what, path, problems } of changes) {
        if (what === 'same') continue;
        count++;
        if (what === 'conflict' || what === 'refused') isWhole = false;
        line(
          WORDS[what],
          path,
          what === 'conflict' ? 'saved there since (--force takes that from here)' : problems.join(' '),
        );
      }
    }
    done(options.yes, count, 'sent');
    if (options.yes) {
      const { files: there, revisions } = await place.client.call('GET /folders/:id/files', {
        params: { id: place.library },
      });
      const same = new Set(
        bothSides(files, there, null)
          .filter(({ standing }) => standing === 'same')
          .map(({ path }) => path),
      );
      await remember(
        place,
        there.filter(({ path }) => same.has(path)),
        Object.fromEntries(
          Object.entries(revisions).filter(([id]) => [...same].some((path) => fileOfThing(path)?.id === id)),
        ),
      );
    }
    return isWhole ? 0 : 1;
  });
};

const STANDING = { here: 'here', there: 'there', both: 'both', same: '' } as const;

/** What differs between two states of a report, one line each. */
const differences = ({ here, there }: Side): string[] => {
  if (here === null) return ['only on the server'];
  if (there === null) return ['only here'];
  const [older, newer] = [there, here].map((text) => {
    try {
      return readDefinition(JSON.parse(text));
    } catch {
      return null;
    }
  });
  if (!older?.ok || !newer?.ok) return [];
  return changesBetween(older.report, newer.report).map(({ what, how, id, settings }) =>
    [what, id === '' ? '' : `“${id}”`, how, settings.join(', ')].filter((part) => part !== '').join(' '),
  );
};

/** Says what differs between files and the server, and on which side it changed; 1 where something does. */
export const diff = async (folder: string, options: SyncOptions): Promise<number> => {
  const place = await placeOf(folder, options);
  if (!place) return 2;
  return talking(place.server, async () => {
    const { files } = await place.client.call('GET /folders/:id/files', { params: { id: place.library } });
    const sides = bothSides(await readFolder(folder), files, place.known).filter(({ standing }) => standing !== 'same');
    for (const side of sides) {
      line(STANDING[side.standing], side.path);
      for (const words of differences(side)) console.log(`          ${words}`);
    }
    if (sides.length === 0) console.log('Both sides are the same.');
    return sides.length > 0 ? 1 : 0;
  });
};
