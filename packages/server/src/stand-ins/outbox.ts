import { randomUUID } from 'node:crypto';
import type { AddressInfo } from 'node:net';
import { type AddressObject, simpleParser } from 'mailparser';
import { SMTPServer, type SMTPServerDataStream } from 'smtp-server';

/** A mail in the outbox. */
export interface OutboxMail {
  id: string;
  /** When it came; ISO 8601. */
  at: string;
  from: string;
  /** Who it was sent to, whatever its head says. */
  to: string[];
  subject: string;
  words: string;
  messageId: string;
  attachments: { place: number; name: string; mime: string; size: number }[];
}

/** A mail server that keeps what it gets, in the place of a real one: for demonstrations and tests. Nothing leaves the machine. */
export interface Outbox {
  /** `smtp://127.0.0.1:…`. */
  address: string;
  /** The newest first. */
  mails(): OutboxMail[];
  /** A file of a mail; null where there is none. */
  attachment(id: string, place: number): { name: string; mime: string; bytes: Buffer } | null;
  empty(): void;
  close(): Promise<void>;
}

export interface OutboxOptions {
  /** 0, any free one, when left out. It listens on this machine alone. */
  port?: number;
  /** Mails that are kept; the oldest go. */
  most?: number;
  /** Bytes of one mail. */
  mostBytes?: number;
}

interface KeptMail extends OutboxMail {
  files: Buffer[];
}

const textOf = (address: AddressObject | undefined): string => address?.text ?? '';

/** Opens a mail server that keeps what it gets. A mail with a Message-ID that it has is taken once (RFC 5322, section 3.6.4). */
export const openOutbox = async ({
  port = 0,
  most = 500,
  mostBytes = 50_000_000,
}: OutboxOptions = {}): Promise<Outbox> => {
  const mails = new Map<string, KeptMail>();
  /** Also of those that went: none is taken again. */
  const known = new Set<string>();

  const take = async (stream: SMTPServerDataStream, from: string, to: string[]): Promise<void> => {
    const mail = await simpleParser(stream, { skipHtmlToText: true, skipTextToHtml: true });
    if (stream.sizeExceeded) throw Object.assign(new Error('The mail is too large.'), { responseCode: 552 });
    const messageId = mail.messageId ?? `<${randomUUID()}>`;
    if (known.has(messageId)) return;
    known.add(messageId);
    const attachments = mail.attachments.map(({ filename, contentType, size }, place) => ({
      ...{ place, name: filename ?? `file ${place + 1}`, mime: contentType, size },
    }));
    const id = randomUUID();
    mails.set(id, {
      ...{ id, at: new Date().toISOString(), from: textOf(mail.from) || from, to, subject: mail.subject ?? '' },
      ...{ words: mail.text ?? '', messageId, attachments, files: mail.attachments.map(({ content }) => content) },
    });
    for (const old of mails.keys()) {
      if (mails.size <= most) break;
      mails.delete(old);
    }
  };

  const server = new SMTPServer({
    name: 'outbox',
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    disableReverseLookup: true,
    size: mostBytes,
    logger: false,
    onData(stream, session, done) {
      const from = session.envelope.mailFrom ? session.envelope.mailFrom.address : '';
      const to = session.envelope.rcptTo.map(({ address }) => address);
      take(stream, from, to).then(() => done(), done);
    },
  });
  // A connection that breaks off is the sender’s own affair.
  server.on('error', () => {});
  await new Promise<void>((resolve, reject) => {
    server.server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  return {
    address: `smtp://127.0.0.1:${(server.server.address() as AddressInfo).port}`,
    mails: () => [...mails.values()].reverse().map(({ files: _, ...mail }) => mail),
    attachment: (id, place) => {
      const mail = mails.get(id);
      const facts = mail?.attachments[place];
      const bytes = mail?.files[place];
      return facts && bytes ? { name: facts.name, mime: facts.mime, bytes } : null;
    },
    empty: () => mails.clear(),
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
};
