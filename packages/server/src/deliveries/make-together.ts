import {
  type DeliveredValue,
  type Delivery,
  deliveredValues,
  type GivenValue,
  messageProblems,
  scopesOf,
} from '@gaveta/core/internal';
import { fileName } from '@gaveta/output/file-name';
import { fileTypeOf } from '@gaveta/output/output';
import { runLimits } from '../base/limits.ts';
import { GRACE } from '../runs/run-request.ts';
import type { MadeContent, StoredContent } from '../store/delivery-records.ts';
import type { MadePart } from '../threads/job.ts';
import { decodedRow } from './each-rows.ts';
import type { MadeFiles } from './made-files.ts';
import { factsOf, type Making, wordsOf } from './make-content.ts';
import { NotDelivered } from './outcome.ts';
import type { WorkerParts } from './worker-parts.ts';

/** Contents from which on their rows are read together. */
const FEWEST = 5;
/** Written to the store at once. */
const MOST_WRITTEN = 50;
const MOST_BYTES = 4_000_000;

/** Formulas whose values depend on the row, and the values that do not, by parameter. */
const partedValues = (
  values: Delivery['values'],
  { report, dueAt, fields }: Making,
): { links: Record<string, string>; constant: Record<string, DeliveredValue> } => {
  const without = scopesOf({ report, fields: null }, dueAt).values;
  const links: Record<string, string> = {};
  const constant: Record<string, DeliveredValue> = {};
  for (const [name, value] of Object.entries(values)) {
    const isOfRow =
      fields.length > 0 &&
      typeof value === 'object' &&
      'formula' in value &&
      messageProblems(`{${value.formula}}`, without).length > 0;
    if (isOfRow) links[name] = (value as { formula: string }).formula;
    else constant[name] = value;
  }
  return { links, constant };
};

/** Whether rows decide on the language: then each part is a report of its own. */
const isOfLanguages = ({ languageFrom }: Making['report'], links: Readonly<Record<string, string>>): boolean =>
  typeof languageFrom === 'object' && Object.hasOwn(links, languageFrom.parameter);

/** Whether the contents of a delivery may be made over rows that are read together. */
export const mayBeTogether = ({ each, to, files, zip }: Delivery, { gate, service }: WorkerParts): boolean =>
  each !== undefined &&
  each.rowsOf === 'owner' &&
  !zip &&
  files.length > 0 &&
  // Pages are kept of a run; and a host that is asked about each run is asked about each.
  !to.some(({ kind }) => kind === 'kept') &&
  !gate.hooks.beforeRun &&
  !gate.hooks.afterRun &&
  files.every(({ output, options }) => !service.files.output(output, options).attaches?.(options as never));

/**
 * Makes contents of a run over rows that are read together. Gives those that are left to be made by themselves:
 * all of them where their rows cannot be read together. `woken` is called when parts can be sent.
 */
export const makeTogether = async (
  contents: readonly StoredContent[],
  making: Making,
  parts: WorkerParts & { files: MadeFiles },
  signal: AbortSignal,
  woken: () => void,
): Promise<readonly StoredContent[]> => {
  const { store, service, clock, limits } = parts;
  const { delivery, report, caller, dueAt } = making;
  const { links, constant } = partedValues(delivery.values, making);
  if (contents.length < FEWEST || isOfLanguages(report, links)) return contents;
  const scope = scopesOf({ report, fields: null }, dueAt).values;
  const { values } = deliveredValues(constant, report.parameters, scope);
  const asked = { report: delivery.report, parameters: contents[0]!.values };
  const request = await service.requestDelivered(asked, caller, dueAt, signal);
  const byPlace = new Map(contents.map((content) => [content.place, content]));
  const last = Math.max(...byPlace.keys());
  const wanted = Array.from({ length: last + 1 }, (_, place) => byPlace.get(place)?.values ?? null);
  const waiting: MadeContent[] = [];
  let bytes = 0;
  let written: Promise<void> = Promise.resolve();
  /** Writes what waits while more is made, some at a time. */
  const flush = async (): Promise<void> => {
    const made = waiting.splice(0);
    bytes = 0;
    await written;
    if (made.length === 0) return;
    written = (async () => {
      await store.deliveryRuns.made(made, clock.now());
      for (const { content, files } of made) parts.files.keep(content, files);
      woken();
    })();
    // Whoever waits for it next hears of it.
    written.catch(() => {});
  };
  const done = new Set<StoredContent>();
  const take = async (made: MadePart): Promise<void> => {
    const content = byPlace.get(made.place)!;
    // What is not whole is made by itself, and tried again where that may help.
    if (made.problems.some(({ severity }) => severity === 'error')) return;
    done.add(content);
    if (delivery.onlyWithRows && made.rows === 0)
      await store.deliveryRuns.nothing(content.id, { pages: made.pages, rows: 0 });
    else {
      waiting.push(namedContent(content, made, making, parts, request.job));
      bytes += made.files.reduce((sum, file) => sum + file.byteLength, 0);
      if (waiting.length >= MOST_WRITTEN || bytes >= MOST_BYTES) await flush();
    }
  };
  const task = {
    ...{ kind: 'parts' as const, steps: delivery.each!.steps, links, values: values as Record<string, GivenValue> },
    ...{ parts: wanted, files: delivery.files, author: caller.user },
    limits: runLimits(limits),
  };
  try {
    const { job, rows } = request;
    const seconds = limits.maxSeconds + GRACE;
    await parts.threads.work(task, { job, rows, signal, seconds }, { part: take });
  } catch (error) {
    // What is being written has an owner to its end.
    if (signal.aborted) await written.catch(() => {});
    signal.throwIfAborted();
    // Each by itself tells what is wrong with it.
    parts.log(error);
  } finally {
    await request.close?.().catch(() => {});
  }
  await flush();
  await written;
  return contents.filter((content) => !done.has(content));
};

/** What was made of a content, with the names of its files and the words of its mails. */
const namedContent = (
  content: StoredContent,
  made: MadePart,
  making: Making,
  { service }: WorkerParts,
  job: Parameters<WorkerParts['service']['files']['nameOf']>[0]['request']['job'],
): MadeContent => {
  const { delivery, report, caller, fields } = making;
  const { pages, rows } = made;
  const row = content.row && decodedRow(content.row, fields);
  const facts = factsOf(making, content.values, caller.session.parameters, { pages, rows });
  const { messages, name } = wordsOf(making, row, facts);
  const own = name ?? service.files.nameOf({ report, request: { job: { ...job, parameters: content.values } } });
  const files = delivery.files.map(({ output, options }, i) => {
    const { extension, mime } = fileTypeOf(service.files.output(output, options), options);
    const bytes = made.files[i];
    if (!bytes)
      throw new NotDelivered({ code: 'delivery-not-made', severity: 'error', place: {}, data: { detail: '' } }, true);
    return { name: `${fileName(own, 'report')}.${extension}`, mime, bytes };
  });
  return { content: content.id, files, pages, rows, messages };
};
