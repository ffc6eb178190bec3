import { z } from '../definition/zod.ts';
import type { CallContract } from './call.ts';
import * as part from './parts.ts';
import { ACCESS_LEVELS } from './rights.ts';

/** Stored reports, values that are kept for them, and work that is not saved. */
/** Parameters without whose value rows are kept away; of others all rows are shown where they have none. */
const keepingAway = z.array(z.string());

export const REPORT_CALLS = {
  'GET /reports': { does: 'All reports, newest first.', needs: 'view', gives: z.array(part.storedReport) },
  'POST /reports': {
    does: 'Saves a new report.',
    needs: 'design',
    body: z.strictObject({ definition: part.definition, ...part.whereNew }),
    gives: part.storedReport,
    status: 201,
  },
  'GET /reports/:id': {
    does: 'A report, as it was published or, for those who may change it, saved last; its whole definition for those who may design, name, paper and parameters for others. With languages, such as “pt-PT,en”: as its reader sees it, in the first of them that it speaks.',
    needs: 'view',
    forLinks: true,
    query: z.object({ which: part.whichRevision.default('newest'), language: part.languageList.optional() }),
    gives: part.storedReport.extend({
      definition: part.report,
      languages: z.array(z.string()).describe('The languages that it speaks, its own first.'),
      shown: z.number().describe('The revision that this is.'),
      may: z.enum(ACCESS_LEVELS).describe('What the caller may do with it.'),
      keepingAway,
    }),
  },
  'PUT /reports/:id': {
    does: 'Saves a revision, made to the revision “base”; refused when somebody else saved one meanwhile.',
    needs: 'design',
    body: z.strictObject({
      definition: part.definition,
      /** The revision that the changes were made to. */
      base: part.revisionNumber,
      note: z.string().max(500).default(''),
    }),
    gives: part.storedReport,
  },
  'DELETE /reports/:id': {
    does: 'Deletes a report, which can be restored for 30 days. What uses it stays as it is, and tells of the problem.',
    needs: 'design',
    gives: 'nothing',
    status: 204,
  },
  'POST /reports/:id/restore': {
    does: 'Brings a deleted report back as it was.',
    needs: 'design',
    gives: part.storedReport,
  },
  'GET /reports/:id/users': {
    does: 'The reports that use a report: they nest it, link to it, or nest a report that nests it.',
    needs: 'design',
    gives: z.array(part.reportUser),
  },
  'GET /reports/:id/revisions': { does: 'Revisions, newest first.', needs: 'design', gives: z.array(part.revision) },
  'GET /reports/:id/revisions/:number': { does: 'One revision.', needs: 'design', gives: part.report },
  'POST /reports/:id/presence': {
    does: 'Tells that a window has the report open, and who else has.',
    needs: 'design',
    body: z.strictObject({ window: z.string().min(1).max(80), leaving: z.boolean().default(false) }),
    gives: part.presence,
  },

  'GET /reports/:id/value-sets': {
    does: 'Values of a report’s parameters under names: the caller’s own, and those that are shared.',
    needs: 'view',
    gives: z.array(part.valueSet),
  },
  'POST /reports/:id/value-sets': {
    does: 'Keeps values under a name, in the place of the caller’s own of the same name. To share them needs the right to design.',
    needs: 'view',
    body: z.strictObject({
      name: z.string().trim().min(1).max(80),
      values: part.parameterValues,
      shared: z.boolean().default(false),
    }),
    gives: part.valueSet,
    status: 201,
  },
  'DELETE /reports/:id/value-sets/:set': {
    does: 'Removes values that were kept under a name: the caller’s own, or shared ones with the right to design.',
    needs: 'view',
    gives: 'nothing',
    status: 204,
  },
  'GET /drafts': { does: 'The caller’s work that is not saved.', needs: 'design', gives: z.array(part.draftHead) },
  'GET /drafts/:key': {
    does: 'One draft of the caller’s; null when nothing is kept under the key.',
    needs: 'design',
    gives: part.draftHead.extend({ definition: part.report, keepingAway }).nullable(),
  },
  'PUT /drafts/:key': {
    does: 'Keeps work that is not saved.',
    needs: 'design',
    body: z.strictObject({
      definition: part.definition,
      report: part.id.nullable(),
      /** 0 for a report that is new. */
      base: part.revisionNumber.or(z.literal(0)),
    }),
    gives: part.draftHead,
  },
  'DELETE /drafts/:key': {
    does: 'Discards a draft; with “savedAt” only as long as nothing newer was kept.',
    needs: 'design',
    query: z.object({ savedAt: z.string().max(40).optional() }),
    gives: 'nothing',
    status: 204,
  },
} as const satisfies Record<string, CallContract>;
