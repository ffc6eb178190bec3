import { rm } from 'node:fs/promises';
import { connect, createServer, type Server } from 'node:net';
import { join } from 'node:path';

/** Characters of a message from one start to another. */
const MOST = 100_000;

export interface First {
  /** Lets go of the place. */
  close(): Promise<void>;
}

const addressIn = (folder: string): string =>
  process.platform === 'win32' ? `\\\\.\\pipe\\${folder.replace(/\W+/g, '-')}` : join(folder, 'instance.sock');

/** Whether another start is running, which then gets the files. */
const handedOver = (address: string, files: readonly string[]): Promise<boolean> =>
  new Promise((done) => {
    const socket = connect(address);
    socket.once('error', () => done(false));
    socket.once('connect', () => socket.end(JSON.stringify(files)));
    socket.once('close', (hadError) => done(!hadError));
  });

/**
 * Takes the place of the one application over a folder; `asked` hears of the files that later starts are to open. Null when it is
 * taken: the files went to the one that has it.
 */
export const becomeFirst = async (
  folder: string,
  files: readonly string[],
  asked: (files: string[]) => void,
): Promise<First | null> => {
  const address = addressIn(folder);
  if (await handedOver(address, files)) return null;
  // What a start that was killed left behind.
  if (process.platform !== 'win32') await rm(address, { force: true });
  const server: Server = createServer((socket) => {
    let text = '';
    socket.setEncoding('utf8');
    socket.on('error', () => {});
    socket.on('data', (chunk: string) => {
      text += chunk;
      if (text.length > MOST) socket.destroy();
    });
    socket.on('end', () => {
      try {
        const given: unknown = JSON.parse(text);
        if (Array.isArray(given)) asked(given.filter((one) => typeof one === 'string'));
      } catch {
        // Not from a start of this application.
      }
      socket.end();
    });
  });
  await new Promise<void>((ready, failed) => {
    server.once('error', failed);
    server.listen(address, ready);
  });
  return { close: () => new Promise((done) => server.close(() => done())) };
};
