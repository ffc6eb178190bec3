import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import {
  attribute,
  decodeIpp,
  encodeIpp,
  type IppAttribute,
  IppError,
  type IppMessage,
  ippOpening,
  ippValue,
} from '../ipp/message.ts';
import { JOB_STATES, type JobState, OPERATIONS, STATUS } from '../ipp/operations.ts';

/** A job in the tray. */
export interface TrayJob {
  id: number;
  /** When it came; ISO 8601. */
  at: string;
  name: string;
  user: string;
  mime: string;
  /** Bytes. */
  size: number;
  copies: number;
  /** As IPP names it: `one-sided`. */
  sides: string;
  state: Extract<JobState, 'pending' | 'processing' | 'completed' | 'canceled' | 'aborted'>;
}

/** A printer that keeps what it gets, in the place of real ones: for demonstrations and tests. */
export interface PrinterTray {
  /** `ipp://127.0.0.1:…/ipp/print`. */
  address: string;
  /** The newest first. */
  jobs(): TrayJob[];
  /** What a job would print; null where there is none. */
  document(id: number): Buffer | null;
  /** Drops all jobs. */
  empty(): void;
  close(): Promise<void>;
}

export interface PrinterTrayOptions {
  /** As it calls itself; “Tray” when left out. */
  name?: string;
  /** 0, any free one, when left out. It listens on this machine alone. */
  port?: number;
  /** Jobs that are kept; the oldest go. */
  most?: number;
}

/** Bytes of one request. */
const MOST_BYTES = 200_000_000;
const PATH = '/ipp/print';
const FORMATS = ['application/pdf', 'image/png', 'image/jpeg', 'text/plain', 'application/octet-stream'];
const VERSIONS = new Map([
  [0x0101, '1.1'],
  [0x0200, '2.0'],
]);

interface KeptJob extends TrayJob {
  document: Buffer | null;
  createdAt: Date;
}

/** Opens a printer that keeps what it gets (IPP/1.1 and 2.0, RFC 8011). */
export const openPrinterTray = async ({
  name = 'Tray',
  port = 0,
  most = 200,
}: PrinterTrayOptions = {}): Promise<PrinterTray> => {
  const jobs = new Map<number, KeptJob>();
  const started = Date.now();
  let next = 1;
  let address = '';

  const seconds = (at: Date): number => Math.max(1, Math.floor((at.getTime() - started) / 1000));
  const keep = (job: Omit<KeptJob, 'id' | 'at' | 'createdAt'>): KeptJob => {
    const createdAt = new Date();
    const kept = { ...job, id: next++, at: createdAt.toISOString(), createdAt };
    jobs.set(kept.id, kept);
    for (const id of jobs.keys()) {
      if (jobs.size <= most) break;
      jobs.delete(id);
    }
    return kept;
  };

  const jobAttributes = (job: KeptJob): IppAttribute[] => [
    attribute('job-id', 'integer', job.id),
    attribute('job-uri', 'uri', `${address}/${job.id}`),
    attribute('job-printer-uri', 'uri', address),
    attribute('job-uuid', 'uri', `urn:uuid:00000000-0000-4000-8000-${String(job.id).padStart(12, '0')}`),
    attribute('job-name', 'name', job.name),
    attribute('job-originating-user-name', 'name', job.user),
    attribute('job-state', 'enum', JOB_STATES[job.state]),
    attribute('job-state-reasons', 'keyword', job.state === 'completed' ? 'job-completed-successfully' : 'none'),
    attribute('job-state-message', 'text', ''),
    attribute('job-k-octets', 'integer', Math.ceil(job.size / 1024)),
    attribute('job-impressions', 'integer', 1),
    attribute('job-printer-up-time', 'integer', seconds(new Date())),
    attribute('time-at-creation', 'integer', seconds(job.createdAt)),
    attribute('time-at-processing', 'integer', seconds(job.createdAt)),
    attribute('time-at-completed', job.state === 'completed' ? 'integer' : 'no-value', seconds(job.createdAt)),
    attribute('date-time-at-creation', 'dateTime', job.createdAt),
    attribute('document-format-supplied', 'mime', job.mime),
    attribute('copies', 'integer', job.copies),
    attribute('sides', 'keyword', job.sides),
  ];

  const printerAttributes = (): IppAttribute[] => [
    attribute('printer-uri-supported', 'uri', address),
    attribute('uri-security-supported', 'keyword', 'none'),
    attribute('uri-authentication-supported', 'keyword', 'none'),
    attribute('printer-name', 'name', name),
    attribute('printer-info', 'text', name),
    attribute('printer-location', 'text', ''),
    attribute('printer-make-and-model', 'text', 'Gaveta tray'),
    attribute('printer-more-info', 'uri', address.replace(/^ipp:/, 'http:')),
    attribute('printer-uuid', 'uri', 'urn:uuid:00000000-0000-4000-8000-000000000000'),
    attribute('printer-state', 'enum', 3),
    attribute('printer-state-reasons', 'keyword', 'none'),
    attribute('printer-state-message', 'text', ''),
    attribute('printer-is-accepting-jobs', 'boolean', true),
    attribute('printer-up-time', 'integer', seconds(new Date())),
    attribute('printer-current-time', 'dateTime', new Date()),
    attribute('queued-job-count', 'integer', [...jobs.values()].filter(({ state }) => state === 'pending').length),
    attribute('ipp-versions-supported', 'keyword', ...VERSIONS.values()),
    attribute('operations-supported', 'enum', ...Object.values(OPERATIONS)),
    attribute('charset-configured', 'charset', 'utf-8'),
    attribute('charset-supported', 'charset', 'utf-8'),
    attribute('natural-language-configured', 'language', 'en'),
    attribute('generated-natural-language-supported', 'language', 'en'),
    attribute('document-format-default', 'mime', 'application/pdf'),
    attribute('document-format-supported', 'mime', ...FORMATS),
    attribute('compression-supported', 'keyword', 'none'),
    attribute('pdl-override-supported', 'keyword', 'not-attempted'),
    attribute('multiple-document-jobs-supported', 'boolean', false),
    attribute('copies-default', 'integer', 1),
    attribute('copies-supported', 'range', [1, 99]),
    attribute('sides-default', 'keyword', 'one-sided'),
    attribute('sides-supported', 'keyword', 'one-sided', 'two-sided-long-edge', 'two-sided-short-edge'),
    attribute('media-default', 'keyword', 'iso_a4_210x297mm'),
    attribute('media-supported', 'keyword', 'iso_a4_210x297mm', 'iso_a5_148x210mm', 'na_letter_8.5x11in'),
    attribute('media-ready', 'keyword', 'iso_a4_210x297mm'),
    attribute('orientation-requested-default', 'enum', 3),
    attribute('orientation-requested-supported', 'enum', 3, 4, 5, 6),
    attribute('output-bin-default', 'keyword', 'face-down'),
    attribute('output-bin-supported', 'keyword', 'face-down'),
    attribute('print-quality-default', 'enum', 4),
    attribute('print-quality-supported', 'enum', 4),
    attribute('printer-resolution-default', 'resolution', [600, 600]),
    attribute('printer-resolution-supported', 'resolution', [600, 600]),
    attribute('finishings-default', 'enum', 3),
    attribute('finishings-supported', 'enum', 3),
    attribute('color-supported', 'boolean', true),
    attribute('pages-per-minute', 'integer', 60),
    attribute('pages-per-minute-color', 'integer', 60),
  ];

  const answerTo = (request: IppMessage, document: Buffer): IppMessage => {
    const answer = (code: number, groups: IppMessage['groups'] = [], words = ''): IppMessage => ({
      version: VERSIONS.has(request.version) ? request.version : 0x0101,
      code,
      requestId: request.requestId,
      groups: [
        {
          group: 'operation',
          attributes: [...ippOpening(), ...(words ? [attribute('status-message', 'text', words)] : [])],
        },
        ...groups,
      ],
    });
    const refused = (code: number, words: string): IppMessage => answer(code, [], words);
    if (!VERSIONS.has(request.version))
      return refused(STATUS.versionNotSupported, 'Versions 1.1 and 2.0 are supported.');
    if (request.requestId < 1) return refused(STATUS.badRequest, 'The request has no number.');
    const [first] = request.groups;
    const opening = first?.group === 'operation' ? first.attributes.slice(0, 2).map((one) => one.name) : [];
    if (opening[0] !== 'attributes-charset' || opening[1] !== 'attributes-natural-language')
      return refused(STATUS.badRequest, 'The charset and the language must come first.');
    if (ippValue(request, 'operation', 'attributes-charset') !== 'utf-8')
      return refused(STATUS.charsetNotSupported, 'Only utf-8 is supported.');
    const value = (wanted: string) => ippValue(request, 'operation', wanted);
    const uri = value('printer-uri') ?? value('job-uri');
    if (typeof uri !== 'string' || !URL.canParse(uri))
      return refused(STATUS.badRequest, 'It is not said which printer.');
    if (!new URL(uri).pathname.startsWith(PATH)) return refused(STATUS.notFound, 'There is no such printer.');

    /** Of a list of groups or names; all where none are asked for. */
    const asked = (all: readonly IppAttribute[]): IppAttribute[] => {
      const wanted = first!.attributes.find((one) => one.name === 'requested-attributes')?.values.map(String) ?? [
        'all',
      ];
      const groups = ['all', 'job-template', 'job-description', 'printer-description', 'media-col-database'];
      return wanted.some((one) => groups.includes(one)) ? [...all] : all.filter((one) => wanted.includes(one.name));
    };
    const format = String(value('document-format') ?? 'application/octet-stream');
    const isKnown = FORMATS.includes(format);
    const ofJob = (state: KeptJob['state'], bytes: Buffer | null): Omit<KeptJob, 'id' | 'at' | 'createdAt'> => ({
      name: String(value('job-name') ?? 'Untitled'),
      user: String(value('requesting-user-name') ?? 'anonymous'),
      mime: format,
      size: bytes?.length ?? 0,
      copies: Number(ippValue(request, 'job', 'copies') ?? 1),
      sides: String(ippValue(request, 'job', 'sides') ?? 'one-sided'),
      state,
      // The request’s own buffer is let go of.
      document: bytes && Buffer.from(bytes),
    });
    const jobOf = (): KeptJob | undefined => {
      const id =
        value('job-id') ??
        Number(
          String(value('job-uri') ?? '')
            .split('/')
            .at(-1),
        );
      return jobs.get(Number(id));
    };
    const told = (job: KeptJob): IppMessage =>
      answer(STATUS.ok, [{ group: 'job', attributes: jobAttributes(job).slice(0, 9) }]);

    switch (request.code) {
      case OPERATIONS.getPrinterAttributes:
        return answer(STATUS.ok, [{ group: 'printer', attributes: asked(printerAttributes()) }]);
      case OPERATIONS.validateJob:
        return isKnown ? answer(STATUS.ok) : refused(STATUS.formatNotSupported, `${format} is not printed here.`);
      case OPERATIONS.printJob:
        if (!isKnown) return refused(STATUS.formatNotSupported, `${format} is not printed here.`);
        if (document.length === 0) return refused(STATUS.badRequest, 'There is nothing to print.');
        return told(keep(ofJob('completed', document)));
      case OPERATIONS.createJob:
        return told(keep(ofJob('pending', null)));
      case OPERATIONS.sendDocument: {
        const job = jobOf();
        if (!job) return refused(STATUS.notFound, 'There is no such job.');
        if (value('last-document') === undefined)
          return refused(STATUS.badRequest, 'It is not said whether more follows.');
        if (job.state !== 'pending' || job.document)
          return refused(STATUS.notPossible, 'The job takes no more documents.');
        if (!isKnown) return refused(STATUS.formatNotSupported, `${format} is not printed here.`);
        Object.assign(job, {
          document: Buffer.from(document),
          size: document.length,
          mime: format,
          state: 'completed',
        });
        return told(job);
      }
      case OPERATIONS.cancelJob: {
        const job = jobOf();
        if (!job) return refused(STATUS.notFound, 'There is no such job.');
        if (job.state !== 'pending') return refused(STATUS.notPossible, 'The job is over.');
        job.state = 'canceled';
        return answer(STATUS.ok);
      }
      case OPERATIONS.getJobAttributes: {
        const job = jobOf();
        if (!job) return refused(STATUS.notFound, 'There is no such job.');
        return answer(STATUS.ok, [{ group: 'job', attributes: asked(jobAttributes(job)) }]);
      }
      case OPERATIONS.getJobs: {
        const isOver = value('which-jobs') === 'completed';
        const own = value('my-jobs') === true ? value('requesting-user-name') : undefined;
        const limit = Number(value('limit') ?? most);
        const found = [...jobs.values()]
          .filter(({ state, user }) => (state === 'pending') !== isOver && (own === undefined || user === own))
          .reverse()
          .slice(0, limit);
        const isAsked = first!.attributes.some((one) => one.name === 'requested-attributes');
        return answer(
          STATUS.ok,
          found.map((job) => ({
            group: 'job' as const,
            attributes: isAsked ? asked(jobAttributes(job)) : jobAttributes(job).slice(0, 2),
          })),
        );
      }
      default:
        return refused(STATUS.operationNotSupported, 'This printer does not do that.');
    }
  };

  const take = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    if (request.method !== 'POST' || request.headers['content-type'] !== 'application/ipp') {
      response.writeHead(request.method === 'POST' ? 415 : 405).end();
      return;
    }
    const chunks: Buffer[] = [];
    let size = 0;
    for await (const chunk of request as AsyncIterable<Buffer>) {
      size += chunk.length;
      if (size > MOST_BYTES) {
        response.writeHead(413).end();
        return;
      }
      chunks.push(chunk);
    }
    const { message, rest } = decodeIpp(Buffer.concat(chunks));
    response.writeHead(200, { 'content-type': 'application/ipp' }).end(encodeIpp(answerTo(message, rest)));
  };
  const server: Server = createServer((request, response) => {
    take(request, response).catch((error: unknown) => {
      if (!response.headersSent) response.writeHead(error instanceof IppError ? 400 : 500).end();
      else response.destroy();
    });
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  address = `ipp://127.0.0.1:${(server.address() as AddressInfo).port}${PATH}`;
  return {
    address,
    jobs: () => [...jobs.values()].reverse().map(({ document: _, createdAt: _at, ...job }) => job),
    document: (id) => jobs.get(id)?.document ?? null,
    empty: () => jobs.clear(),
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
  };
};
