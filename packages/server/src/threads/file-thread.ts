import type { MessagePort } from 'node:worker_threads';
import type { Page, ProblemValue } from '@gaveta/core/internal';
import { joinedPage } from '@gaveta/output/join';
import type { AttachedFile } from '@gaveta/output/output';
import { joined as joinedPort } from './calls.ts';
import { fileSink, refusalOf } from './file-sink.ts';
import { giveWay } from './priority.ts';
import { threadEquipment } from './thread-equipment.ts';
import type { ThreadCalls } from './thread-pool.ts';

export interface FileTask {
  /** Name of the output, and its options. */
  output: string;
  options: Record<string, unknown>;
  title: string;
  language: string;
  /** The reports whose pages it holds, one after another. */
  parts: readonly { title: string; pages: number }[];
  author?: string;
  /** What the file that is attached is called and is; its bytes are asked for. */
  attached?: Pick<AttachedFile, 'name' | 'mime' | 'extension'>;
  port: MessagePort;
}

/** What writing a file asks of the thread in which the pages are. */
export interface FileCalls {
  /** A page of a part, from 0, as JSON, by its 1-based number there. */
  page(part: number, number: number): Promise<Uint8Array>;
  picture(hash: string): Promise<Uint8Array | null>;
  /** The next bytes of the file that is attached; null after the last. */
  attached(): Promise<Uint8Array | null>;
  write(data: Uint8Array): Promise<void>;
}

giveWay();

const equipment = threadEquipment();

/** Pages of a part in order; one is on its way while the one before is written. */
async function* pagesOf(host: FileCalls, part: number, count: number): AsyncGenerator<Page> {
  let next = count > 0 ? host.page(part, 1) : null;
  for (let number = 2; next !== null; number++) {
    const { late: _, ...page } = JSON.parse(Buffer.from(await next).toString()) as Page;
    next = number <= count ? host.page(part, number) : null;
    // Heard when its turn comes.
    next?.catch(() => {});
    yield page;
  }
}

async function* joined(host: FileCalls, parts: FileTask['parts']): AsyncGenerator<Page> {
  let offset = 0;
  for (const [index, { title, pages }] of parts.entries()) {
    for await (const page of pagesOf(host, index, pages)) yield joinedPage(page, { title, index, offset });
    offset += pages;
  }
}

async function* bytesOf(host: FileCalls): AsyncGenerator<Uint8Array> {
  for (let chunk = await host.attached(); chunk; chunk = await host.attached()) yield chunk;
}

/** Writes a file in a thread of its own, from pages that are laid out. Gives why it could not be made. */
export default async ({
  output: name,
  options,
  title,
  language,
  parts,
  author,
  attached,
  port,
}: FileTask): Promise<ProblemValue | null> => {
  const ended = new AbortController();
  const ours: ThreadCalls = {
    cancel: async () => ended.abort(),
  };
  const host = joinedPort<FileCalls>(port, ours);
  try {
    const given = await equipment;
    const output = given.output(name);
    if (output?.takes !== 'pages') throw new Error(`there is no output of pages ${name}`);
    const run = {
      title,
      language,
      book: await given.book(),
      pages: parts.length === 1 ? pagesOf(host, 0, parts[0]!.pages) : joined(host, parts),
      late: () => [],
      pictures: host.picture,
      options,
      ...(author === undefined ? {} : { author }),
      ...(attached ? { attached: async () => ({ ...attached, data: bytesOf(host) }) } : {}),
    };
    return await refusalOf(() => output.write(run, fileSink(host.write), ended.signal));
  } finally {
    port.close();
  }
};
