import { randomUUID } from 'node:crypto';
import type { AnswerOf } from '@gaveta/core/contract';
import { type Delivery, readDelivery, type Step } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { withText } from '../base/problem-text.ts';
import { type Caller, type Calls, issuesOf } from '../services/call.ts';
import type { StoredDeliveryRun } from '../store/delivery-records.ts';
import type { DeliveryOwner, StoredDelivery } from '../store/delivery-store.ts';
import type { Deliveries, DeliveryParts } from './deliveries.ts';
import { type EachRows, rowsOver } from './each-rows.ts';
import { NotDelivered } from './outcome.ts';
import { MOST_PARTS } from './plan-run.ts';
import { contextOf, problemsOf, samplesOf } from './sample.ts';

type DeliveryCall =
  | 'GET /deliveries'
  | 'POST /deliveries'
  | 'GET /deliveries/:id'
  | 'PUT /deliveries/:id'
  | 'DELETE /deliveries/:id'
  | 'PUT /deliveries/:id/state'
  | 'POST /deliveries/:id/runs'
  | 'GET /deliveries/:id/runs'
  | 'POST /deliveries/check'
  | 'GET /delivery-targets'
  | 'POST /delivery-events/:name'
  | 'GET /delivery-runs/:id'
  | 'POST /delivery-runs/:id/again'
  | 'DELETE /delivery-runs/:id';

type Summary = AnswerOf<'GET /deliveries'>[number];
type Run = AnswerOf<'GET /deliveries/:id/runs'>[number];

/** Deliveries of one person. */
const MOST_EACH = 500;

/** Whoever a delivery will run as: as they are now. */
const ownerFor = ({ session }: Caller): DeliveryOwner => ({
  ...{ owner: session.user, groups: [...(session.groups ?? [])], rights: [...session.rights], claims: session.claims },
  hostParameters: { ...session.parameters },
});

const withWords = <T extends { said: StoredDelivery['said'] }>(one: T): T => ({
  ...one,
  said: one.said && withText([one.said])[0]!,
});

/** Deliveries, what became of them, and where they may go. */
export const deliveryService = (deliveries: Deliveries, parts: DeliveryParts): Calls<DeliveryCall> => {
  const { store, gate, rights } = parts;
  const { options } = deliveries;
  const rows = rowsOver(parts);

  /** One that somebody may see: their own, or any with the right “manage”. Throws as if it were not there. */
  const found = async (caller: Caller, id: string): Promise<StoredDelivery> => {
    const delivery = await store.deliveries.get(id);
    const isTheirs = delivery && (caller.isCode || caller.may('manage') || delivery.owner === caller.user);
    if (!isTheirs) throw new ApiError('unknown-delivery', { id });
    return delivery;
  };
  const runOf = async (caller: Caller, id: string): Promise<StoredDeliveryRun> => {
    const run = await store.deliveryRuns.get(id);
    if (!run) throw new ApiError('unknown-delivery-run', { id });
    await found(caller, run.delivery);
    return run;
  };
  const sentRuns = async (runs: readonly StoredDeliveryRun[]): Promise<Run[]> => {
    const counts = await store.deliveryRuns.countsOf(runs.map(({ id }) => id));
    return runs.map(({ id, why, dueAt, begunAt, endedAt, state, said }) => {
      const { parts: of = 0, sent = 0, failed = 0 } = counts.get(id) ?? {};
      return withWords({ id, why, dueAt, begunAt, endedAt, state, said, parts: of, sent, failed });
    });
  };
  const sentRun = async (id: string): Promise<Run> => (await sentRuns([(await store.deliveryRuns.get(id))!]))[0]!;

  const summaries = async (caller: Caller, all: readonly StoredDelivery[]): Promise<Summary[]> => {
    const seen = new Map((await gate.list(caller)).map(({ id, name }) => [id, name]));
    const lasts = await store.deliveryRuns.lastOf(all.map(({ id }) => id));
    const sent = new Map((await sentRuns(lasts)).map((run, i) => [lasts[i]!.delivery, run]));
    return all.map(({ id, name, report, owner, state, said, nextAt, revision, changedAt, changedBy, definition }) =>
      withWords({
        ...{ id, name, report, owner, state, said, revision, changedAt, changedBy, definition },
        ...{ reportName: seen.get(report) ?? null, isOwn: owner === caller.user, last: sent.get(id) ?? null },
        nextAt: state === 'on' && nextAt !== null ? new Date(nextAt).toISOString() : null,
      }),
    );
  };
  const whole = async (caller: Caller, delivery: StoredDelivery) => {
    const [summary] = await summaries(caller, [delivery]);
    const { owner: user, groups, claims } = delivery;
    return { ...summary!, runsAs: { user, groups, claims } };
  };

  /** A definition as somebody sent it. Throws with each place that does not fit. */
  const readFrom = (json: unknown): Delivery => {
    const read = readDelivery(json);
    if (read.delivery) return read.delivery;
    throw new ApiError('wrong-body', { detail: issuesOf(read.error) });
  };
  const eachRows = async (
    caller: Caller,
    steps: readonly Step[],
    report: { language: string; timeZone: string },
    signal: AbortSignal,
  ): Promise<EachRows> => rows.rowsOf(caller, steps, report, MOST_PARTS + 1, signal);

  /** A delivery that can go. Throws with what is wrong. */
  const checked = async (caller: Caller, json: unknown): Promise<Delivery> => {
    const delivery = readFrom(json);
    const { report } = await gate.stored(caller, 'run', delivery.report, 'published');
    const { each, when } = delivery;
    await rights.check(caller, [each?.steps ?? [], when.kind === 'rows' ? when.steps : []]);
    const planned = each ? await rows.fieldsOf(each.steps) : null;
    const waited = when.kind === 'rows' ? await rows.fieldsOf(when.steps) : null;
    const broken = [
      ...(planned?.broken ? [{ ...planned.broken, place: { path: 'each' } }] : []),
      ...(waited?.broken ? [{ ...waited.broken, place: { path: 'when' } }] : []),
    ];
    for (const { output, options: own } of delivery.files) parts.service.files.output(output, own);
    const context = contextOf(options, report, planned?.fields ?? null, Date.now());
    const problems = broken.length > 0 ? broken : problemsOf(delivery, context, null);
    if (problems.length > 0) {
      const detailed = withText(problems);
      throw new ApiError(
        'wrong-delivery',
        { detail: detailed.map(({ text }) => text).join(' ') },
        { problems: detailed },
      );
    }
    return delivery;
  };

  return {
    'GET /deliveries': async ({ caller, query: { report } }) => {
      const owner = caller.may('manage') ? undefined : caller.user;
      return summaries(caller, await store.deliveries.list({ owner, report }));
    },
    'POST /deliveries': async ({ caller, body }) => {
      const definition = await checked(caller, body.definition);
      if ((await store.deliveries.list({ owner: caller.user })).length >= MOST_EACH)
        throw new ApiError('too-many-deliveries', { limit: MOST_EACH });
      const made = await store.deliveries.create(definition, ownerFor(caller), deliveries.nextOf(definition));
      deliveries.wake();
      return whole(caller, made);
    },
    'GET /deliveries/:id': async ({ caller, params: { id } }) => whole(caller, await found(caller, id)),
    'PUT /deliveries/:id': async ({ caller, params: { id }, body: { definition: json, base } }) => {
      const before = await found(caller, id);
      const definition = await checked(caller, json);
      const saved = await store.deliveries.save(id, base, definition, ownerFor(caller), deliveries.nextOf(definition));
      if (!saved) {
        const { changedBy: author, revision } = before;
        throw new ApiError('conflict', { author, revision }, { current: await whole(caller, before) });
      }
      deliveries.wake();
      return whole(caller, saved);
    },
    'DELETE /deliveries/:id': async ({ caller, params: { id } }) => {
      await found(caller, id);
      await store.deliveries.remove(id);
      return undefined;
    },
    'PUT /deliveries/:id/state': async ({ caller, params: { id }, body: { state } }) => {
      const delivery = await found(caller, id);
      const nextAt = state === 'on' ? deliveries.nextOf(delivery.definition) : null;
      await store.deliveries.setState(id, state, null, nextAt);
      deliveries.wake();
      return whole(caller, await found(caller, id));
    },
    'POST /deliveries/:id/runs': async ({ caller, params: { id } }) =>
      sentRun(await deliveries.runNow(await found(caller, id), randomUUID())),
    'GET /deliveries/:id/runs': async ({ caller, params: { id }, query }) => {
      await found(caller, id);
      return sentRuns(await store.deliveryRuns.list(id, query));
    },
    'POST /deliveries/check': async ({ caller, body, signal }) => {
      const delivery = readFrom(body.definition);
      const { report } = await gate.stored(caller, 'run', delivery.report, 'published');
      const { each } = delivery;
      const now = Date.now();
      let found: EachRows | null = null;
      try {
        if (each) found = await eachRows(caller, each.steps, report, signal);
      } catch (error) {
        if (!(error instanceof NotDelivered)) throw error;
        return {
          problems: withText([{ ...error.said, place: { path: 'each' } }]),
          parts: null,
          fields: [],
          samples: [],
        };
      }
      const fields = (found?.fields ?? []).map(({ name, label, type }) => ({ name, label, type }));
      const problems = problemsOf(delivery, contextOf(options, report, found?.fields ?? null, now), found);
      const checkAddress = (address: string): void => deliveries.mailer?.checkAddress(address);
      const samples =
        problems.length > 0
          ? []
          : await samplesOf({ ...{ delivery, report, options, caller, checkAddress, now }, rows: found });
      return { problems: withText(problems), parts: found?.rows.length ?? null, fields, samples };
    },
    'GET /delivery-targets': () => {
      const { mail, folders = {}, addresses = {}, printers = {}, people, daysOff = [], zone, standIns = {} } = options;
      return {
        mail: mail ? { from: mail.from } : null,
        ...{ folders: Object.keys(folders), addresses: Object.keys(addresses), printers: Object.keys(printers) },
        ...{ hasPeople: people !== undefined, daysOff: [...daysOff] },
        zone: zone ?? Intl.DateTimeFormat().resolvedOptions().timeZone,
        standIns: { outbox: standIns.outbox !== undefined, tray: standIns.tray !== undefined },
      };
    },
    'POST /delivery-events/:name': async ({ params: { name }, body: { key } }) => ({
      deliveries: await deliveries.event(name, key ?? randomUUID()),
    }),
    'GET /delivery-runs/:id': async ({ caller, params: { id }, query: { from, count } }) => {
      const run = await runOf(caller, id);
      const isOwn = (await found(caller, run.delivery)).owner === caller.user;
      const contents = await store.deliveryRuns.contents(id, from, count);
      const ids = contents.map((content) => content.id);
      const [sent, files] = [await store.deliveryRuns.parts(ids), await store.deliveryRuns.fileFacts(ids)];
      return {
        ...(await sentRuns([run]))[0]!,
        delivery: run.delivery,
        of: await store.deliveryRuns.contentCount(id),
        contents: contents.map((content) => {
          const { place, label, state, said, pages, rows: read } = content;
          return withWords({
            ...{ place, label, state, said, pages, rows: read, files: isOwn ? (files.get(content.id) ?? []) : [] },
            parts: sent
              .filter((part) => part.content === content.id)
              .map(({ content: _, run: _r, target: _t, message: _m, ...part }) => withWords(part)),
          });
        }),
      };
    },
    'POST /delivery-runs/:id/again': async ({ caller, params: { id } }) => {
      await runOf(caller, id);
      if (!(await store.deliveryRuns.again(id, Date.now()))) throw new ApiError('nothing-failed');
      deliveries.wake();
      return sentRun(id);
    },
    'DELETE /delivery-runs/:id': async ({ caller, params: { id } }) => {
      await runOf(caller, id);
      await store.deliveryRuns.cancel(id);
      await store.deliveryRuns.finish(id, Date.now());
      return sentRun(id);
    },
  };
};
