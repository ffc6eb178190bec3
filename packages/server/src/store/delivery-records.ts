import type { DeliveryRunState, PartState, RunReason } from '@gaveta/core/contract';
import type { Delivery, GivenValue, Problem, TargetKind, WireRow } from '@gaveta/core/internal';
import type { deliveryContents, deliveryParts, deliveryRuns } from './delivery-schema.ts';

/** A time that a delivery went. Moments are ISO 8601. */
export interface StoredDeliveryRun {
  id: string;
  delivery: string;
  why: RunReason;
  dueAt: string;
  /** The delivery as it was then. */
  definition: Delivery;
  state: DeliveryRunState;
  said: Problem | null;
  tries: number;
  begunAt: string | null;
  endedAt: string | null;
}

/** What is made for a run: for each row that gets a part of its own, or one alone. */
export interface StoredContent {
  id: string;
  run: string;
  /** From 0. */
  place: number;
  label: string;
  row: WireRow | null;
  person: string | null;
  values: Record<string, GivenValue>;
  state: PartState;
  said: Problem | null;
  pages: number | null;
  rows: number | null;
  tries: number;
}

/** A place where a content goes. */
export interface StoredPart {
  id: string;
  run: string;
  content: string;
  /** Which of the delivery’s targets, from 0. */
  target: number;
  kind: TargetKind;
  /** Addresses of mails, with commas between them; else the name of the target. */
  to: string;
  /** Words of a mail, filled in; null: there are none, or not yet. */
  message: Message | null;
  state: PartState;
  said: Problem | null;
  receipt: string | null;
  sentAt: string | null;
  tries: number;
  nextTry: string | null;
}

export interface Message {
  subject: string;
  words: string;
}

export interface DeliveryFile {
  name: string;
  mime: string;
  bytes: Uint8Array;
}

export interface FileFacts {
  place: number;
  name: string;
  mime: string;
  size: number;
}

/** What is to be done for a run: tell what it is made of, make its contents, or send its parts. */
export interface Work {
  kind: 'plan' | 'make' | 'send';
  run: string;
}

/** Something that waits to be done, and is held by whoever does it. */
export interface Item {
  kind: 'run' | 'content' | 'part';
  id: string;
}

/** A content with where it goes, as it is planned. */
export interface PlannedContent extends Pick<StoredContent, 'label' | 'row' | 'person' | 'values'> {
  /** `said`: why a part goes nowhere. */
  parts: (Pick<StoredPart, 'target' | 'kind' | 'to'> & { said?: Problem | null })[];
  /** Why it cannot be made at all. */
  said?: Problem | null;
}

/** A content that was made: its files, and the words of its mails by target. */
export interface MadeContent {
  content: string;
  files: readonly DeliveryFile[];
  pages: number;
  rows: number;
  messages: ReadonlyMap<number, Message>;
}

/** How many parts of a run arrived, failed, and are not over. */
export interface PartCounts {
  parts: number;
  sent: number;
  failed: number;
  open: number;
}

export const asRun = (row: typeof deliveryRuns.$inferSelect): StoredDeliveryRun => {
  const { deliveryId: delivery, dueAt, begunAt, endedAt, id, why, definition, state, said, tries } = row;
  return {
    ...{ id, delivery, why, definition, state, said, tries, dueAt: dueAt.toISOString() },
    ...{ begunAt: begunAt?.toISOString() ?? null, endedAt: endedAt?.toISOString() ?? null },
  };
};
export const asContent = ({
  runId: run,
  nextTry: _n,
  heldUntil: _h,
  ...row
}: typeof deliveryContents.$inferSelect): StoredContent => ({ ...row, run });
export const asPart = ({
  runId: run,
  contentId: content,
  heldUntil: _,
  sentAt,
  nextTry,
  ...row
}: typeof deliveryParts.$inferSelect): StoredPart => ({
  ...row,
  ...{ run, content, sentAt: sentAt?.toISOString() ?? null, nextTry: nextTry?.toISOString() ?? null },
});
