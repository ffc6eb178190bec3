import { mkdir, open, readFile, rename, rm } from 'node:fs/promises';
import { extname, join } from 'node:path';
import { notDelivered, notSent } from '../outcome.ts';
import type { Channel } from './channel.ts';

/** Files of one name in a folder. */
const MOST_SAME = 1000;

/** The bytes of a file; null where there is none. */
const bytesAt = async (path: string): Promise<Buffer | null> =>
  readFile(path).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });

/** Puts a file under its name, or that with a number where another file has it; one that is there already stays. Gives the name. */
const put = async (folder: string, name: string, bytes: Uint8Array, id: string): Promise<string> => {
  const extension = extname(name);
  const stem = name.slice(0, name.length - extension.length);
  for (let number = 1; number <= MOST_SAME; number++) {
    const called = number === 1 ? name : `${stem} (${number})${extension}`;
    const there = await bytesAt(join(folder, called));
    if (there?.equals(bytes)) return called;
    if (there) continue;
    // It is there once all of it is.
    const part = join(folder, `.${id}.part`);
    const file = await open(part, 'w');
    try {
      await file.writeFile(bytes);
      await file.sync();
    } finally {
      await file.close();
    }
    await rename(part, join(folder, called)).catch(async (error: unknown) => {
      await rm(part, { force: true });
      throw error;
    });
    return called;
  }
  throw notSent(`the folder has ${MOST_SAME} files of this name.`, false);
};

export const folderChannel = (folders: Readonly<Record<string, string>>): Channel<'folder'> => ({
  mayRepeat: true,
  send: async ({ target, files, part }) => {
    const folder = Object.hasOwn(folders, target.name) ? folders[target.name] : undefined;
    if (folder === undefined) throw notDelivered('delivery-target-unknown', { name: target.name, hint: '' });
    try {
      await mkdir(folder, { recursive: true });
      const names: string[] = [];
      for (const { name, bytes } of files) names.push(await put(folder, name, bytes, part.id));
      return names.join(', ');
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      // The path is the server’s own affair.
      if (code !== undefined) throw notSent(`the folder cannot be written to (${code}).`, true);
      throw error;
    }
  },
});
