import { createHash } from 'node:crypto';
import { houseSample } from '@gaveta/core/internal';
import type { Equipment } from '@gaveta/output/equipment';
import { ApiError } from '../base/api-error.ts';
import { type Limits, runLimits } from '../base/limits.ts';
import type { Run } from '../runs/runs.ts';
import { entryOf } from '../store/entries.ts';
import { isRun, type SeenThing } from '../store/library-store.ts';
import type { Store } from '../store/store.ts';
import { rankOf } from '../store/viewer.ts';
import type { ReportThreads } from '../threads/report-threads.ts';
import type { Caller } from './call.ts';
import type { Gate, WhichRevision } from './gate.ts';
import type { RunService } from './runs.ts';

export interface FirstPageParts {
  store: Store;
  service: RunService;
  gate: Gate;
  equipment: Equipment;
  threads: ReportThreads;
  limits: Limits;
  /** Whether the host wants any. */
  isOn: boolean;
  log: (error: unknown) => void;
}

/** Milliseconds after which a picture is made anew when somebody looks at it. */
const FRESH = 24 * 3600 * 1000;
/** Pixels for each inch: a page of A4 is some 350 wide. */
const DPI = 42;
/** Pictures that wait to be made; those that waited longest are forgotten, and asked for again by whoever still looks. */
const MOST_WAITING = 200;
/** Milliseconds within which things are asked for together, as by one screen. */
const TOGETHER = 3000;
/** Milliseconds for the first page to come, and for a run to end once it has. */
const PATIENCE = 15_000;
const LITTLE_MORE = 1500;

interface Wanted {
  key: string;
  thing: SeenThing;
  caller: Caller;
  /** With which others. */
  round: number;
}

/**
 * Small pictures of first pages, made in the background, one after the other, out of real rows. Each person has their own: what they
 * may not see is on none of them.
 */
export class FirstPages {
  /** By thing and person, in the order in which they were asked for. */
  private readonly waiting = new Map<string, Wanted>();
  private working: Promise<void> | null = null;
  private readonly abort = new AbortController();

  constructor(private readonly parts: FirstPageParts) {}

  /** The picture that there is, and whether another one is being made. */
  async of(thing: SeenThing, caller: Caller): Promise<{ state: 'ready' | 'making' | 'none'; png: string | null }> {
    if (!this.parts.isOn || entryOf(thing.id)) return { state: 'none', png: null };
    const seenBy = digestOf(caller);
    const found = await this.parts.store.firstPages.get(thing.id, seenBy);
    const png = found?.picture ? Buffer.from(found.picture).toString('base64') : null;
    const isFresh = found !== null && found.revision === shownOf(thing) && Date.now() - found.madeAt < FRESH;
    if (isFresh) return { state: png === null ? 'none' : 'ready', png };
    this.make(thing, caller);
    return { state: 'making', png };
  }

  /** Makes the picture of what somebody has just saved. */
  makeOf(id: string, caller: Caller): void {
    const { isOn, gate, log } = this.parts;
    if (isOn) gate.checkId(caller, 'view', id).then((thing) => this.make(thing, caller), log);
  }

  /** Makes the picture of a thing as soon as nothing else is being made. */
  make(thing: SeenThing, caller: Caller): void {
    if (!this.parts.isOn || this.abort.signal.aborted) return;
    const key = `${thing.id} ${digestOf(caller)}`;
    this.waiting.delete(key);
    this.waiting.set(key, { key, thing, caller, round: Math.floor(Date.now() / TOGETHER) });
    const [oldest] = this.waiting.keys();
    if (this.waiting.size > MOST_WAITING && oldest !== undefined) this.waiting.delete(oldest);
    this.working ??= this.work().finally(() => {
      this.working = null;
    });
  }

  async close(): Promise<void> {
    this.abort.abort();
    this.waiting.clear();
    await this.working;
  }

  private async work(): Promise<void> {
    for (;;) {
      const next = this.next();
      if (!next || this.abort.signal.aborted) return;
      this.waiting.delete(next.key);
      try {
        const picture = await this.picture(next.thing, next.caller);
        const { id } = next.thing;
        await this.parts.store.firstPages.put(id, digestOf(next.caller), { revision: shownOf(next.thing), picture });
      } catch (error) {
        if (!this.abort.signal.aborted) this.parts.log(error);
      }
    }
  }

  /** The first of those that were asked for last: what somebody looks at now comes before what nobody waits for any more. */
  private next(): Wanted | null {
    let found: Wanted | null = null;
    for (const one of this.waiting.values()) if (!found || one.round > found.round) found = one;
    return found;
  }

  /** Null: there is none to be had, as it asks for values, or its rows cannot be read. */
  private async picture(thing: SeenThing, caller: Caller): Promise<Uint8Array | null> {
    const { id, may } = thing;
    const { service, equipment, threads, limits } = this.parts;
    const output = equipment.output('png');
    if (!output) return null;
    // One of its own: what listens to it goes with it.
    const signal = AbortSignal.any([this.abort.signal]);
    let run: Run;
    try {
      const which: WhichRevision = rankOf(may) >= rankOf('change') ? 'newest' : 'published';
      const { house } = isRun(thing) ? { house: null } : await this.parts.gate.found(caller, id, which);
      if (!isRun(thing) && !house) return null;
      const what = house ? { definition: houseSample(house) } : { report: id, revision: which };
      run = await service.startUnseen(what, caller, signal);
    } catch (error) {
      if (error instanceof ApiError) return null;
      throw error;
    }
    const letGo = run.hold();
    try {
      await firstPageOf(run, signal);
      if (run.pageCount === 0) return null;
      const options = { from: 1, to: 1, dpi: DPI };
      const file = await run.file({ output, options, attached: null }, threads, runLimits(limits)).whole(signal);
      return file ? await file.read(0, file.size) : null;
    } catch (error) {
      // Threads say what was too much; that is no picture.
      if (signal.aborted) throw error;
      return null;
    } finally {
      letGo();
    }
  }
}

/** Resolves when a run has a first page and has ended, or had a moment to; ends it then. */
const firstPageOf = async (run: Run, signal: AbortSignal): Promise<void> => {
  const changed = (milliseconds: number, until: () => boolean): Promise<void> =>
    new Promise((resolve) => {
      const look = (): void => {
        if (until() || signal.aborted) done();
      };
      const done = (): void => {
        clearTimeout(timer);
        run.changes.off('change', look);
        signal.removeEventListener('abort', done);
        resolve();
      };
      const timer = setTimeout(done, milliseconds);
      run.changes.on('change', look);
      signal.addEventListener('abort', done, { once: true });
      look();
    });
  await changed(PATIENCE, () => run.hasEnded || run.pageCount > 0);
  if (!run.hasEnded) await changed(LITTLE_MORE, () => run.hasEnded);
  if (run.hasEnded) return;
  run.cancel();
  await run.finished();
};

/** The revision that somebody sees in the library. */
const shownOf = ({ may, revision, published }: SeenThing): number =>
  rankOf(may) >= rankOf('change') ? revision : (published ?? revision);

/** Who looks, with all that decides on what they see. */
const digestOf = ({ session: { user, groups = [], claims, parameters = {} } }: Caller): string => {
  const sorted = (record: object): [string, unknown][] => Object.entries(record).sort(([a], [b]) => (a < b ? -1 : 1));
  const parts = [user, [...groups].sort(), sorted(claims), sorted(parameters)];
  return createHash('sha256').update(JSON.stringify(parts)).digest('base64url');
};
