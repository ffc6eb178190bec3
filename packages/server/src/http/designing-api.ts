import { type Report, readDefinition } from '@gaveta/core';
import { type Request, Router } from 'express';
import { Presence } from '../access/presence.ts';
import { ownerOf, type Right, type Session } from '../access/session.ts';
import { withText } from '../base/problem-text.ts';
import type { Store } from '../store/store.ts';
import { draftBody, presenceBody } from './bodies.ts';
import { body } from './body.ts';
import { ApiError } from './errors.ts';

interface DesigningParts {
  store: Store;
  allow: (request: Request, right: Right) => Session;
  /** Throws when the definition holds statements that the caller may not write. */
  checkSql: (caller: Session, definition: unknown) => Promise<void>;
}

/** Work that is not saved yet, and who else is at work on a report. */
export const createDesigningApi = ({ store, allow, checkSql }: DesigningParts): Router => {
  const api = Router();
  const presence = new Presence();

  api.get('/drafts', async (request, response) => {
    response.json(await store.drafts.list(ownerOf(allow(request, 'design'))));
  });
  api.get('/drafts/:key', async (request, response) => {
    const found = await store.drafts.get(ownerOf(allow(request, 'design')), request.params.key);
    if (!found) throw new ApiError('unknown-draft', { key: request.params.key });
    if (!found.read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(found.read.problems) });
    response.json({ ...found.head, definition: found.read.report });
  });
  api.put('/drafts/:key', async (request, response) => {
    const caller = allow(request, 'design');
    const { definition, report, base } = body(draftBody, request);
    await checkSql(caller, definition);
    const read = readDefinition(definition);
    if (!read.ok) throw new ApiError('wrong-definition', {}, { problems: withText(read.problems) });
    if (report !== null && !(await store.get(report))) throw new ApiError('unknown-report', { id: report });
    const given: { report: string | null; base: number; definition: Report } = {
      report,
      base,
      definition: read.report,
    };
    response.json(await store.drafts.put(ownerOf(caller), request.params.key, given));
  });
  api.delete('/drafts/:key', async (request, response) => {
    const { savedAt } = request.query;
    const only = typeof savedAt === 'string' ? savedAt : null;
    await store.drafts.remove(ownerOf(allow(request, 'design')), request.params.key, only);
    response.status(204).end();
  });

  api.post('/reports/:id/presence', async (request, response) => {
    const { user } = allow(request, 'design');
    const { window, leaving } = body(presenceBody, request);
    const { id } = request.params;
    if (leaving) {
      presence.leave(id, window);
      response.json({ others: [], stored: null });
      return;
    }
    const found = await store.get(id);
    if (!found) throw new ApiError('unknown-report', { id });
    response.json({ others: presence.notice(id, window, user), stored: found.stored });
  });
  return api;
};
