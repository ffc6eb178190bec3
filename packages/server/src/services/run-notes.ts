import type { Run } from '../runs/runs.ts';
import type { Store } from '../store/store.ts';
import type { ActivityBook } from './activity.ts';
import type { Caller } from './call.ts';
import type { EndedRun, Gate } from './gate.ts';

interface RunNoteParts {
  store: Store;
  gate: Gate;
  book: ActivityBook;
  /** Hears what the host’s code throws when it is told of something, and what cannot be written. */
  log: (error: unknown) => void;
}

/** Whose deed it is: of a reader by a link, that of whoever shared it. */
const deedOf = ({ user, isCode, session: { link } }: Caller): { user: string; isCode: boolean } => ({
  user: link ? link.by.user : user,
  isCode,
});

/** What is noted of runs of stored reports: who ran them with which values, how long they took, and what they became. */
export class RunNotes {
  private readonly telling = new Set<Promise<void>>();

  constructor(private readonly parts: RunNoteParts) {}

  /** That somebody ran one; tells of its end as well. `asked`: null for a definition that is not stored. */
  async started(run: Run, asked: { report: string; parameters: object } | null, caller: Caller): Promise<void> {
    const told = this.tellEnd(run, asked?.report ?? null, caller.user).catch(this.parts.log);
    this.telling.add(told);
    void told.finally(() => this.telling.delete(told));
    if (asked) await this.ran(asked, caller);
  }

  /** That somebody exported one. */
  exported({ request, report }: Run, outputs: readonly string[], caller: Caller): void {
    const { stored: id } = request;
    if (id !== null) this.parts.book.note(deedOf(caller), 'exported', { id, name: report.name }, { outputs });
  }

  /** Resolves when the ends of all runs have been told. */
  async done(): Promise<void> {
    await Promise.all(this.telling);
  }

  private async ran({ report: id, parameters }: { report: string; parameters: object }, caller: Caller): Promise<void> {
    const { store, book } = this.parts;
    const { link } = caller.session;
    const stored = (await store.get(id))?.stored;
    // Values of a link are those of whoever shared it.
    const told = link ? { values: link.values, link: link.id } : { values: parameters };
    if (stored) book.note(deedOf(caller), 'ran', stored, told);
    if (link) await store.links.noteOpened(link.id);
    else if (!caller.isCode) await store.library.noteOpened(caller.user, id);
  }

  private async tellEnd(run: Run, id: string | null, user: string): Promise<void> {
    const { gate, store } = this.parts;
    const { status, pages, rows, milliseconds, problems } = await run.finished();
    if (id !== null && status === 'done') await store.firstPages.noteRun(id, milliseconds);
    await gate.hooks.afterRun?.({
      // By its own name, whatever language it was read in.
      ...{ id, report: run.request.job.report.name, user, status: status as EndedRun['status'] },
      ...{ pages, rows, milliseconds, problems: problems.length },
    });
  }
}
