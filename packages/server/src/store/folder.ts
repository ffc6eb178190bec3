import { constants } from 'node:fs';
import { access, mkdir, open, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { hostname } from 'node:os';
import { basename, dirname, join, resolve } from 'node:path';

/** The store’s folder cannot be used; the words say why, and what to do. */
export class StoreError extends Error {}

interface Holder {
  pid: number;
  /** When the process began, as the system counts it; tells it from another one that got its number later. */
  began: string | null;
  host: string;
}

/** When a process began; null where the system does not say, or there is no such process. */
const beginOf = async (pid: number): Promise<string | null> => {
  const text = await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => null);
  // The name stands in brackets and may hold anything; the 20th field after it is the start (proc(5)).
  return text === null ? null : (text.slice(text.lastIndexOf(')') + 2).split(' ')[19] ?? null);
};

const isAlive = async ({ pid, began, host }: Holder): Promise<boolean> => {
  if (host !== hostname()) return true;
  try {
    process.kill(pid, 0);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EPERM') return false;
  }
  const now = await beginOf(pid);
  return began === null || now === null || now === began;
};

const holderIn = (text: string): Holder | null => {
  try {
    const { pid, began, host } = JSON.parse(text) as Partial<Holder>;
    return typeof pid === 'number' && typeof host === 'string' ? { pid, began: began ?? null, host } : null;
  } catch {
    return null;
  }
};

/** Milliseconds after which a lock that says nothing counts as left behind: it is written at once. */
const WRITING = 5000;
/** Milliseconds between looks at a lock that somebody is taking over, and how many of them. */
const LOOK_AGAIN = 20;
const MOST_LOOKS = 100;
/** A lock that guards the taking over of another one may itself be left behind, and so on; nobody is that unlucky. */
const DEEPEST = 4;

/** Makes a lock; false when there is one. */
const makeLock = async (file: string, own: Holder): Promise<boolean> => {
  try {
    const handle = await open(file, 'wx', 0o600);
    await handle.writeFile(JSON.stringify(own));
    await handle.sync();
    await handle.close();
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'EEXIST') return false;
    throw error;
  }
};

const textOf = (file: string): Promise<string | null> => readFile(file, 'utf8').catch(() => null);

/** Takes a lock that nobody has, or that was left behind; gives who has it where that is somebody else. */
const takeLock = async (file: string, own: Holder, depth = 0): Promise<'taken' | { holder: Holder | null }> => {
  for (let look = 0; look < MOST_LOOKS; look++) {
    if (await makeLock(file, own)) return 'taken';
    const text = await textOf(file);
    // Whoever had it let go of it this moment.
    if (text === null) continue;
    const holder = holderIn(text);
    const age = Date.now() - ((await stat(file).catch(() => null))?.mtimeMs ?? 0);
    if (depth >= DEEPEST || (holder ? await isAlive(holder) : age < WRITING)) return { holder };
    // Of several that find it left behind, the one with this second lock takes it over. It looks once more: somebody may have before.
    const guard = `${file}.guard`;
    if ((await takeLock(guard, own, depth + 1)) !== 'taken') {
      await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN));
      continue;
    }
    try {
      if ((await textOf(file)) === text) {
        await writeFile(`${file}.new`, JSON.stringify(own), { mode: 0o600, flush: true });
        await rename(`${file}.new`, file);
        return 'taken';
      }
    } finally {
      await rm(guard, { force: true });
    }
  }
  return { holder: null };
};

/**
 * Takes a store’s folder for this process, and no other; gives what lets go of it. A lock that a process left which is
 * gone is taken over. Throws StoreError when another one has the folder.
 */
export const lockFolder = async (folder: string): Promise<() => Promise<void>> => {
  const file = `${resolve(folder)}.lock`;
  const own: Holder = { pid: process.pid, began: await beginOf(process.pid), host: hostname() };
  const taken = await takeLock(file, own).catch((error: unknown) => {
    throw inWords(folder, error);
  });
  if (taken === 'taken') return () => rm(file, { force: true });
  const { holder } = taken;
  const who = holder
    ? `process ${holder.pid}${holder.host === own.host ? '' : ` on ${holder.host}`}`
    : 'another process';
  throw new StoreError(
    `createGaveta: store: ${who} has “${basename(folder)}” open, and only one may. End it, or name another folder. If it runs no more, remove ${basename(file)}.`,
  );
};

/** Parts that every whole store has. */
const PARTS = ['PG_VERSION', 'base', 'global', 'pg_wal'];

/** Refuses a folder that is neither empty nor a whole store, and one that cannot be written. Makes it when it is not there. */
export const checkFolder = async (folder: string): Promise<void> => {
  if (/^[a-z][a-z0-9+.-]*:\/\//i.test(folder))
    throw new StoreError(
      'createGaveta: store: this address leads to no PostgreSQL server. Name a folder, or one that begins with postgres://.',
    );
  const name = basename(resolve(folder));
  try {
    await mkdir(dirname(resolve(folder)), { recursive: true });
    await mkdir(folder, { recursive: true });
    await access(folder, constants.R_OK | constants.W_OK | constants.X_OK);
  } catch (error) {
    throw inWords(folder, error);
  }
  const found = await readdir(folder).catch((error: unknown) => {
    throw inWords(folder, error);
  });
  if (found.length === 0) return;
  const missing = PARTS.filter((part) => !found.includes(part));
  if (missing.length === PARTS.length)
    throw new StoreError(
      `createGaveta: store: “${name}” holds other files and no store. Name an empty folder, or the one in which the reports are.`,
    );
  if (missing.length > 0 || !(await isFile(join(folder, 'global', 'pg_control'))))
    throw new StoreError(
      `createGaveta: store: “${name}” is a store that is not whole (${[...missing, 'pg_control'][0]} is missing). Nothing was changed. Put it back from a backup, or name an empty folder to begin anew.`,
    );
};

const isFile = async (path: string): Promise<boolean> => (await stat(path).catch(() => null))?.isFile() ?? false;

/** What the system said of a folder, in words. */
export const inWords = (folder: string, error: unknown): StoreError => {
  const name = basename(resolve(folder));
  const code = (error as NodeJS.ErrnoException | null)?.code ?? '';
  const words: Readonly<Record<string, string>> = {
    EACCES: 'may not be read and written by this user. Give the process the right to, or name another folder.',
    EPERM: 'may not be written by this user. Give the process the right to, or name another folder.',
    EROFS: 'lies on a disk that cannot be written. Name another folder.',
    ENOSPC: 'lies on a full disk. Make room, then start again; nothing that was saved is lost.',
    ENOTDIR: 'is no folder. Name one.',
    EEXIST: 'is no folder. Name one.',
  };
  return new StoreError(
    `createGaveta: store: “${name}” ${words[code] ?? 'cannot be opened: it is damaged, or of a newer version. Nothing was changed. Put it back from a backup, or name an empty folder to begin anew.'}`,
  );
};
