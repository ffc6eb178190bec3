import { Writable } from 'node:stream';
import { Archive } from '@gaveta/output/archive';
import type { RunFile, WriteFile } from './run-file.ts';

/** A file that goes into a zip, by its name there. */
export interface ZipEntry {
  name: string;
  file: RunFile;
}

/** Writes files into a zip, one after another; each is made when its turn comes, and held from the start. */
export const zipOf =
  (given: readonly (() => ZipEntry)[]): WriteFile =>
  async (write, signal, progress) => {
    const holds: (() => void)[] = [];
    const entries = given.map((make) => {
      const entry = make();
      holds.push(entry.file.hold());
      return entry;
    });
    const sink = new Writable({
      write: (chunk: Buffer, _, done) => {
        write(chunk).then(() => done(), done);
      },
    });
    const archive = new Archive(sink);
    try {
      for (const [i, { name, file }] of entries.entries()) {
        progress(i, entries.length);
        const made = await file.whole(signal);
        if (!made) throw signal.reason;
        await archive.stitch(name, [made], signal);
      }
      progress(entries.length, entries.length);
      await archive.end();
    } finally {
      sink.destroy();
      for (const letGo of holds) letGo();
    }
  };
