import { deflateSync } from 'node:zlib';
import {
  CalendarDate,
  type Delivery,
  type Field,
  filledMessage,
  type Report,
  readParameters,
  scopesOf,
  type Value,
} from '@gaveta/core/internal';
import { fileName } from '@gaveta/output/file-name';
import { ApiError } from '../base/api-error.ts';
import { left } from '../runs/run-file.ts';
import type { Run } from '../runs/runs.ts';
import type { Caller } from '../services/call.ts';
import type { FilesOfRuns } from '../services/files-of-runs.ts';
import { type RunService, stateOf, waited } from '../services/runs.ts';
import type { DeliveryFile, Message, StoredContent } from '../store/delivery-records.ts';
import type { KeptResult, PackedPages } from '../store/kept-result-store.ts';
import { decodedRow } from './each-rows.ts';

/** Bytes of all files of one content. */
const MOST_BYTES = 100_000_000;
/** Pages that are packed together. */
const PACKED = 10;

export interface Making {
  delivery: Delivery;
  report: Report;
  /** Who it runs as: the owner, with the claims of the person where it is made for one. */
  caller: Caller;
  /** The owner’s name. */
  owner: string;
  /** In milliseconds since 1970. */
  dueAt: number;
  /** Of the content’s row; empty where it has none. */
  fields: readonly Field[];
}

/** What was made of a content. */
export interface Made {
  files: DeliveryFile[];
  pages: number;
  rows: number;
  /** Words of mails, by target. */
  messages: Map<number, Message>;
  /** The pages, where they are to be kept. */
  kept: { run: KeptResult['run']; pages: PackedPages[]; pictures: Map<string, Uint8Array> } | null;
}

/** What formulas in words read besides the row. */
export const factsOf = (
  { report, owner, dueAt }: Pick<Making, 'report' | 'owner' | 'dueAt'>,
  values: StoredContent['values'],
  host: Caller['session']['parameters'],
  found: { pages: Value; rows: Value },
): Record<string, Value> => {
  const read = readParameters(report, values, { now: dueAt, ...(host ? { host } : {}) });
  const { runAt } = scopesOf({ report, fields: null }, dueAt).values.report;
  const date = new CalendarDate(Math.floor(runAt.wallClock(report.timeZone) / 86_400_000));
  return { ...read.values, report: report.name, date, owner, ...found };
};

/** The words of the mails of a delivery, by target, and the name of its files where it has one of its own. */
export const wordsOf = (
  { delivery, report, fields, dueAt }: Pick<Making, 'delivery' | 'report' | 'fields' | 'dueAt'>,
  row: readonly Value[] | null,
  facts: Record<string, Value>,
): { messages: Map<number, Message>; name: string | null } => {
  const scope = scopesOf({ report, fields }, dueAt).words;
  const filled = (text: string): string => filledMessage(text, scope, row, facts);
  const messages = new Map<number, Message>();
  for (const [i, target] of delivery.to.entries()) {
    if (target.kind !== 'mail') continue;
    // A head has one line.
    const subject = filled(target.subject).replace(/\s+/gu, ' ').trim();
    messages.set(i, { subject, words: filled(target.words) });
  }
  const { fileName: pattern } = delivery;
  return { messages, name: pattern === undefined ? null : filled(pattern).trim() || null };
};

/** Runs the report for a content and makes its files; null where it has no rows and nothing goes without. Throws ApiError. */
export const makeContent = async (
  service: RunService,
  content: StoredContent,
  making: Making,
  signal: AbortSignal,
): Promise<Made | { nothing: { pages: number; rows: number } }> => {
  const { delivery, caller, dueAt, fields } = making;
  const asked = { report: delivery.report, parameters: content.values };
  const run = await service.startDelivered(asked, caller, dueAt, signal);
  const letGo = run.hold();
  try {
    if ((await Promise.race([run.finished(), left(signal)])) === null) {
      run.cancel();
      await run.finished();
      throw signal.reason;
    }
    const state = stateOf(run);
    const { pages, rows } = state;
    if (delivery.onlyWithRows && rows === 0 && state.status === 'done') return { nothing: { pages, rows } };
    const row = content.row && decodedRow(content.row, fields);
    const facts = factsOf(making, content.values, caller.session.parameters, { pages, rows });
    const { messages, name } = wordsOf(making, row, facts);
    const files = await filesOf(service.files, run, delivery, name, signal);
    const isKept = delivery.to.some(({ kind }) => kind === 'kept');
    const kept = isKept ? { run: { state, headings: run.navigation.headings }, ...(await pagesOf(run)) } : null;
    return { files, pages, rows, messages, kept };
  } finally {
    letGo();
  }
};

const filesOf = async (
  service: FilesOfRuns,
  run: Run,
  { files, zip }: Delivery,
  name: string | null,
  signal: AbortSignal,
): Promise<DeliveryFile[]> => {
  const made: DeliveryFile[] = [];
  let bytes = 0;
  const add = async (some: Delivery['files'], isZip: boolean): Promise<void> => {
    const found = service.file(run, run.state, { files: some, asIs: false, isZip });
    const letGo = found.file.hold();
    try {
      const file = await waited(found.file.whole(signal));
      if (!file) throw signal.reason;
      bytes += file.size;
      if (bytes > MOST_BYTES) throw new ApiError('too-large', { limit: `${MOST_BYTES / 1_000_000} MB` });
      const called = `${fileName(name ?? found.name, 'report')}.${found.type.extension}`;
      const whole = await file.read(0, file.size);
      if (!whole) throw new ApiError('run-failed', { detail: '' });
      made.push({ name: called, mime: found.type.mime, bytes: whole });
    } finally {
      letGo();
    }
  };
  if (zip && files.length > 0) await add(files, true);
  else for (const one of files) await add([one], false);
  // A run that has nothing to become must be whole all the same.
  if (files.length === 0 && run.state.status !== 'done')
    throw new ApiError('run-failed', { detail: run.state.said ?? '' });
  return made;
};

/** The pages of a run, packed, with their pictures. */
const pagesOf = async (run: Run): Promise<{ pages: PackedPages[]; pictures: Map<string, Uint8Array> }> => {
  const pages: PackedPages[] = [];
  const pictures = new Map<string, Uint8Array>();
  for (let first = 1; first <= run.pageCount; first += PACKED) {
    const some: string[] = [];
    for (let number = first; number < first + PACKED && number <= run.pageCount; number++)
      some.push((await run.page(number))?.toString('utf8') ?? 'null');
    const text = `[${some.join(',')}]`;
    for (const [, hash] of text.matchAll(/"hash":"([0-9a-f]{64})"/g)) {
      if (pictures.has(hash!)) continue;
      const picture = await run.picture(hash!);
      if (picture) pictures.set(hash!, picture);
    }
    pages.push({ first, bytes: deflateSync(text) });
  }
  return { pages, pictures };
};
