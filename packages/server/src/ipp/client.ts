import {
  attribute,
  decodeIpp,
  encodeIpp,
  type IppAttribute,
  type IppMessage,
  ippOpening,
  ippValue,
} from './message.ts';
import { OPERATIONS, SIDES } from './operations.ts';

/** A printer said no, or could not be reached. */
export class PrinterError extends Error {
  constructor(
    words: string,
    /** It may say yes later. */
    readonly isTemporary: boolean,
  ) {
    super(words);
  }
}

/** What is printed. */
export interface PrintJob {
  name: string;
  user: string;
  mime: string;
  bytes: Uint8Array;
  copies: number;
  sides: keyof typeof SIDES;
}

/** Bytes of an answer. */
const MOST_ANSWER = 4_000_000;
const VERSION = 0x0101;

/** The address of a printer over HTTP: `ipp:` means its port 631 (RFC 8010, section 4). */
const httpOf = (printer: string): string => {
  const url = new URL(printer);
  if (url.protocol === 'http:' || url.protocol === 'https:') return url.href;
  const port = url.port || '631';
  return `${url.protocol === 'ipps:' ? 'https' : 'http'}://${url.hostname}:${port}${url.pathname}${url.search}`;
};

/** As the protocol names it, whichever way it was written. */
const uriOf = (printer: string): string => {
  const url = new URL(printer);
  if (url.protocol === 'ipp:' || url.protocol === 'ipps:') return printer;
  const port = url.port || (url.protocol === 'https:' ? '443' : '80');
  return `${url.protocol === 'https:' ? 'ipps' : 'ipp'}://${url.hostname}:${port}${url.pathname}`;
};

const asked = async (
  printer: string,
  code: number,
  groups: IppMessage['groups'],
  document: Uint8Array | null,
  signal: AbortSignal,
): Promise<IppMessage> => {
  const head = encodeIpp({ version: VERSION, code, requestId: 1, groups });
  let answer: Response;
  try {
    answer = await fetch(httpOf(printer), {
      method: 'POST',
      headers: { 'content-type': 'application/ipp' },
      body: document ? Buffer.concat([head, document]) : head,
      signal,
      redirect: 'error',
    });
  } catch (error) {
    if (signal.aborted) throw error;
    throw new PrinterError('the printer cannot be reached.', true);
  }
  if (!answer.ok) {
    await answer.body?.cancel();
    throw new PrinterError(`the printer answered with HTTP status ${answer.status}.`, answer.status >= 500);
  }
  const bytes = Buffer.from(await answer.arrayBuffer());
  if (bytes.length > MOST_ANSWER) throw new PrinterError('the printer’s answer is too long.', false);
  try {
    return decodeIpp(bytes).message;
  } catch {
    throw new PrinterError('what the printer answered is no answer of a printer.', false);
  }
};

/** Throws unless a printer said yes. */
const checked = (answer: IppMessage): IppMessage => {
  if (answer.code < 0x0100) return answer;
  const words = ippValue(answer, 'operation', 'status-message');
  const said =
    typeof words === 'string' && words !== '' ? words : `status 0x${answer.code.toString(16).padStart(4, '0')}`;
  // Server errors may pass, as a printer that is busy (RFC 8011, appendix B.1.5).
  throw new PrinterError(`the printer refused it: ${said}.`, answer.code >= 0x0500 && answer.code !== 0x0501);
};

const about = (printer: string, user: string): IppAttribute[] => [
  ...ippOpening(),
  attribute('printer-uri', 'uri', uriOf(printer)),
  attribute('requesting-user-name', 'name', user),
];

/** The number of a job of this name that the printer has or had; null where it knows of none. */
const jobNamed = async (printer: string, { name, user }: PrintJob, signal: AbortSignal): Promise<number | null> => {
  for (const which of ['not-completed', 'completed']) {
    const attributes = [
      ...about(printer, user),
      attribute('which-jobs', 'keyword', which),
      attribute('limit', 'integer', 500),
      attribute('requested-attributes', 'keyword', 'job-id', 'job-name'),
    ];
    const answer = await asked(printer, OPERATIONS.getJobs, [{ group: 'operation', attributes }], null, signal);
    // Not every printer tells which jobs it has.
    if (answer.code >= 0x0100) continue;
    for (const { group, attributes: own } of answer.groups) {
      if (group !== 'job') continue;
      const value = (wanted: string) => own.find((one) => one.name === wanted)?.values[0];
      if (value('job-name') === name) return Number(value('job-id'));
    }
  }
  return null;
};

/**
 * Prints a file, once: a job of the same name that the printer already has is this one. Gives the job’s number. Throws PrinterError.
 * `isFirst`: it was not tried before, so that the printer cannot have it.
 */
export const printOnce = async (
  printer: string,
  job: PrintJob,
  isFirst: boolean,
  signal: AbortSignal,
): Promise<number> => {
  const there = isFirst ? null : await jobNamed(printer, job, signal);
  if (there !== null) return there;
  const { name, user, mime, bytes, copies, sides } = job;
  const operation = [
    ...about(printer, user),
    attribute('job-name', 'name', name),
    attribute('ipp-attribute-fidelity', 'boolean', false),
    attribute('document-format', 'mime', mime),
  ];
  const wanted = [attribute('copies', 'integer', copies), attribute('sides', 'keyword', SIDES[sides])];
  const groups: IppMessage['groups'] = [
    { group: 'operation', attributes: operation },
    { group: 'job', attributes: wanted },
  ];
  const answer = checked(await asked(printer, OPERATIONS.printJob, groups, bytes, signal));
  return Number(ippValue(answer, 'job', 'job-id') ?? 0);
};
