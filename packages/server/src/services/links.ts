import { randomBytes } from 'node:crypto';
import type { AnswerOf } from '@gaveta/core/contract';
import { readParameters } from '@gaveta/core/internal';
import type { LinkTokens } from '../access/link-tokens.ts';
import type { CallerSession } from '../access/session.ts';
import { ApiError } from '../base/api-error.ts';
import { withText } from '../base/problem-text.ts';
import type { StoredLink } from '../store/link-store.ts';
import type { Store } from '../store/store.ts';
import type { ActivityBook } from './activity.ts';
import type { Calls } from './call.ts';
import type { Gate } from './gate.ts';

type LinkCalls = 'GET /reports/:id/links' | 'POST /reports/:id/links' | 'DELETE /reports/:id/links/:link';
type Link = AnswerOf<'GET /reports/:id/links'>[number];

/** Links of one report that lead somewhere. */
const MOST_LINKS = 200;
const DAY = 24 * 3600 * 1000;

export interface LinkParts {
  store: Store;
  gate: Gate;
  book: ActivityBook;
  tokens: LinkTokens;
  /** Days after which a link ends at the latest; 0: nobody may make one. */
  mostDays: number;
}

const isLive = ({ revokedAt, endsAt }: StoredLink): boolean => revokedAt === null && Date.parse(endsAt) > Date.now();

/** Links to one report with values, for people without an account. */
export const linkService = ({ store, gate, book, tokens, mostDays }: LinkParts): Calls<LinkCalls> => {
  const asSent = async (link: StoredLink): Promise<Link> => {
    const { id, label, by, values, madeAt, endsAt, revokedAt, opened, openedAt } = link;
    const address = isLive(link)
      ? `shared/${encodeURIComponent(link.report)}#${await tokens.sign(id, Date.parse(endsAt))}`
      : null;
    return { ...{ id, label, by, values, madeAt, endsAt, revokedAt, opened, openedAt }, address };
  };
  return {
    'GET /reports/:id/links': async ({ caller, params: { id } }) => {
      await gate.checkId(caller, 'publish', id);
      return Promise.all((await store.links.list(id)).map(asSent));
    },
    'POST /reports/:id/links': async ({ caller, params: { id }, body: { label, days, values } }) => {
      if (mostDays === 0) throw new ApiError('links-off');
      if (days > mostDays) throw new ApiError('link-too-long', { days: mostDays });
      const thing = await gate.checkId(caller, 'publish', id);
      const { report } = await gate.stored(caller, 'run', id, 'published');
      const { session } = caller;
      const { problems } = readParameters(report, values, { host: session.parameters ?? {} });
      if (problems.length > 0) {
        const detailed = withText(problems);
        throw new ApiError(
          'wrong-parameters',
          { detail: detailed.map((p) => p.text).join(' ') },
          { problems: detailed },
        );
      }
      if ((await store.links.list(id)).filter(isLive).length >= MOST_LINKS)
        throw new ApiError('too-many-links', { limit: MOST_LINKS });
      const link = await store.links.create({
        ...{ id: randomBytes(16).toString('base64url'), report: id, label, values },
        ...{ by: session.user, groups: [...(session.groups ?? [])], claims: session.claims },
        managesAll: caller.may('manage'),
        hostParameters: { ...session.parameters },
        endsAt: new Date(Date.now() + days * DAY).toISOString(),
      });
      book.note(caller, 'shared', thing, { label, until: link.endsAt, values });
      return asSent(link);
    },
    'DELETE /reports/:id/links/:link': async ({ caller, params: { id, link } }) => {
      const thing = await gate.checkId(caller, 'publish', id);
      if (!(await store.links.revoke(id, link))) throw new ApiError('unknown-link');
      book.note(caller, 'unshared', thing, { link });
      return undefined;
    },
  };
};

/**
 * Who reads by a link: nobody by name, who sees that one report as whoever shared it does. Null where the token is none of a link’s.
 * Throws where the link has ended, was revoked, or leads nowhere any more.
 */
export const linkReader = async (token: string, tokens: LinkTokens, store: Store): Promise<CallerSession | null> => {
  const id = await tokens.verify(token);
  if (id === null) return null;
  const link = await store.links.get(id);
  if (!link || !isLive(link)) throw new ApiError('link-ended');
  const { by, groups, managesAll, claims, hostParameters, report, values } = link;
  return {
    ...{ user: `link ${id}`, rights: ['view'], claims, parameters: hostParameters },
    link: { id, report, values, by: { user: by, groups, managesAll } },
  };
};
