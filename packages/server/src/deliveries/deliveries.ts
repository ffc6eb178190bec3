import { createHash } from 'node:crypto';
import { setMaxListeners } from 'node:events';
import { dueOf, nextTimes, type ProblemValue, type problem, problemText } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import type { RecipeParts } from '../services/looking.ts';
import type { RunService } from '../services/runs.ts';
import type { StoredDeliveryRun } from '../store/delivery-records.ts';
import type { NewRun, StoredDelivery } from '../store/delivery-store.ts';
import type { ReportThreads } from '../threads/report-threads.ts';
import type { Channels } from './channels/channel.ts';
import { channelsOf } from './channels/channels.ts';
import { Mailer } from './channels/mail.ts';
import { type Clock, systemClock } from './clock.ts';
import { type EachRows, rowsOver } from './each-rows.ts';
import type { DeliveryOptions } from './options.ts';
import { asNotDelivered } from './outcome.ts';
import { ownerOf } from './owner.ts';
import { ProcessQueue, type WorkQueue } from './queue.ts';
import { DeliveryWorker } from './worker.ts';

export interface DeliveryParts extends RecipeParts {
  service: RunService;
  threads: ReportThreads;
  options: DeliveryOptions;
  wordsFor: (error: unknown) => ProblemValue;
  log: (error: unknown) => void;
  clock?: Clock;
}

/** Milliseconds between two looks for what is due, where others may have made it so. */
const LOOK = 15_000;
/** Milliseconds between two looks for what is old. */
const SWEEP = 6 * 3_600_000;
const DAY = 24 * 3_600_000;
/** Taken from the store at once. */
const MOST_WORK = 200;
/** Rows that a delivery waits for. */
const MOST_FOUND = 10_000;

/** Reports that come by themselves: looks for what is due, and has it done. */
export class Deliveries {
  readonly options: DeliveryOptions;
  readonly mailer: Mailer | null;
  private readonly worker: DeliveryWorker;
  private readonly channels: Channels;
  private readonly queue: WorkQueue;
  private readonly clock: Clock;
  private readonly rows: ReturnType<typeof rowsOver>;
  private readonly stopping = new AbortController();
  private looking: Promise<void> | null = null;
  private isWoken = false;
  private callOff: () => void = () => {};
  private sweptAt = 0;

  constructor(
    private readonly parts: DeliveryParts,
    queue: WorkQueue = new ProcessQueue(),
  ) {
    const { options, clock = systemClock } = parts;
    // All that is under way listens.
    setMaxListeners(0, this.stopping.signal);
    this.options = options;
    this.queue = queue;
    this.clock = clock;
    this.mailer = options.mail ? new Mailer(options.mail) : null;
    this.channels = channelsOf(options, this.mailer);
    this.rows = rowsOver(parts);
    this.worker = new DeliveryWorker({
      ...parts,
      ...{ clock, channels: this.channels },
      checkAddress: (address) => this.mailer?.checkAddress(address),
      ended: (run, delivery) => this.ended(run, delivery),
    });
  }

  /** Begins to look for what is due. */
  async start(): Promise<void> {
    const { store } = this.parts;
    // Nobody else is at work on an embedded store: what was held is what broke off.
    if (!store.isShared) await store.deliveryRuns.letGoAll();
    await this.queue.start((work) => this.worker.do(work, this.stopping.signal, () => this.wake()));
    this.wake();
  }

  async close(): Promise<void> {
    this.stopping.abort(new Error('Gaveta is being closed.'));
    this.callOff();
    await this.looking;
    await this.queue.close();
    for (const channel of Object.values(this.channels)) channel.close?.();
  }

  /** When it goes next, by the calendar or to look for rows; null: not by itself. In milliseconds since 1970. */
  nextOf({ when }: StoredDelivery['definition'], after = this.clock.now()): number | null {
    if (when.kind === 'rows') return after;
    return nextTimes(when, after, 1, this.options.daysOff)[0] ?? null;
  }

  /** Lets a delivery go now. */
  async runNow(delivery: StoredDelivery, key: string): Promise<string> {
    const { store } = this.parts;
    const run = await store.deliveries.addRun(delivery, {
      key: `by-hand ${key}`,
      why: 'by-hand',
      dueAt: this.clock.now(),
    });
    this.wake();
    if (run === null) throw new ApiError('unexpected', { reference: '' });
    return run;
  }

  /** Lets deliveries go that wait for an event, each once for a key. Gives how many went. */
  async event(name: string, key: string): Promise<number> {
    const { store } = this.parts;
    let count = 0;
    for (const delivery of await store.deliveries.list({})) {
      const { when } = delivery.definition;
      if (delivery.state !== 'on' || when.kind !== 'event' || when.name !== name) continue;
      const run = { key: `event ${key}`, why: 'event' as const, dueAt: this.clock.now() };
      if ((await store.deliveries.addRun(delivery, run)) !== null) count++;
    }
    this.wake();
    return count;
  }

  /** Looks for what is to be done, soon. */
  wake(): void {
    if (this.stopping.signal.aborted) return;
    this.isWoken = true;
    this.looking ??= this.look()
      .catch(this.parts.log)
      .finally(() => {
        this.looking = null;
        if (this.isWoken) this.wake();
      });
  }

  /** Resolves when nothing that is due now is left to look for; for tests of the time. */
  async looked(): Promise<void> {
    while (this.looking) await this.looking;
  }

  private async look(): Promise<void> {
    const { store } = this.parts;
    this.isWoken = false;
    this.callOff();
    const now = this.clock.now();
    for (const delivery of await store.deliveries.due(now)) {
      if (this.stopping.signal.aborted) return;
      await this.due(delivery, now);
    }
    for (const work of await store.deliveryRuns.waiting(now, MOST_WORK)) await this.queue.put(work);
    if (now - this.sweptAt > SWEEP) {
      this.sweptAt = now;
      const { keepFilesDays = 30, keepHistoryDays = 365 } = this.options;
      await store.deliveryRuns.sweep(now - keepFilesDays * DAY, now - keepHistoryDays * DAY);
    }
    const next = [await store.deliveries.nextDue(), await store.deliveryRuns.nextTry()].filter((at) => at !== null);
    // What is being done wakes when it is done; others may add to a shared store at any time.
    const latest = store.isShared ? now + LOOK : Number.POSITIVE_INFINITY;
    const at = Math.min(latest, ...next.filter((moment) => moment > now));
    if (Number.isFinite(at) && !this.stopping.signal.aborted) this.callOff = this.clock.at(at, () => this.wake());
  }

  /** Notes the runs that are due of a delivery, and when it goes next. */
  private async due(delivery: StoredDelivery, now: number): Promise<void> {
    const { store } = this.parts;
    const { when } = delivery.definition;
    if (when.kind === 'rows') {
      await this.lookForRows(delivery, now);
      return;
    }
    const { due, next } = dueOf(when, delivery.nextAt!, now, this.options.daysOff);
    const runs = due.map(
      (dueAt): NewRun => ({ key: `calendar ${new Date(dueAt).toISOString()}`, why: 'calendar', dueAt }),
    );
    await store.deliveries.advance(delivery, { nextAt: next }, runs);
  }

  /** Lets a delivery go where there are rows that were not there before. */
  private async lookForRows(delivery: StoredDelivery, now: number): Promise<void> {
    const { store, gate, wordsFor } = this.parts;
    const { when } = delivery.definition;
    if (when.kind !== 'rows') return;
    const nextAt = now + when.minutes * 60_000;
    const run = { key: `rows ${new Date(now).toISOString()}`, why: 'rows' as const, dueAt: now };
    try {
      const { caller, report } = await ownerOf(delivery, gate, this.options.people ?? null);
      const found = digestsOf(await this.rows.rowsOf(caller, when.steps, report, MOST_FOUND, this.stopping.signal));
      const before = new Set(delivery.found ?? []);
      const isNew =
        when.again === 'first' ? before.size === 0 && found.length > 0 : found.some((one) => !before.has(one));
      await store.deliveries.advance(delivery, { nextAt, found }, isNew ? [run] : []);
    } catch (error) {
      if (this.stopping.signal.aborted) return;
      const failed = asNotDelivered(error, wordsFor);
      if (!(await store.deliveries.advance(delivery, { nextAt }, []))) return;
      const [last] = await store.deliveryRuns.lastOf([delivery.id]);
      // What fails each time is told once.
      if (last?.state === 'failed' && last.said?.code === failed.said.code && !failed.stops) return;
      const id = await store.deliveries.addRun(delivery, run);
      if (id !== null) await store.deliveryRuns.fail({ kind: 'run', id }, failed.said);
      if (failed.stops) await store.deliveries.setState(delivery.id, 'stopped', failed.said, null);
      const ended = id === null ? null : await store.deliveryRuns.get(id);
      if (ended) await this.ended(ended, delivery);
    }
  }

  /** Tells of a run that is over: the record, and its owner where not all of it arrived. */
  private async ended(run: StoredDeliveryRun, delivery: StoredDelivery): Promise<void> {
    const { store, book, gate, log } = this.parts;
    const counts = (await store.deliveryRuns.countsOf([run.id])).get(run.id);
    const { sent = 0, failed = 0 } = counts ?? {};
    const thing = (await store.get(delivery.report))?.stored ?? null;
    const caller = { user: delivery.owner, isCode: false };
    book.note(caller, 'delivered', thing, { delivery: delivery.name, state: run.state, sent, failed });
    try {
      await gate.hooks.afterDelivery?.({
        ...{ id: delivery.id, name: delivery.name, owner: delivery.owner, report: delivery.report },
        ...{ run: run.id, state: run.state, sent, failed },
      });
    } catch (error) {
      log(error);
    }
    if (run.state === 'failed' || run.state === 'partly') await this.tellOwner(run, delivery, { sent, failed });
  }

  private async tellOwner(
    run: StoredDeliveryRun,
    { id, owner, name }: StoredDelivery,
    { sent, failed }: { sent: number; failed: number },
  ): Promise<void> {
    const { mailer, options, parts } = this;
    if (!mailer || !options.people) return;
    try {
      const mail = (await options.people.person(owner))?.mail;
      if (mail === undefined) return;
      const said = run.said ?? (await this.firstFailure(run.id));
      const stopped = (await parts.store.deliveries.get(id))?.state === 'stopped';
      const lines = [
        `“${name}” was due on ${new Date(run.dueAt).toUTCString()}, and ${sent > 0 ? 'not all of it arrived' : 'did not arrive'}.`,
        said ? problemText(said) : '',
        failed + sent > 0 ? `Sent: ${sent}. Failed: ${failed}.` : '',
        stopped
          ? 'The delivery was stopped, and goes on when you let it.'
          : 'Open the delivery to see what became of each part, and to try again.',
      ];
      await mailer.send(
        {
          ...{ id: `${run.id}-${Date.parse(run.endedAt ?? run.dueAt)}`, to: [mail], files: [] },
          ...{ subject: `Not delivered: ${name}`.replace(/\s+/gu, ' '), words: lines.filter(Boolean).join('\n\n') },
        },
        this.stopping.signal,
      );
    } catch (error) {
      if (!this.stopping.signal.aborted) parts.log(error);
    }
  }

  private async firstFailure(run: string): Promise<ReturnType<typeof problem> | null> {
    const { deliveryRuns } = this.parts.store;
    const contents = await deliveryRuns.contents(run, 0, 200);
    const failed = contents.find(({ said }) => said)?.said;
    return failed ?? (await deliveryRuns.parts(contents.map(({ id }) => id))).find(({ said }) => said)?.said ?? null;
  }
}

/** What rows are known again by. */
const digestsOf = ({ rows }: EachRows): string[] => [
  ...new Set(rows.map((row) => createHash('sha256').update(JSON.stringify(row)).digest('base64url').slice(0, 22))),
];
