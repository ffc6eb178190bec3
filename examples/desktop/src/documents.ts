import { createHash, randomUUID } from 'node:crypto';
import { readFile, rename, writeFile } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import { problemText, readDefinitionText } from '@gaveta/core';
import type { Gaveta } from '@gaveta/server';

/** How many files are remembered as opened last. */
const MOST_RECENT = 12;

export interface DocumentHead {
  /** Of the report in the store. */
  id: string;
  name: string;
  /** Its file; null for one that was never saved to one, or whose file the window alone knows. */
  path: string | null;
}

/** Written beside and renamed, so that a write that is cut short leaves the old file. */
const write = async (path: string, content: string | Uint8Array): Promise<void> => {
  await writeFile(`${path}.part`, content);
  await rename(`${path}.part`, path);
};

/** Definitions as files: opened into the store, where the designer works on them, and written back. */
export class Documents {
  private readonly paths = new Map<string, string>();

  constructor(
    private readonly gaveta: Gaveta,
    private readonly folder: string,
  ) {}

  private get list(): string {
    return join(this.folder, 'recent.json');
  }

  /** Files that were opened last, the last one first. */
  async recent(): Promise<string[]> {
    const text = await readFile(this.list, 'utf8').catch(() => '[]');
    try {
      const read: unknown = JSON.parse(text);
      return Array.isArray(read) ? read.filter((one) => typeof one === 'string').slice(0, MOST_RECENT) : [];
    } catch {
      return [];
    }
  }

  private async remember(path: string): Promise<void> {
    const others = (await this.recent()).filter((one) => one !== path);
    await write(this.list, JSON.stringify([path, ...others].slice(0, MOST_RECENT)));
  }

  /** Opens a file. Throws, with words, where it is no definition. */
  async openFile(given: string): Promise<DocumentHead> {
    const path = resolve(given);
    const text = await readFile(path, 'utf8').catch((error: Error) => {
      throw new Error(`${path} cannot be read: ${error.message}`);
    });
    const id = `file-${createHash('sha256').update(path).digest('hex').slice(0, 16)}`;
    const head = await this.put(id, text, basename(path));
    this.paths.set(id, path);
    await this.remember(path);
    return { ...head, path };
  }

  /** Opens what the window read itself. */
  async openText(text: string, name: string): Promise<DocumentHead> {
    return { ...(await this.put(`text-${randomUUID()}`, text, name)), path: null };
  }

  private async put(id: string, text: string, file: string): Promise<DocumentHead> {
    const read = readDefinitionText(text);
    if (!read.ok) throw new Error(`${file} is no report: ${read.problems.map(problemText).slice(0, 3).join(' ')}`);
    const { name } = await this.gaveta.reports.put(id, read.report);
    return { id, name, path: null };
  }

  /** The definition as it was saved last, as the text of a file. */
  async text(id: string): Promise<string> {
    const found = await this.gaveta.reports.get(id);
    if (!found) throw new Error('The report is gone.');
    return `${JSON.stringify(found.definition, null, 2)}\n`;
  }

  /** Writes the definition to its file, or to another one that is its file from then on; null where it has none. */
  async save(id: string, as?: string): Promise<string | null> {
    const path = as === undefined ? this.paths.get(id) : resolve(as);
    if (path === undefined) return null;
    await write(path, await this.text(id));
    this.paths.set(id, path);
    await this.remember(path);
    return path;
  }

  /** Writes a file that a report became. */
  async export(path: string, content: Uint8Array): Promise<string> {
    await write(resolve(path), content);
    return resolve(path);
  }
}
