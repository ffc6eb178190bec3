import {
  type AccessLevel,
  type DeliveryRunState,
  type GivenParameters,
  isHouseThing,
  type Report,
  type Sketch,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { Session } from '../access/session.ts';
import { ApiError } from '../base/api-error.ts';
import { withText } from '../base/problem-text.ts';
import { type EntryKind, entryId } from '../store/entries.ts';
import { type AskedThings, isRun, type SeenFolder, type SeenThing } from '../store/library-store.ts';
import type { Mention } from '../store/mentions.ts';
import { type Definition, ROOT } from '../store/schema.ts';
import type { KeptDefinition, Store, StoredReport } from '../store/store.ts';
import { HOST, rankOf, type Viewer } from '../store/viewer.ts';
import type { Caller } from './call.ts';
import { nestedIn } from './stored-reports.ts';

/** What somebody wants to do with a report. `create` is asked without one. */
export type ReportAction = 'view' | 'run' | 'change' | 'delete' | 'create' | 'publish' | 'manage';

/** What has to be granted for that. */
const NEEDED = {
  view: 'see',
  run: 'see',
  change: 'change',
  delete: 'change',
  create: 'change',
  publish: 'publish',
  manage: 'manage',
} as const satisfies Record<ReportAction, AccessLevel>;

/** Which of its revisions: what readers see, or what was saved last. */
export type WhichRevision = 'published' | 'newest';

/** A report of the library with its definition as a caller sees it. */
export interface SeenReport {
  stored: SeenThing;
  report: Report;
  /** The revision that this is. */
  revision: number;
}

/**
 * Whether a caller may do something with a report, besides the right that their token needs for it. It decides alone: what was
 * granted in the library counts no more. Reports that they may not `view` are not there for them.
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

/** A delivery that went. */
export interface EndedDelivery {
  id: string;
  name: string;
  /** Who it ran as. */
  owner: string;
  /** Id of the report. */
  report: string;
  /** Id of this time that it went. */
  run: string;
  /** How it ended: `partly` where some of it arrived, `nothing` where there were no rows to send. */
  state: DeliveryRunState;
  /** Parts that arrived. */
  sent: number;
  /** Parts that did not. */
  failed: number;
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
  /** Told when a delivery went, whichever way that ended. */
  afterDelivery?(delivery: EndedDelivery): void | Promise<void>;
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

/** Everything that there is. */
const EVERYTHING = {
  ...{ place: 'all', find: '', sort: 'name', descending: false, from: 0, count: 1_000_000 },
} as const satisfies AskedThings;

type UnknownCode = 'unknown-report' | 'unknown-sketch' | 'unknown-recipe';

/** Asks the store and the host’s code for leave: which reports somebody sees, runs and changes. */
export class Gate {
  constructor(
    private readonly store: Store,
    private readonly authorize: Authorize | null,
    readonly hooks: Hooks,
    /** The report that shows what a sketch does. */
    private readonly reportOf: (sketch: Sketch) => Promise<Report>,
  ) {}

  /** Who looks into the library for a caller. */
  viewer({ session, isCode }: Caller): Viewer {
    if (isCode) return HOST;
    if (session.link) {
      const { user, groups, managesAll } = session.link.by;
      return { user, groups, seesAll: managesAll || this.authorize !== null, most: 'see' };
    }
    const managesAll = session.rights.includes('manage');
    return {
      user: session.user,
      groups: session.groups ?? [],
      // The host’s function decides on what there is.
      seesAll: managesAll || this.authorize !== null,
      most: managesAll || session.rights.includes('design') ? 'manage' : 'see',
    };
  }

  /** Whether the host decides by itself what somebody may. */
  get isHosts(): boolean {
    return this.authorize !== null;
  }

  /** The reports and sketches that a caller may see, by name. */
  async list(caller: Caller): Promise<SeenThing[]> {
    return this.things(caller, { ...EVERYTHING, kind: 'run' });
  }

  /** The recipes and connections that a caller may see, as the library tells of them. */
  async entries(caller: Caller): Promise<SeenThing[]> {
    return this.things(caller, { ...EVERYTHING, kind: 'data' });
  }

  /** Whatever a caller sees that names something. */
  async mentioning(caller: Caller, mentions: Mention): Promise<SeenThing[]> {
    return this.things(caller, { ...EVERYTHING, mentions });
  }

  /** Whether something is named in what a caller may change. */
  async isInChangeable(caller: Caller, mentions: Mention): Promise<boolean> {
    for (const thing of await this.mentioning(caller, mentions))
      if (rankOf(thing.may) >= rankOf('change') && (await this.may(caller, 'change', thing))) return true;
    return false;
  }

  private async things(caller: Caller, asked: AskedThings): Promise<SeenThing[]> {
    return this.allowed(caller, (await this.store.library.things(this.viewer(caller), asked)).things);
  }

  /** A recipe or connection that a caller may do something with. Throws as if it were not there when they may not see it. */
  async checkEntry(caller: Caller, action: ReportAction, kind: EntryKind, key: string): Promise<SeenThing> {
    const found = await this.store.library.thing(this.viewer(caller), entryId(kind, key));
    if (!found || !(await this.may(caller, 'view', found)))
      throw kind === 'recipe'
        ? new ApiError('unknown-recipe', { id: key })
        : new ApiError('unknown-connection', { name: key });
    await this.check(caller, action, found);
    return found;
  }

  /** Of some things, those that the host lets a caller see. */
  async allowed<T extends SeenThing>(caller: Caller, things: T[]): Promise<T[]> {
    if (this.authorize === null || caller.isCode) return things;
    const may = await Promise.all(things.map((stored) => this.may(caller, 'view', stored)));
    return things.filter((_, i) => may[i]);
  }

  /** Ids of the reports that a caller may see. */
  async seen(caller: Caller): Promise<ReadonlySet<string>> {
    return new Set((await this.list(caller)).map(({ id }) => id));
  }

  /** A thing that a caller may do something with. Throws as if it were not there when they may not see it. */
  async checkId(
    caller: Caller,
    action: ReportAction,
    id: string,
    code: UnknownCode = 'unknown-report',
  ): Promise<SeenThing> {
    const { link } = caller.session;
    if (link && link.report !== id) throw new ApiError(code, { id });
    const found = await this.store.library.thing(this.viewer(caller), id);
    if (!found || !(await this.may(caller, 'view', found))) throw new ApiError(code, { id });
    await this.check(caller, action, found);
    return found;
  }

  /**
   * A stored report with its definition. Throws as {@link checkId} does. `which`: the published revision where there is one, for
   * those who may change it else the newest.
   */
  async stored(caller: Caller, action: ReportAction, id: string, which: WhichRevision): Promise<SeenReport> {
    const stored = await this.checkId(caller, action, id);
    if (!isRun(stored)) throw new ApiError('unknown-report', { id });
    const { found, revision } = await this.definition(stored, which);
    if (found.sketch) return { stored, report: await this.reportOf(found.sketch), revision };
    if (!found.read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(found.read.problems) });
    return { stored, report: found.read.report, revision };
  }

  /** A stored sketch. Throws as {@link checkId} does. */
  async sketch(
    caller: Caller,
    action: ReportAction,
    id: string,
    which: WhichRevision,
  ): Promise<{ stored: SeenThing; sketch: Sketch; revision: number }> {
    const stored = await this.checkId(caller, action, id, 'unknown-sketch');
    if (stored.kind !== 'sketch') throw new ApiError('unknown-sketch', { id });
    const { found, revision } = await this.definition(stored, which);
    if (!found.sketch) throw new ApiError('wrong-sketch', { id });
    return { stored, sketch: found.sketch, revision };
  }

  /** What stands in a revision of a thing that a caller sees. Throws as {@link checkId} does. */
  async found(caller: Caller, id: string, which: WhichRevision): Promise<KeptDefinition> {
    return (await this.definition(await this.checkId(caller, 'view', id), which)).found;
  }

  /** The definition of a thing as it was saved last, or published where that is all that a caller sees. Throws as {@link checkId} does. */
  async definitionOf(caller: Caller, id: string): Promise<Definition> {
    const { read, sketch, house } = await this.found(caller, id, 'newest');
    if (sketch ?? house) return (sketch ?? house)!;
    if (!read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(read.problems) });
    return read.report;
  }

  /** Reports by their ids as a caller may run them inside others; null for those that they may not, and those that are not there. */
  finder(caller: Caller, which: WhichRevision): (id: string) => Promise<Report | null> {
    return async (id) => {
      const stored = await this.store.library.thing(this.viewer(caller), id);
      if (!stored || !(await this.may(caller, 'view', stored)) || !(await this.may(caller, 'run', stored))) return null;
      const { found } = await this.definition(stored, which);
      return found.read.ok ? found.read.report : null;
    };
  }

  /** The folder that something new goes into. Throws where the caller may put nothing there. */
  async folderFor(caller: Caller, asked: string | null): Promise<SeenFolder | null> {
    const viewer = this.viewer(caller);
    const { library } = this.store;
    const found = await library.folder(viewer, asked ?? ROOT);
    const mayPut = found !== null && rankOf(found.may) >= rankOf('change');
    if (asked !== null && !found) throw new ApiError('unknown-folder', { id: asked });
    if (asked !== null && !mayPut) throw new ApiError('not-allowed-in-folder');
    if (mayPut) return found;
    return viewer.user === null ? null : library.folder(viewer, await library.personal(viewer.user));
  }

  /** A deleted report. Throws as if it had never been there when the caller may not see it, and when they may not delete it. */
  async deleted(caller: Caller, id: string): Promise<SeenThing> {
    const found = await this.store.library.thing(this.viewer(caller), id, true);
    if (!found || !(await this.may(caller, 'view', found))) throw new ApiError('unknown-report', { id });
    await this.check(caller, 'delete', found);
    return found;
  }

  /** Of what uses something, what a caller may see: reports that they may not view are left out. */
  async visible<T extends { kind: 'report' | 'recipe'; id: string }>(
    caller: Caller,
    users: readonly T[],
  ): Promise<T[]> {
    const seen = await this.seen(caller);
    const entries = new Set((await this.entries(caller)).map(({ id }) => id));
    return users.filter(({ kind, id }) => (kind === 'report' ? seen.has(id) : entries.has(entryId('recipe', id))));
  }

  async checkCreate(caller: Caller): Promise<void> {
    if (!(await this.may(caller, 'create', null))) throw new ApiError('not-allowed-here', { action: 'create' });
  }

  /**
   * A definition may nest those stored reports alone that whoever brings it may run. Throws for others that they see; those that they
   * do not see are not there for it.
   */
  async checkNested(caller: Caller, definition: unknown): Promise<void> {
    if (this.authorize === null) return;
    const viewer = this.viewer(caller);
    for (const id of new Set(nestedIn(definition))) {
      const found = await this.store.library.thing(viewer, id);
      if (found && (await this.may(caller, 'view', found))) await this.check(caller, 'run', found);
    }
  }

  /** What the host's code changes of a run before it starts. Throws where it refuses. */
  async beforeRun(run: RunToStart): Promise<RunChanges> {
    return (await this.asked(async () => this.hooks.beforeRun?.(run))) ?? {};
  }

  async beforeSave(save: ReportToSave): Promise<void> {
    await this.asked(async () => this.hooks.beforeSave?.(save));
  }

  /** What the host’s code has against a definition of a report or sketch that is about to be saved. */
  async beforeSaveOf(id: string | null, definition: Definition, caller: Caller): Promise<void> {
    if (isHouseThing(definition)) return;
    if ('sketch' in definition) await this.beforeSaveSketch(id, definition, caller);
    else await this.beforeSave({ id, definition, sketch: null, caller: caller.session });
  }

  async beforeSaveSketch(id: string | null, sketch: Sketch, caller: Caller): Promise<void> {
    // The report is made for nobody else.
    if (!this.hooks.beforeSave) return;
    await this.beforeSave({ id, definition: await this.reportOf(sketch), sketch, caller: caller.session });
  }

  private async definition(
    { id, may, published, revision: newest }: SeenThing,
    which: WhichRevision,
  ): Promise<{ found: KeptDefinition; revision: number }> {
    const mayChange = rankOf(may) >= rankOf('change');
    const revision = mayChange && (which === 'newest' || published === null) ? newest : (published ?? newest);
    const found = revision === newest ? await this.store.get(id) : await this.store.revision(id, revision);
    // Somebody deleted it this moment.
    if (!found) throw new ApiError('unknown-report', { id });
    return { found, revision };
  }

  /** Throws where a caller may not do something with what they see. */
  private async check(caller: Caller, action: ReportAction, stored: SeenThing): Promise<void> {
    const isGranted = rankOf(stored.may) >= rankOf(NEEDED[action]);
    if (!isGranted || !(await this.may(caller, action, stored))) throw new ApiError('not-allowed-here', { action });
  }

  private async may(caller: Caller, action: ReportAction, stored: StoredReport | null): Promise<boolean> {
    if (this.authorize === null || caller.isCode) return true;
    // Whoever reads by a link may what the one who shared it may.
    const { link, ...session } = caller.session;
    const asked = link ? { ...session, user: link.by.user, groups: link.by.groups } : session;
    return (await this.authorize(asked, action, stored)) === true;
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
