import { Caller } from '../services/call.ts';
import type { StoredContent, StoredDeliveryRun, StoredPart, Work } from '../store/delivery-records.ts';
import type { StoredDelivery } from '../store/delivery-store.ts';
import type { Channel } from './channels/channel.ts';
import { rowsOver } from './each-rows.ts';
import { type Making, makeContent } from './make-content.ts';
import { makeTogether, mayBeTogether } from './make-together.ts';
import { WAITS } from './options.ts';
import { asNotDelivered, type NotDelivered, notDelivered, notSent } from './outcome.ts';
import { ownerOf } from './owner.ts';
import { plannedContents } from './plan-run.ts';
import type { WorkerParts } from './worker-parts.ts';

/** Milliseconds past the longest run for which something is held. */
const HOLD = 10 * 60_000;

/** Does what waits: plans a run, makes a content, sends a part. What it does is noted in the store, so that another one can go on. */
export class DeliveryWorker {
  private readonly rows: ReturnType<typeof rowsOver>;
  /** Runs whose contents were tried together. */
  private readonly apart = new Set<string>();

  constructor(private readonly parts: WorkerParts) {
    this.rows = rowsOver(parts);
  }

  /** Takes something to do, and does it; never rejects. `woken` is called when more is to be done. */
  async do(work: Work, signal: AbortSignal, woken: () => void): Promise<void> {
    const { store, clock, limits, log } = this.parts;
    const { deliveryRuns } = store;
    try {
      const now = clock.now();
      if (!(await deliveryRuns.hold(work, now, now + limits.maxSeconds * 1000 + HOLD))) return;
      try {
        if (work.kind === 'run') await this.plan(work.id, signal);
        else if (work.kind === 'content') await this.make(work.id, signal, woken);
        else await this.send(work.id, signal);
      } catch (error) {
        if (signal.aborted) {
          await deliveryRuns.letGo(work);
          return;
        }
        await this.failed(work, asNotDelivered(error, this.parts.wordsFor));
      }
      await this.finish(work);
    } catch (error) {
      log(error);
    } finally {
      woken();
    }
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
    const { run, delivery } = await this.runOf(id);
    const { caller, report } = await this.owner(delivery);
    const contents = await plannedContents({
      ...{ delivery: run.definition, report, dueAt: Date.parse(run.dueAt), owner: caller, checkAddress },
      people: options.people ?? null,
      rows: (steps, most) => this.rows.rowsOf(caller, steps, report, most, signal),
    });
    await store.deliveryRuns.plan(id, contents, clock.now());
  }

  private async make(id: string, signal: AbortSignal, woken: () => void): Promise<void> {
    const { store, service, clock } = this.parts;
    const content = await store.deliveryRuns.content(id);
    if (!content) return;
    const { run, delivery } = await this.runOf(content.run);
    const making = await this.making(run, delivery, content);
    if (await this.makeTogether(content, making, signal, woken)) return;
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
    await store.deliveryRuns.made(id, files, { pages, rows, messages }, clock.now());
  }

  /** Makes all contents of a run at once where their rows can be read together; false: this one is made by itself. */
  private async makeTogether(
    content: StoredContent,
    making: Making,
    signal: AbortSignal,
    woken: () => void,
  ): Promise<boolean> {
    const { store, clock, limits } = this.parts;
    if (this.apart.has(content.run) || !mayBeTogether(making.delivery, this.parts)) return false;
    this.apart.add(content.run);
    const now = clock.now();
    const others = await store.deliveryRuns.holdContents(content.run, now, now + limits.maxSeconds * 1000 + HOLD);
    let left: readonly StoredContent[] = [content, ...others];
    try {
      left = await makeTogether(left, making, this.parts, signal, woken);
    } finally {
      for (const { id } of left) if (id !== content.id) await store.deliveryRuns.letGo({ kind: 'content', id });
    }
    return !left.some(({ id }) => id === content.id);
  }

  private async making(run: StoredDeliveryRun, delivery: StoredDelivery, content: StoredContent): Promise<Making> {
    const { people } = this.parts.options;
    const { caller: owner, report } = await this.owner(delivery);
    const { each } = run.definition;
    let caller = owner;
    if (each?.rowsOf === 'person') {
      const name = content.person ?? '';
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

  private async send(id: string, signal: AbortSignal): Promise<void> {
    const { store, channels, clock } = this.parts;
    const part = await store.deliveryRuns.part(id);
    if (!part) return;
    const { run, delivery } = await this.runOf(part.run);
    const target = run.definition.to[part.target];
    if (target?.kind !== part.kind) throw notSent('the delivery has no such target any more.', false);
    const files = part.kind === 'kept' ? [] : await store.deliveryRuns.files(part.content);
    const channel = channels[part.kind] as Channel;
    const sending = { part, target, files, name: run.definition.name, owner: delivery.owner };
    await store.deliveryRuns.sent(id, await channel.send(sending, signal), clock.now());
  }

  /** Has it tried again after a while, or not any more. */
  private async failed(work: Work, error: NotDelivered): Promise<void> {
    const { store, options, clock } = this.parts;
    const { waits = WAITS } = options;
    const tries = (await this.stored(work))?.tries ?? 1;
    const wait = error.isTemporary ? waits[tries - 1] : undefined;
    if (wait !== undefined) {
      await store.deliveryRuns.retry(work, error.said, clock.now() + wait * 1000);
      return;
    }
    await store.deliveryRuns.fail(work, error.said);
    if (!error.stops) return;
    const run = await this.runIdOf(work);
    const found = run === null ? null : await store.deliveryRuns.get(run);
    if (found) await store.deliveries.setState(found.delivery, 'stopped', error.said, null);
  }

  private stored({ kind, id }: Work): Promise<StoredDeliveryRun | StoredContent | StoredPart | null> {
    const { deliveryRuns } = this.parts.store;
    if (kind === 'run') return deliveryRuns.get(id);
    return kind === 'content' ? deliveryRuns.content(id) : deliveryRuns.part(id);
  }

  private async runIdOf(work: Work): Promise<string | null> {
    if (work.kind === 'run') return work.id;
    const found = (await this.stored(work)) as StoredContent | StoredPart | null;
    return found?.run ?? null;
  }

  /** Ends the run when this was the last of it. */
  private async finish(work: Work): Promise<void> {
    const { store, clock, ended } = this.parts;
    const id = await this.runIdOf(work);
    if (id === null) return;
    const failedWhole = work.kind === 'run' && (await store.deliveryRuns.get(id))?.state === 'failed';
    if (!failedWhole && !(await store.deliveryRuns.finish(id, clock.now()))) return;
    this.apart.delete(id);
    const run = await store.deliveryRuns.get(id);
    const delivery = run && (await store.deliveries.get(run.delivery));
    if (run && delivery) await ended(run, delivery);
  }
}
