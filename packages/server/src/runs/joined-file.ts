import type { ReportThreads } from '../threads/report-threads.ts';
import type { Run } from './run.ts';
import { RunFile } from './run-file.ts';
import type { OutputAsked } from './run-request.ts';

/** The pages of several runs that have ended as one file, each under its title in the outline. Whoever asks for it closes it. */
export const joinedFile = (
  runs: readonly Run[],
  asked: OutputAsked & { title: string },
  threads: ReportThreads,
  seconds: number,
): RunFile =>
  new RunFile((write, signal, progress) => {
    const [first] = runs as [Run];
    const parts = runs.map((run) => ({ title: run.report.name, pages: run.pageCount }));
    const all = parts.reduce((sum, { pages }) => sum + pages, 0);
    let done = 0;
    const page = async (part: number, number: number): Promise<Uint8Array> => {
      const written = await runs[part]!.page(number);
      if (!written) throw new Error(`page ${number} of a run is gone`);
      progress(++done, all);
      return written;
    };
    const picture = async (hash: string): Promise<Uint8Array | null> => {
      for (const run of runs) {
        const found = await run.picture(hash);
        if (found) return found;
      }
      return null;
    };
    const { language } = first.report;
    const task = { ...asked, language, parts, author: first.request.user };
    return threads.file(task, { page, picture, write, attached: async () => null }, signal, seconds);
  });
