import { randomBytes } from 'node:crypto';
import { EventEmitter } from 'node:events';
import { existsSync } from 'node:fs';
import { mkdir, readFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { createGaveta, pgliteConnection, signToken } from '@gaveta/server';
import { cumeeiraModel, packDemoDatabase } from '@gaveta-examples/cumeeira';
import express, { type ErrorRequestHandler } from 'express';
import { Documents } from './documents.ts';
import type { Shell, ShellWindow } from './shell.ts';

export interface DesktopOptions {
  /** The application’s own folder in that of the user: database, reports, what was opened last. */
  data: string;
  shell: Shell;
  /** Further origins whose pages may show reports, as a shell’s own scheme: `office:`. */
  hosts?: readonly string[];
}

/** What the window says of itself. */
export interface WindowState {
  document: string | null;
  isUnsaved: boolean;
  pages: number | null;
}

export interface Desktop {
  /** Address of the page, which holds the secret of this launch. */
  address: string;
  window: ShellWindow;
  /** As the page told it last. */
  readonly state: WindowState;
  /** Opens a file in the window, and brings it to the front. */
  open(file: string): void;
  /** Ends everything; the window is closed without asking. */
  close(): Promise<void>;
}

/** The database of the application, in a folder of its own; made-up rows when it is new. */
const openDatabase = async (data: string): Promise<PGlite> => {
  const folder = join(data, 'database');
  if (existsSync(folder)) return PGlite.create(folder);
  const packed = await readFile(await packDemoDatabase(join(data, 'packed')));
  return PGlite.create({ dataDir: folder, loadDataDir: new Blob([packed]) });
};

const page = (file: string): string => join(import.meta.dirname, 'page', file);

/** Starts the application: one process, with a window over a server that nobody else can reach. */
export const startDesktop = async ({ data, shell, hosts = [] }: DesktopOptions): Promise<Desktop> => {
  await mkdir(data, { recursive: true });
  const database = await openDatabase(data);
  const secret = randomBytes(32).toString('base64url');
  const gaveta = await createGaveta({
    store: join(data, 'store'),
    models: [cumeeiraModel],
    connections: { cumeeira: pgliteConnection(database) },
    secret,
    hosts,
  });
  const documents = new Documents(gaveta, data);
  // Other programs of the machine reach the port; without the secret of this launch they get nothing.
  const launch = `/${randomBytes(24).toString('base64url')}`;
  const toWindow = new EventEmitter();
  let state: WindowState = { document: null, isUnsaved: false, pages: null };
  const waiting: string[] = [];

  const own = express.Router();
  own.use('/gaveta', gaveta.router);
  own.get('/', (_request, response) => response.sendFile(page('index.html')));
  own.get('/page.js', (_request, response) => response.sendFile(page('page.js')));
  own.get('/token', async (_request, response) => {
    // The one person of the machine may do everything.
    const session = { user: 'Me', rights: ['view', 'design', 'data', 'sql'] as const, claims: { role: 'office' } };
    response.json({ token: await signToken(secret, session) });
  });
  own.put('/exports', express.raw({ type: '*/*', limit: '500mb' }), async (request, response) => {
    response.json({ path: await documents.export(String(request.query.path), request.body as Uint8Array) });
  });
  own.use(express.json({ limit: '20mb' }));
  own.get('/documents', async (_request, response) => response.json(await documents.recent()));
  own.post('/documents', async ({ body }, response) => {
    const { path, text, name } = body as { path?: string; text?: string; name?: string };
    response.json(
      path === undefined ? await documents.openText(text ?? '', name ?? '') : await documents.openFile(path),
    );
  });
  own.get('/documents/:id', async ({ params }, response) => {
    response.type('json').send(await documents.text(params.id));
  });
  own.put('/documents/:id', async ({ params, body }, response) => {
    response.json({ path: await documents.save(params.id, (body as { path?: string }).path) });
  });
  own.put('/window', ({ body }, response) => {
    state = body as WindowState;
    response.status(204).end();
  });
  // What the window is asked to open, as it comes.
  own.get('/window', (request, response) => {
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store' }).flushHeaders();
    const tell = (file: string): void => void response.write(`data: ${JSON.stringify(file)}\n\n`);
    for (const file of waiting.splice(0)) tell(file);
    toWindow.on('open', tell);
    request.once('close', () => toWindow.off('open', tell));
  });
  const failed: ErrorRequestHandler = (error, _request, response, _next) => {
    response.status(400).json({ said: error instanceof Error ? error.message : String(error) });
  };
  own.use(failed);

  const app = express().disable('x-powered-by').use(launch, own);
  const server = createServer(app);
  // This machine alone, at a port that is free.
  await new Promise<void>((ready, refused) => {
    server.once('error', refused);
    server.listen(0, '127.0.0.1', ready);
  });
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}${launch}/`;
  const window = shell.open(address, 'Cumeeira');
  let ended: Promise<void> | null = null;
  const end = async (): Promise<void> => {
    window.close();
    server.close();
    server.closeAllConnections();
    await gaveta.close();
    await database.close();
  };
  return {
    address,
    window,
    get state() {
      return state;
    },
    open: (file) => {
      if (toWindow.listenerCount('open') > 0) toWindow.emit('open', file);
      else waiting.push(file);
      window.focus();
    },
    close: () => {
      ended ??= end();
      return ended;
    },
  };
};
