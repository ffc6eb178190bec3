import pLimit from 'p-limit';
import { Caller } from '../services/call.ts';
import type { Item, StoredContent, StoredDeliveryRun, StoredPart, Work } from '../store/delivery-records.ts';
import type { StoredDelivery } from '../store/delivery-store.ts';
import type { Channel } from './channels/channel.ts';
import { rowsOver } from './each-rows.ts';
import { MadeFiles } from './made-files.ts';
import { type Making, makeContent } from './make-content.ts';
import { makeTogether, mayBeTogether } from './make-together.ts';
import { WAITS } from './options.ts';
import { asNotDelivered, type NotDelivered, notDelivered, notSent } from './outcome.ts';
import { ownerOf } from './owner.ts';
import { plannedContents } from './plan-run.ts';
import type { WorkerParts } from './worker-parts.ts';

/** Milliseconds past the longest run for which something is held. */
const HOLD = 10 * 60_000;
/** Done at once by one process, whatever it is. */
const AT_ONCE = 4;
/** Contents that are held to be made over rows that are read together. */
const MOST_TOGETHER = 20_000;
/** Parts that are held to be sent. */
const MOST_SENT = 50;
/** Milliseconds after which no more of a run is begun at a time, so that others get their turn and what is cancelled stops soon. */
const LONGEST = 2000;

/** Something that is held, and how often it was. */
type Held = Item & { tries: number };

/** Does what waits: plans a run, makes its contents, sends its parts. What it does is noted in the store, so that another one can go on. */
export class DeliveryWorker {
  private readonly rows: ReturnType<typeof rowsOver>;
  /** Runs whose contents were tried together. */
  private readonly apart = new Set<string>();
  private readonly files = new MadeFiles();
  private readonly limited = pLimit(AT_ONCE);

  constructor(private readonly parts: WorkerParts) {
    this.rows = rowsOver(parts);
  }

  /** Does some of what is to be done; never rejects. `woken` is called when more is to be done. */
  async do({ kind, run }: Work, signal: AbortSignal, woken: () => void): Promise<void> {
    try {
      await this[kind](run, signal, woken);
      if (!signal.aborted) await this.finish(run);
    } catch (error) {
      this.parts.log(error);
    } finally {
      woken();
    }
  }

  /** Until when something is held from now on. */
  private until(now: number): number {
    return now + this.parts.limits.maxSeconds * 1000 + HOLD;
  }

  /** Does something with what is held; null: it was not done, which is noted, or all ends and it is let go. */
  private async attempt<T>(held: readonly Held[], signal: AbortSignal, work: () => Promise<T>): Promise<T | null> {
    try {
      signal.throwIfAborted();
      return await work();
    } catch (error) {
      if (signal.aborted) await this.parts.store.deliveryRuns.letGo(held);
      else {
        const said = asNotDelivered(error, this.parts.wordsFor);
        for (const one of held) await this.failed(one, said);
        if (said.stops && held[0]) await this.stop(held[0], said);
      }
      return null;
    }
  }

  /** Does something with each, a few at once. All of it is over when this settles. */
  private async each<T>(all: readonly T[], work: (one: T) => Promise<void>): Promise<void> {
    const settled = await Promise.allSettled(all.map((one) => this.limited(work, one)));
    for (const one of settled) if (one.status === 'rejected') throw one.reason;
  }

  /** What a run belongs to. */
  private async runOf(id: string): Promise<{ run: StoredDeliveryRun; delivery: StoredDelivery }> {
    const { deliveryRuns, deliveries } = this.parts.store;
    const run = await deliveryRuns.get(id);
    const found = run && (await deliveries.get(run.delivery));
    if (!run || !found) throw notDelivered('delivery-report-gone');
    // It goes as it was when it was due.
    return { run, delivery: { ...found, definition: run.definition, report: run.definition.report } };
  }

  private owner(delivery: StoredDelivery): ReturnType<typeof ownerOf> {
    return ownerOf(delivery, this.parts.gate, this.parts.options.people ?? null);
  }

  private async plan(id: string, signal: AbortSignal): Promise<void> {
    const { store, options, clock, checkAddress } = this.parts;
    const now = clock.now();
    if (!(await store.deliveryRuns.holdRun(id, now, this.until(now)))) return;
    const tries = (await store.deliveryRuns.get(id))?.tries ?? 1;
    await this.attempt([{ kind: 'run', id, tries }], signal, async () => {
      const { run, delivery } = await this.runOf(id);
      const { caller, report } = await this.owner(delivery);
      const contents = await plannedContents({
        ...{ delivery: run.definition, report, dueAt: Date.parse(run.dueAt), owner: caller, checkAddress },
        people: options.people ?? null,
        rows: (steps, most) => this.rows.rowsOf(caller, steps, report, most, signal),
      });
      await store.deliveryRuns.plan(id, contents, clock.now());
    });
    const run = await store.deliveryRuns.get(id);
    if (run?.state === 'failed') await this.ended(run);
  }

  /** Makes contents that wait: all at once where their rows can be read together, or a few by themselves. */
  private async make(id: string, signal: AbortSignal, woken: () => void): Promise<void> {
    const { store, clock } = this.parts;
    const { deliveryRuns } = store;
    const run = await deliveryRuns.get(id);
    if (!run) return;
    let together = !this.apart.has(id) && mayBeTogether(run.definition, this.parts);
    this.apart.add(id);
    const begun = performance.now();
    while (!signal.aborted && performance.now() - begun < LONGEST) {
      const now = clock.now();
      const contents = await deliveryRuns.holdContents(id, together ? MOST_TOGETHER : AT_ONCE, now, this.until(now));
      if (contents.length === 0) return;
      const held = contents.map(heldContent);
      const found = await this.attempt(held, signal, () => this.runOf(id));
      if (!found) return;
      if (together) {
        together = false;
        const left = await this.attempt(held, signal, async () => {
          const making = await this.making(found, null);
          return makeTogether(contents, making, { ...this.parts, files: this.files }, signal, woken);
        });
        await deliveryRuns.letGo((left ?? []).map(heldContent));
      } else {
        await this.each(contents, async (content) => {
          await this.attempt([heldContent(content)], signal, () => this.makeOne(content, found, signal));
        });
        woken();
      }
    }
  }

  private async makeOne(
    content: StoredContent,
    found: { run: StoredDeliveryRun; delivery: StoredDelivery },
    signal: AbortSignal,
  ): Promise<void> {
    const { store, service, clock } = this.parts;
    const { run, delivery } = found;
    const { id } = content;
    const making = await this.making(found, content);
    const made = await makeContent(service, content, making, signal);
    if ('nothing' in made) {
      await store.deliveryRuns.nothing(id, made.nothing);
      return;
    }
    const { files, pages, rows, messages, kept } = made;
    if (kept) {
      const { definition } = run;
      const principals = definition.to.flatMap((target) => (target.kind === 'kept' ? target.for : []));
      const own = content.person === null ? [] : [`user:${content.person}`];
      await store.keptResults.create(
        {
          ...{ id, delivery: delivery.id, report: definition.report, owner: delivery.owner, values: content.values },
          name: content.label === '' ? making.report.name : `${making.report.name} – ${content.label}`,
          ...{ principals: [...new Set([...principals, ...own])], pages, rows, run: kept.run },
        },
        { pages: kept.pages, pictures: kept.pictures, files },
      );
    }
    await store.deliveryRuns.made([{ content: id, files, pages, rows, messages }], clock.now());
    this.files.keep(id, files);
  }

  /** What contents of a run are made with; null: for those that are made together. */
  private async making(
    { run, delivery }: { run: StoredDeliveryRun; delivery: StoredDelivery },
    content: StoredContent | null,
  ): Promise<Making> {
    const { people } = this.parts.options;
    const { caller: owner, report } = await this.owner(delivery);
    const { each } = run.definition;
    let caller = owner;
    if (each?.rowsOf === 'person') {
      const name = content?.person ?? '';
      const session = (await people?.person(name))?.session;
      if (!session) throw notDelivered('delivery-person-unknown', { name });
      // The report is the owner’s to send; the rows are those that the person may see.
      caller = new Caller({ ...owner.session, claims: session.claims, parameters: session.parameters });
    }
    const fields = each ? (await this.rows.fieldsOf(each.steps)).fields : [];
    return {
      ...{ delivery: run.definition, report, caller, owner: delivery.owner, fields },
      dueAt: Date.parse(run.dueAt),
    };
  }

  /** Sends parts that wait. */
  private async send(id: string, signal: AbortSignal): Promise<void> {
    const { store, clock, channels } = this.parts;
    const { deliveryRuns } = store;
    const begun = performance.now();
    const isLate = (): boolean => signal.aborted || performance.now() - begun > LONGEST;
    while (!isLate()) {
      const now = clock.now();
      const parts = await deliveryRuns.holdParts(id, MOST_SENT, now, this.until(now));
      if (parts.length === 0) return;
      const found = await this.attempt(parts.map(heldPart), signal, () => this.runOf(id));
      if (!found) return;
      const late: StoredPart[] = [];
      // What a channel takes twice without harm is noted together.
      const arrived: { id: string; receipt: string }[] = [];
      try {
        await this.each(parts, async (part) => {
          if (isLate()) {
            late.push(part);
            return;
          }
          await this.attempt([heldPart(part)], signal, async () => {
            const sent = { id: part.id, receipt: await this.sendOne(part, found, signal) };
            if (channels[part.kind].mayRepeat) arrived.push(sent);
            else await deliveryRuns.sent([sent], clock.now());
          });
        });
      } finally {
        await deliveryRuns.sent(arrived, clock.now());
        await deliveryRuns.letGo(late.map(heldPart));
      }
    }
  }

  private async sendOne(
    part: StoredPart,
    { run, delivery }: { run: StoredDeliveryRun; delivery: StoredDelivery },
    signal: AbortSignal,
  ): Promise<string> {
    const { store, channels } = this.parts;
    const target = run.definition.to[part.target];
    if (target?.kind !== part.kind) throw notSent('the delivery has no such target any more.', false);
    const files =
      part.kind === 'kept' ? [] : (this.files.of(part.content) ?? (await store.deliveryRuns.files(part.content)));
    const channel = channels[part.kind] as Channel;
    return channel.send({ part, target, files, name: run.definition.name, owner: delivery.owner }, signal);
  }

  /** Has it tried again after a while, or not any more. */
  private async failed({ tries, ...item }: Held, error: NotDelivered): Promise<void> {
    const { store, options, clock } = this.parts;
    const { waits = WAITS } = options;
    const wait = error.isTemporary ? waits[tries - 1] : undefined;
    if (wait === undefined) await store.deliveryRuns.fail(item, error.said);
    else await store.deliveryRuns.retry(item, error.said, clock.now() + wait * 1000);
  }

  private async stop({ kind, id }: Item, { said }: NotDelivered): Promise<void> {
    const { deliveryRuns, deliveries } = this.parts.store;
    const own =
      kind === 'content' ? await deliveryRuns.content(id) : kind === 'part' ? await deliveryRuns.part(id) : null;
    const run = await deliveryRuns.get(own?.run ?? id);
    if (run) await deliveries.setState(run.delivery, 'stopped', said, null);
  }

  /** Ends a run when nothing of it is left. */
  private async finish(id: string): Promise<void> {
    const { store, clock } = this.parts;
    if (!(await store.deliveryRuns.finish(id, clock.now()))) return;
    const run = await store.deliveryRuns.get(id);
    if (run) await this.ended(run);
  }

  private async ended(run: StoredDeliveryRun): Promise<void> {
    this.apart.delete(run.id);
    const delivery = await this.parts.store.deliveries.get(run.delivery);
    if (delivery) await this.parts.ended(run, delivery);
  }
}

const heldContent = ({ id, tries }: StoredContent): Held => ({ kind: 'content', id, tries });
const heldPart = ({ id, tries }: StoredPart): Held => ({ kind: 'part', id, tries });
