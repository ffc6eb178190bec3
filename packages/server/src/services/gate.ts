import type { GivenParameters, Report, Sketch } from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { Session } from '../access/session.ts';
import { ApiError } from '../base/api-error.ts';
import type { Store, StoredReport } from '../store/store.ts';
import type { Caller } from './call.ts';
import { nestedIn, storedReport } from './stored-reports.ts';

/** What somebody wants to do with a report. `create` is asked without one. */
export type ReportAction = 'view' | 'run' | 'change' | 'delete' | 'create';

/**
 * Whether a caller may do something with a report, besides the right that their token needs for it. Reports that they may not `view`
 * are not there for them.
 */
export type Authorize = (
  caller: Session,
  action: ReportAction,
  report: StoredReport | null,
) => boolean | Promise<boolean>;

/** A run that is about to start. */
export interface RunToStart {
  /** Id of a stored report; null for a definition. */
  id: string | null;
  /** Its definition; of a sketch, that of its report. */
  report: Report;
  /** Who runs it, with their claims. */
  caller: Session;
  /** Values that were given. */
  parameters: GivenParameters;
  /** Code of the host’s own started it. */
  isByCode: boolean;
}

/** What a host changes of it: claims are put over those of the caller, and values over those given. */
export interface RunChanges {
  /** Put over those of the caller. */
  claims?: Claims;
  /** Put over the values that were given. */
  parameters?: GivenParameters;
  /** Values of parameters that only the host sets, put over those of the token. */
  hostParameters?: NonNullable<Session['parameters']>;
}

/** A run that has ended. */
export interface EndedRun {
  /** Id of a stored report; null for a definition. */
  id: string | null;
  /** Its name. */
  report: string;
  /** Who ran it. */
  user: string;
  /** How it ended. */
  status: 'done' | 'failed' | 'cancelled';
  /** Laid out. */
  pages: number;
  /** Read. */
  rows: number;
  /** From its start on. */
  milliseconds: number;
  /** Of those, errors as well as warnings. */
  problems: number;
}

/** A report or sketch that is about to be saved, or created where `id` is null. */
export interface ReportToSave {
  id: string | null;
  /** Of a sketch, that of its report. */
  definition: Report;
  /** The sketch that is saved; null where it is a report. */
  sketch: Sketch | null;
  caller: Session;
}

/** Moments at which code of the host’s own is asked or told. To refuse, throw `Refused` with words for the person. */
export interface Hooks {
  /** Asked before a run starts; may change whose rows it reads and with which values, or refuse it. */
  beforeRun?(run: RunToStart): RunChanges | undefined | Promise<RunChanges | undefined>;
  /** Told when a run has ended, whichever way. */
  afterRun?(run: EndedRun): void | Promise<void>;
  /** Asked before a report is created or a revision saved; may refuse it. */
  beforeSave?(save: ReportToSave): void | Promise<void>;
}

/** Thrown by a hook: what was asked for is not done, and the person reads why. */
export class Refused extends Error {
  constructor(words: string) {
    super(words);
    this.name = 'Refused';
  }
}

/** Asks the host’s code for leave: which reports somebody sees, runs and changes. */
export class Gate {
  constructor(
    private readonly store: Store,
    private readonly authorize: Authorize | null,
    readonly hooks: Hooks,
    /** The report that shows what a sketch does. */
    private readonly reportOf: (sketch: Sketch) => Promise<Report>,
  ) {}

  /** The reports that a caller may see. */
  async list(caller: Caller): Promise<StoredReport[]> {
    const all = await this.store.list();
    if (this.authorize === null) return all;
    const may = await Promise.all(all.map((stored) => this.may(caller, 'view', stored)));
    return all.filter((_, i) => may[i]);
  }

  /** Ids of the reports that a caller may see. */
  async seen(caller: Caller): Promise<ReadonlySet<string>> {
    return new Set((await this.list(caller)).map(({ id }) => id));
  }

  /** A stored report. Throws as if it were not there when the caller may not see it, and when they may not do that with it. */
  async stored(caller: Caller, action: ReportAction, id: string) {
    const found = await this.store.get(id);
    if (!found) throw new ApiError('unknown-report', { id });
    await this.check(caller, action, found.stored);
    if (found.sketch) return { stored: found.stored, report: await this.reportOf(found.sketch) };
    return storedReport(this.store, id);
  }

  /** A stored sketch. Throws as {@link stored} does. */
  async sketch(caller: Caller, action: ReportAction, id: string): Promise<{ stored: StoredReport; sketch: Sketch }> {
    const found = await this.store.get(id);
    if (found?.stored.kind !== 'sketch') throw new ApiError('unknown-sketch', { id });
    if (!(await this.may(caller, 'view', found.stored))) throw new ApiError('unknown-sketch', { id });
    await this.check(caller, action, found.stored);
    if (!found.sketch) throw new ApiError('wrong-sketch', { id });
    return { stored: found.stored, sketch: found.sketch };
  }

  /** Throws as {@link stored} does, without reading the definition. */
  async checkId(caller: Caller, action: ReportAction, id: string): Promise<StoredReport> {
    const found = await this.store.get(id);
    if (!found) throw new ApiError('unknown-report', { id });
    await this.check(caller, action, found.stored);
    return found.stored;
  }

  /** A deleted report. Throws as if it had never been there when the caller may not see it, and when they may not delete it. */
  async deleted(caller: Caller, id: string): Promise<StoredReport> {
    const stored = await this.store.deleted(id);
    if (!stored) throw new ApiError('unknown-report', { id });
    await this.check(caller, 'delete', stored);
    return stored;
  }

  /** Of what uses something, what a caller may see: reports that they may not view are left out. */
  async visible<T extends { kind: 'report' | 'recipe'; id: string }>(
    caller: Caller,
    users: readonly T[],
  ): Promise<T[]> {
    const seen = await this.seen(caller);
    return users.filter(({ kind, id }) => kind !== 'report' || seen.has(id));
  }

  async checkCreate(caller: Caller): Promise<void> {
    if (!(await this.may(caller, 'create', null))) throw new ApiError('not-allowed-here', { action: 'create' });
  }

  /** A definition may nest those stored reports alone that whoever brings it may run. Throws otherwise. */
  async checkNested(caller: Caller, definition: unknown): Promise<void> {
    if (this.authorize === null) return;
    for (const id of new Set(nestedIn(definition))) {
      const found = await this.store.get(id);
      if (found) await this.check(caller, 'run', found.stored);
    }
  }

  /** What the host's code changes of a run before it starts. Throws where it refuses. */
  async beforeRun(run: RunToStart): Promise<RunChanges> {
    return (await this.asked(async () => this.hooks.beforeRun?.(run))) ?? {};
  }

  async beforeSave(save: ReportToSave): Promise<void> {
    await this.asked(async () => this.hooks.beforeSave?.(save));
  }

  async beforeSaveSketch(id: string | null, sketch: Sketch, caller: Caller): Promise<void> {
    // The report is made for nobody else.
    if (!this.hooks.beforeSave) return;
    await this.beforeSave({ id, definition: await this.reportOf(sketch), sketch, caller: caller.session });
  }

  private async check(caller: Caller, action: ReportAction, stored: StoredReport): Promise<void> {
    if (!(await this.may(caller, 'view', stored))) throw new ApiError('unknown-report', { id: stored.id });
    if (action !== 'view' && !(await this.may(caller, action, stored)))
      throw new ApiError('not-allowed-here', { action });
  }

  private async may(caller: Caller, action: ReportAction, stored: StoredReport | null): Promise<boolean> {
    if (this.authorize === null || caller.isCode) return true;
    return (await this.authorize(caller.session, action, stored)) === true;
  }

  private async asked<T>(ask: () => Promise<T>): Promise<T> {
    try {
      return await ask();
    } catch (error) {
      if (error instanceof Refused) throw new ApiError('refused', { detail: error.message });
      throw error;
    }
  }
}
