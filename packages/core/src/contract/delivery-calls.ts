import { z } from '../definition/zod.ts';
import type { Delivery } from '../delivery/schema.ts';
import type { CallContract } from './call.ts';
import { DELIVERY_STATES, PART_STATES, RUN_REASONS, RUN_STATES } from './delivery-states.ts';
import * as part from './parts.ts';

const moment = z.string().describe('a moment as ISO 8601');
const problem = part.problem.nullable();
const placeParam = z.object({ download: z.enum(['true', 'false']).default('false') });

/** Checked by itself. */
const definition = z.record(z.string(), z.unknown());
const delivery: z.ZodType<Delivery> = z
  .custom<Delivery>(() => true)
  .meta({
    description:
      'A delivery: {gavetaDelivery: 1, name, report, values, each, files, when, to}; docs/deliveries.md has it.',
  });

const runFacts = {
  id: z.string(),
  why: z.enum(RUN_REASONS),
  dueAt: moment,
  begunAt: moment.nullable(),
  endedAt: moment.nullable(),
  state: z.enum(RUN_STATES),
  said: problem.describe('Why it failed as a whole.'),
  parts: z.number(),
  sent: z.number(),
  failed: z.number(),
};
const run = z.object(runFacts);

const summary = {
  id: z.string(),
  name: z.string(),
  report: z.string(),
  reportName: z.string().nullable().describe('Null: it is not there any more, or not for the caller.'),
  owner: z.string(),
  isOwn: z.boolean(),
  state: z.enum(DELIVERY_STATES),
  said: problem.describe('Why it was stopped.'),
  nextAt: moment.nullable(),
  last: run.nullable(),
  revision: z.number(),
  changedAt: moment,
  changedBy: z.string(),
  definition: delivery,
};
const whole = z.object({
  ...summary,
  runsAs: z
    .object({ user: z.string(), groups: z.array(z.string()), claims: z.record(z.string(), z.unknown()) })
    .describe('Who it runs as, with all that decides on the rows.'),
});

const sentPart = z.object({
  id: z.string(),
  kind: z.string(),
  to: z.string(),
  state: z.enum(PART_STATES),
  tries: z.number(),
  nextTry: moment.nullable(),
  said: problem,
  sentAt: moment.nullable(),
  receipt: z.string().nullable().describe('What the receiver answered, or where it went.'),
});

const keptResult = z.object({
  id: z.string(),
  delivery: z.string().nullable(),
  report: z.string(),
  name: z.string(),
  owner: z.string(),
  madeAt: moment,
  pages: z.number(),
  rows: z.number(),
  values: part.valueSet.shape.values,
  may: z.enum(['see', 'remove']),
  files: z.array(z.object({ place: z.number(), name: z.string(), mime: z.string(), size: z.number() })),
});

const attachment = z.object({ place: z.number(), name: z.string(), mime: z.string(), size: z.number() });

/** Reports that come by themselves: when they go and to whom, what became of it, and what stands in for a mail server and a printer. */
export const DELIVERY_CALLS = {
  'GET /deliveries': {
    does: 'The caller’s deliveries, by name; those of everybody with the right “manage”.',
    needs: 'deliver',
    query: z.object({ report: part.id.optional() }),
    gives: z.array(z.object(summary)),
  },
  'POST /deliveries': {
    does: 'Creates a delivery, which runs as the caller, with the claims of this moment.',
    needs: 'deliver',
    body: z.strictObject({ definition }),
    gives: whole,
    status: 201,
  },
  'GET /deliveries/:id': { does: 'One delivery.', needs: 'deliver', gives: whole },
  'PUT /deliveries/:id': {
    does: 'Changes a delivery from the revision “base”; it runs as whoever does so from then on.',
    needs: 'deliver',
    body: z.strictObject({ definition, base: part.revisionNumber }),
    gives: whole,
  },
  'DELETE /deliveries/:id': {
    does: 'Removes a delivery with its history; what was kept stays.',
    needs: 'deliver',
    gives: 'nothing',
    status: 204,
  },
  'PUT /deliveries/:id/state': {
    does: 'Pauses a delivery, or lets it go on: also one that was stopped.',
    needs: 'deliver',
    body: z.strictObject({ state: z.enum(['on', 'paused']) }),
    gives: whole,
  },
  'POST /deliveries/:id/runs': {
    does: 'Runs a delivery now.',
    needs: 'deliver',
    gives: run,
    status: 201,
  },
  'GET /deliveries/:id/runs': {
    does: 'What became of a delivery each time, the newest first.',
    needs: 'deliver',
    query: z.object({
      before: z.iso.datetime({ offset: true }).optional(),
      count: z.coerce.number().int().min(1).max(100).default(20),
    }),
    gives: z.array(run),
  },
  'POST /deliveries/check': {
    does: 'What is wrong with a delivery, and what it would send now: to how many, and the words for the first of them.',
    needs: 'deliver',
    body: z.strictObject({ definition }),
    gives: z.object({
      problems: z.array(part.problem),
      parts: z.number().nullable().describe('How many get a part of their own; null: it is not sent in parts.'),
      fields: z.array(z.object({ name: z.string(), label: z.string(), type: z.string() })),
      samples: z.array(
        z.object({
          label: z.string(),
          values: z.record(z.string(), z.string()),
          mails: z.array(
            z.object({ target: z.number(), to: z.array(z.string()), subject: z.string(), words: z.string() }),
          ),
          fileNames: z.array(z.string()),
        }),
      ),
    }),
  },
  'GET /delivery-targets': {
    does: 'Where deliveries may go: what the application registered.',
    needs: 'deliver',
    gives: z.object({
      mail: z.object({ from: z.string() }).nullable(),
      folders: z.array(z.string()),
      addresses: z.array(z.string()),
      printers: z.array(z.string()),
      hasPeople: z.boolean(),
      daysOff: z.array(z.string()),
      zone: z.string(),
      standIns: z.object({ outbox: z.boolean(), tray: z.boolean() }),
    }),
  },
  'POST /delivery-events/:name': {
    does: 'Tells of an event: deliveries that wait for it go, once for each key.',
    needs: 'manage',
    body: z.strictObject({ key: z.string().min(1).max(200).optional() }),
    gives: z.object({ deliveries: z.number() }),
  },
  'GET /delivery-runs/:id': {
    does: 'What became of one run of a delivery: its parts, what became of each, and for the owner their files.',
    needs: 'deliver',
    query: z.object({
      from: z.coerce.number().int().min(0).default(0),
      count: z.coerce.number().int().min(1).max(200).default(50),
    }),
    gives: z.object({
      ...runFacts,
      delivery: z.string(),
      contents: z.array(
        z.object({
          place: z.number(),
          label: z.string(),
          state: z.enum(PART_STATES),
          said: problem,
          pages: z.number().nullable(),
          rows: z.number().nullable(),
          files: z.array(z.object({ place: z.number(), name: z.string(), mime: z.string(), size: z.number() })),
          parts: z.array(sentPart),
        }),
      ),
      of: z.number().describe('How many contents there are.'),
    }),
  },
  'POST /delivery-runs/:id/again': {
    does: 'Tries again what failed; what arrived stays as it is.',
    needs: 'deliver',
    gives: run,
  },
  'DELETE /delivery-runs/:id': {
    does: 'Cancels what of a run is not sent yet.',
    needs: 'deliver',
    gives: run,
  },
  'GET /delivery-runs/:id/files/:content/:place': {
    does: 'A file of a run, as it was sent; for the owner of the delivery alone.',
    needs: 'deliver',
    query: placeParam,
    gives: 'file',
  },

  'GET /kept': {
    does: 'Results that were kept and the caller may see, the newest first.',
    needs: 'view',
    query: z.object({
      report: part.id.optional(),
      delivery: part.id.optional(),
      before: z.iso.datetime({ offset: true }).optional(),
      count: z.coerce.number().int().min(1).max(100).default(50),
    }),
    gives: z.array(keptResult),
  },
  'GET /kept/:id': {
    does: 'One kept result.',
    needs: 'view',
    gives: keptResult.extend({ run: part.runState.describe('As it was when it ended.'), headings: part.headings }),
  },
  'GET /kept/:id/pages': {
    does: 'Pages of a kept result from a number on, at most 20.',
    needs: 'view',
    query: z.object({
      from: z.coerce.number().int().catch(1).default(1),
      count: z.coerce.number().int().catch(1).default(1),
    }),
    gives: part.pages,
  },
  'GET /kept/:id/files/:place': { does: 'A file of a kept result.', needs: 'view', query: placeParam, gives: 'file' },
  'DELETE /kept/:id': { does: 'Removes a kept result.', needs: 'view', gives: 'nothing', status: 204 },

  'GET /outbox': {
    does: 'Mails in the outbox that stands in for a mail server, the newest first.',
    needs: 'manage',
    gives: z.array(
      z.object({
        id: z.string(),
        at: moment,
        from: z.string(),
        to: z.array(z.string()),
        subject: z.string(),
        attachments: z.array(attachment),
      }),
    ),
  },
  'GET /outbox/:id': {
    does: 'One mail of the outbox.',
    needs: 'manage',
    gives: z.object({
      id: z.string(),
      at: moment,
      from: z.string(),
      to: z.array(z.string()),
      subject: z.string(),
      words: z.string(),
      messageId: z.string(),
      attachments: z.array(attachment),
    }),
  },
  'GET /outbox/:id/attachments/:place': {
    does: 'A file that is attached to a mail of the outbox.',
    needs: 'manage',
    query: placeParam,
    gives: 'file',
  },
  'DELETE /outbox': { does: 'Empties the outbox.', needs: 'manage', gives: 'nothing', status: 204 },
  'GET /printer-tray': {
    does: 'Jobs in the tray of the printer that stands in for real ones, the newest first.',
    needs: 'manage',
    gives: z.array(
      z.object({
        id: z.number(),
        at: moment,
        name: z.string(),
        user: z.string(),
        mime: z.string(),
        size: z.number(),
        copies: z.number(),
        sides: z.string(),
        state: z.enum(['pending', 'processing', 'completed', 'canceled', 'aborted']),
      }),
    ),
  },
  'GET /printer-tray/:id/document': {
    does: 'What a job of the tray would print.',
    needs: 'manage',
    query: placeParam,
    gives: 'file',
  },
} as const satisfies Record<string, CallContract>;
