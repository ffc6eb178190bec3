import type { Thing } from '../api/library.ts';
import { isAtLeast } from './folder-tree.ts';

/** What somebody can do about what readers see of a thing. */
export interface PublishState {
  /** Readers see the revision already. */
  isSeen: boolean;
  /** Somebody asked for the revision to be published. */
  isAsked: boolean;
  /** It was whoever looks. */
  isOwnQuestion: boolean;
  mayPublish: boolean;
  mayAsk: boolean;
  /** Takes the question back, or says no to it. */
  mayEndQuestion: boolean;
  mayTakeBack: boolean;
  /** Saves since the revision that readers see. */
  newer: number;
}

/** `revision`: the one that would be published; `user`: who looks. */
export const publishState = (
  { may, published, asked, publishing, revision: newest }: Thing,
  revision: number,
  user: string | undefined,
): PublishState => {
  const isSeen = published === revision;
  const isAsked = asked?.revision === revision;
  const isOwnQuestion = isAsked && asked.by === user;
  const isPublisher = isAtLeast(may, 'publish');
  const mayPublish = !isSeen && isPublisher && (publishing !== 'two-people' || (isAsked && !isOwnQuestion));
  return {
    ...{ isSeen, isAsked, isOwnQuestion, mayPublish },
    mayAsk: !isSeen && !mayPublish && !isAsked,
    mayEndQuestion: isAsked && (isOwnQuestion || isPublisher),
    mayTakeBack: published !== null && isPublisher && publishing !== 'each-save',
    newer: published === null ? 0 : newest - published,
  };
};

/** The revision that readers saw before the one that they see now; null where they saw none. */
export const seenBefore = (
  publications: readonly { revision: number | null }[],
  published: number | null,
): number | null => publications.find(({ revision }) => revision !== null && revision !== published)?.revision ?? null;
