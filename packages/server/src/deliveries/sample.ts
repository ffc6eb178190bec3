import type { AnswerOf } from '@gaveta/core/contract';
import {
  type Delivery,
  type DeliveryContext,
  deliveredValues,
  deliveryProblems,
  type Field,
  type Report,
  scopesOf,
  type Value,
  type WireRow,
} from '@gaveta/core/internal';
import { fileName } from '@gaveta/output/file-name';
import type { Caller } from '../services/call.ts';
import { decodedRow, type EachRows } from './each-rows.ts';
import { factsOf, wordsOf } from './make-content.ts';
import type { DeliveryOptions } from './options.ts';
import { labelOf, plannedContents } from './plan-run.ts';

type Sample = AnswerOf<'POST /deliveries/check'>['samples'][number];

/** Rows for which a sample is shown. */
const MOST_SAMPLES = 3;

/** What is not known before a run. */
const UNKNOWN = '…';

/** What deliveries are held against, by what the application registered. */
export const contextOf = (
  { mail, folders = {}, addresses = {}, printers = {}, people }: DeliveryOptions,
  report: Report,
  fields: readonly Field[] | null,
  now: number,
): DeliveryContext => ({
  ...{ report, fields, now, hasMail: mail !== undefined, hasPeople: people !== undefined },
  ...{ folders: Object.keys(folders), addresses: Object.keys(addresses), printers: Object.keys(printers) },
});

export interface Sampling {
  delivery: Delivery;
  report: Report;
  options: DeliveryOptions;
  caller: Caller;
  checkAddress: (address: string) => void;
  now: number;
  /** The rows that get a part each; null: there are none. */
  rows: EachRows | null;
}

/** What a delivery would send now, for the first rows: its words, file names and addresses. It runs nothing. */
export const samplesOf = async (sampling: Sampling): Promise<Sample[]> => {
  const { delivery, report, options, caller, checkAddress, now, rows } = sampling;
  const shown: (WireRow | null)[] = rows ? rows.rows.slice(0, MOST_SAMPLES) : [null];
  const fields = rows?.fields ?? [];
  const planned = await plannedContents({
    ...{ delivery, report, dueAt: now, owner: caller, people: options.people ?? null, checkAddress },
    rows: async () => ({ fields, rows: shown.filter((row) => row !== null) }),
  });
  return planned.map((content, i): Sample => {
    const row = shown[i] ? decodedRow(shown[i], fields) : null;
    const about = { delivery, report, fields, dueAt: now, owner: caller.user };
    const facts = factsOf(about, content.values, caller.session.parameters, { pages: UNKNOWN, rows: UNKNOWN });
    const { messages, name } = wordsOf(about, row, facts);
    const mails = [...messages].map(([target, message]) => ({
      ...{ target, ...message },
      to: content.parts.filter((part) => part.target === target && !part.said).map(({ to }) => to),
    }));
    const values = Object.fromEntries(Object.entries(content.values).map(([key, value]) => [key, String(value ?? '')]));
    return {
      ...{ label: row ? labelOf(fields, row) : '', values, mails },
      fileNames: delivery.files.map(({ output }) => `${fileName(name ?? report.name, 'report')}.${output}`),
    };
  });
};

/** What is wrong with a delivery for its first row, where it has rows; what is wrong whatever the row says, else. */
export const problemsOf = (
  delivery: Delivery,
  context: DeliveryContext,
  rows: EachRows | null,
): ReturnType<typeof deliveryProblems> => {
  const problems = deliveryProblems(delivery, context);
  const [first] = rows?.rows ?? [];
  if (problems.length > 0 || !rows || !first) return problems;
  const row: Value[] = decodedRow(first, rows.fields);
  const scope = scopesOf({ report: context.report, fields: rows.fields }, context.now).values;
  return deliveredValues(delivery.values, context.report.parameters, scope, row).problems;
};
