import { Writable } from 'node:stream';
import type { MessagePort } from 'node:worker_threads';
import type { FontBook, Page } from '@gaveta/core';
import { createPdfWriter, loadShippedFonts } from '@gaveta/output';
import { joined } from './calls.ts';
import { giveWay } from './priority.ts';
import type { ThreadCalls } from './thread-pool.ts';

export interface PdfTask {
  title: string;
  pages: number;
  port: MessagePort;
}

/** What writing a PDF asks of the thread in which the pages are. */
export interface PdfCalls {
  /** A page as JSON, by its 1-based number. */
  page(number: number): Promise<Uint8Array>;
  picture(hash: string): Promise<Uint8Array | null>;
  write(data: Uint8Array): Promise<void>;
}

giveWay();

let fonts: Promise<FontBook> | null = null;

/** Bytes that may wait to leave. */
const ROOM = 256 * 1024;

/** Writes a PDF in a thread of its own, from pages that are laid out. */
export default async ({ title, pages, port }: PdfTask): Promise<void> => {
  const ended = new AbortController();
  const ours: ThreadCalls = {
    cancel: async () => ended.abort(),
  };
  const host = joined<PdfCalls>(port, ours);
  fonts ??= loadShippedFonts();
  const send = (data: Uint8Array, done: (error?: Error | null) => void): void => {
    host.write(data).then(() => done(), done);
  };
  const target = new Writable({
    highWaterMark: ROOM,
    write: (chunk: Buffer, _, done) => send(chunk, done),
    // What waits leaves together: a PDF comes in small pieces.
    writev: (chunks, done) => send(Buffer.concat(chunks.map(({ chunk }) => chunk as Buffer)), done),
  });
  const writer = createPdfWriter(target, await fonts, { title, pictures: host.picture });
  try {
    // One page is on its way while the one before is written.
    let next = pages > 0 ? host.page(1) : null;
    for (let number = 2; next !== null; number++) {
      const { late: _, ...page } = JSON.parse(Buffer.from(await next).toString()) as Page;
      next = number <= pages ? host.page(number) : null;
      // Heard when its turn comes.
      next?.catch(() => {});
      await writer.page(page);
      ended.signal.throwIfAborted();
    }
    await writer.end([]);
  } finally {
    await writer.close();
    port.close();
  }
};
