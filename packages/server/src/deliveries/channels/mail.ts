import type { Transporter } from 'nodemailer';
import type { MailOptions } from '../options.ts';
import { NotDelivered, notDelivered, notSent } from '../outcome.ts';
import type { Channel } from './channel.ts';

/** Bytes of the files of one mail. */
const MOST_BYTES = 20_000_000;
/** Milliseconds for which a server may be silent. */
const PATIENCE = 60_000;

/** A mail, with an id by which its receiver knows it again. */
export interface Mail {
  id: string;
  to: readonly string[];
  subject: string;
  words: string;
  files: readonly { name: string; mime: string; bytes: Uint8Array }[];
}

/** What nodemailer throws. */
interface MailError {
  code?: string;
  responseCode?: number;
  response?: string;
  message?: string;
}

/** Sends mails by a server; each has a Message-ID made of its own id, so that one which is sent again is the same mail. */
export class Mailer {
  private transport: Promise<Transporter> | null = null;
  private readonly domain: string;

  constructor(private readonly options: MailOptions) {
    this.domain = /@([^\s@>]+)>?\s*$/.exec(options.from)?.[1] ?? 'gaveta.invalid';
  }

  /** Throws NotDelivered where mails may not go to an address. */
  checkAddress(address: string): void {
    const { allowed } = this.options;
    if (allowed && !allowed.some((end) => address.toLowerCase().endsWith(end.toLowerCase())))
      throw notDelivered('delivery-address-refused', { name: address });
  }

  /** Gives what the server answered. Throws NotDelivered. */
  async send({ id, to, subject, words, files }: Mail, signal: AbortSignal): Promise<string> {
    for (const address of to) this.checkAddress(address);
    const { from, mostBytes = MOST_BYTES } = this.options;
    const bytes = files.reduce((sum, file) => sum + file.bytes.byteLength, 0);
    if (bytes > mostBytes)
      throw notDelivered('delivery-too-large', { size: inMegabytes(bytes), limit: inMegabytes(mostBytes) });
    const transport = await this.open();
    signal.throwIfAborted();
    try {
      const sent = (await transport.sendMail({
        ...{ from, to: [...to], subject, text: words, messageId: `<${id}@${this.domain}>` },
        // Nobody is away to a program (RFC 3834, section 5).
        headers: { 'Auto-Submitted': 'auto-generated' },
        attachments: files.map((file) => ({
          filename: file.name,
          contentType: file.mime,
          content: Buffer.from(file.bytes.buffer, file.bytes.byteOffset, file.bytes.byteLength),
        })),
        disableFileAccess: true,
        disableUrlAccess: true,
      })) as { response?: string };
      return sent.response ?? '';
    } catch (error) {
      throw asNotSent(error as MailError);
    }
  }

  close(): void {
    void this.transport?.then((transport) => transport.close()).catch(() => {});
    this.transport = null;
  }

  private open(): Promise<Transporter> {
    this.transport ??= (async () => {
      const { createTransport } = await import('nodemailer');
      const { server } = this.options;
      const patience = { connectionTimeout: PATIENCE, greetingTimeout: PATIENCE, socketTimeout: PATIENCE };
      const pooled = { pool: true as const, maxConnections: 4, maxMessages: 200, ...patience };
      if (typeof server === 'string') return createTransport({ url: server, ...pooled } as object) as Transporter;
      const { user, password, ...place } = server;
      const auth = user === undefined ? {} : { auth: { user, pass: password ?? '' } };
      return createTransport({ ...place, ...auth, ...pooled } as object) as Transporter;
    })();
    return this.transport;
  }
}

const inMegabytes = (bytes: number): string => `${(bytes / 1_000_000).toFixed(1)} MB`;

/** Servers refuse for good with 5xx, and for now with 4xx (RFC 5321, section 4.2.1); one that is not there may come back. */
const asNotSent = ({ code, responseCode, response, message }: MailError): NotDelivered => {
  const words = (response ?? message ?? code ?? '').replace(/[.\s]*$/, '.');
  const isRefused = responseCode !== undefined && responseCode >= 500;
  return notSent(words, !isRefused && code !== 'EENVELOPE' && code !== 'EAUTH');
};

export const mailChannel = (mailer: Mailer | null): Channel<'mail'> => ({
  send: async ({ part, files }, signal) => {
    if (!mailer) throw new NotDelivered(notDelivered('delivery-no-mail').said, true);
    const { subject, words } = part.message ?? { subject: '', words: '' };
    return mailer.send({ id: part.id, to: part.to.split(', '), subject, words, files }, signal);
  },
  close: () => mailer?.close(),
});
