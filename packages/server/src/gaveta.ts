import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { PGlite } from '@electric-sql/pglite';
import { phrase } from '@gaveta/core/internal';
import { loadEquipment } from '@gaveta/output/equipment';
import { type Request, type RequestHandler, Router } from 'express';
import helmet from 'helmet';
import { MemoryPresence } from './access/presence.ts';
import { LEAST_SECRET, type Session, TokenCheck } from './access/session.ts';
import { ApiError } from './base/api-error.ts';
import { type Limits, limitsWith, runLimits } from './base/limits.ts';
import { Catalogue } from './catalogue/catalogue.ts';
import type { Connection } from './connection/connection.ts';
import { createApi } from './http/api.ts';
import { answerError, answerErrors, callOf, UnexpectedError, unexpected } from './http/errors.ts';
import { guardCalls } from './http/front.ts';
import { spreadNet } from './http/guard.ts';
import { webApplication } from './http/web-application.ts';
import type { RegisteredModel } from './model/define.ts';
import { Runs } from './runs/runs.ts';
import { createSeal } from './secrets/seal.ts';
import {
  type JoinedReport,
  type JoinOptions,
  joinReports,
  type Rendered,
  type RenderOptions,
  renderReport,
} from './services/render.ts';
import { RunService } from './services/runs.ts';
import { StatementRights } from './services/statement-rights.ts';
import { FileUploads } from './services/uploads.ts';
import { SourceThreads } from './sources/source-threads.ts';
import { Workbench } from './staging/workbench.ts';
import { openStore, type Store } from './store/store.ts';
import { ReportThreads } from './threads/report-threads.ts';

export interface GavetaOptions {
  /**
   * Where reports are kept: a folder for the embedded PostgreSQL, the connection string of a server (`postgres://…`) with a database
   * of Gaveta’s own, or an open PGlite.
   */
  store: string | PGlite;
  models: readonly RegisteredModel[];
  /** Databases by the name that models use. */
  connections: Record<string, Connection>;
  /** Signs and checks tokens; at least 32 characters, known to the host's server and to Gaveta alone. */
  secret: string;
  /** Origins of host applications that may show Gaveta in a frame, as `https://office.example`. Read on each request. */
  hosts?: readonly string[];
  /** Folder with the built web application; left out: the API alone. */
  web?: string;
  /** Who is calling when a request carries no token, as by a cookie of the host's own. */
  authenticate?: (request: Request) => Promise<Session | null> | Session | null;
  /** Seals the secrets of connections that are made by hand; at least 32 characters. Without it no secret is taken. */
  encryptionKey?: string;
  /** Starts of addresses that files and services may be fetched from, as `https://data.example/huts/`. */
  allowedAddresses?: readonly string[];
  /**
   * Database servers that connections made by hand may go to, as `db.example:5432`; none when left out. Those of the
   * host’s own code need no leave.
   */
  allowedDatabases?: readonly string[];
  /** Names of the outputs that reports can become, in the order of menus; all when left out. See docs/outputs.md. */
  outputs?: readonly string[];
  /**
   * Pattern of the names of files, as `{report} {date}`: names in braces stand for the report’s name, the date and time of the run,
   * and its parameters; `{report}` when left out.
   */
  fileNames?: string;
  /**
   * Addresses of modules, as `file:///…`, that add outputs, fonts and functions of formulas; see `Addition` of @gaveta/output and
   * docs/embedding.md. Each thread loads them for itself. Further functions work in runs, not yet on the live page and in recipes.
   */
  modules?: readonly string[];
  limits?: Partial<Limits>;
  /** Told of what nobody expected, without the texts and values that errors carry along; standard error when left out. */
  log?: (error: unknown) => void;
}

export interface Gaveta {
  /** Mount it where Gaveta shall live: `app.use('/reports', gaveta.router)`. */
  router: Router;
  store: Store;
  /**
   * Runs a stored report, by its id, or a definition, and writes it to a file, for code of the host’s own: it may see what the given
   * claims see. Throws ApiError where that cannot be done, or the signal’s reason.
   */
  render(report: string | object, options: RenderOptions): Promise<Rendered>;
  /**
   * Runs reports and writes their pages to one file, each under its title in the outline. Throws as `render` does, and where one of
   * them is not whole.
   */
  join(reports: readonly JoinedReport[], options?: JoinOptions): Promise<Rendered>;
  close(): Promise<void>;
}

/** Starts Gaveta. Fails at once, with the line to mend, when the options cannot work. */
export const createGaveta = async (options: GavetaOptions): Promise<Gaveta> => {
  if (options.secret.length < LEAST_SECRET)
    throw new Error(`createGaveta: “secret” needs at least ${LEAST_SECRET} characters`);
  const log = options.log ?? ((error) => console.error(error));
  const limits = limitsWith(options.limits ?? {});
  for (const address of options.allowedAddresses ?? []) {
    if (!URL.canParse(address)) throw new Error(`createGaveta: allowedAddresses: “${address}” is no address`);
  }
  if (options.web !== undefined && !existsSync(join(options.web, 'index.html')))
    throw new Error('createGaveta: “web” is no folder with the built web application: its index.html is missing');
  const seal = options.encryptionKey === undefined ? null : createSeal(options.encryptionKey);
  const store = await openStore(options.store, seal);
  const { modules = [] } = options;
  const equipment = (await loadEquipment(modules)).offering(options.outputs);
  const threads = new ReportThreads(limits, modules);
  const runs = new Runs(threads, runLimits(limits), (error) => {
    const found = unexpected();
    log(new UnexpectedError(String(found.data.reference), 'a run', error));
    return phrase('log-has-it', { reference: found.data.reference! });
  });
  const uploads = new FileUploads(limits.maxUpload);
  const allowedAddresses = options.allowedAddresses ?? [];
  const allowedDatabases = options.allowedDatabases ?? [];
  const sources = { allowedAddresses, allowedDatabases, limits, threads: new SourceThreads() };
  const catalogue = new Catalogue(options.models, options.connections, store.data, sources, (entity, claim, wanted) =>
    log(
      new Error(`The claim “${claim}” is missing or no ${wanted}, so “${entity}” shows no rows to whoever carries it.`),
    ),
  );
  await catalogue.load();
  let made: Workbench | null = null;
  const workbench = (): Workbench => {
    made ??= new Workbench();
    return made;
  };
  const parts = {
    store,
    catalogue,
    workbench,
    allowedAddresses,
    hasKey: seal !== null,
    limits,
    runs,
    threads,
    equipment,
    uploads,
    presence: new MemoryPresence(),
    statements: new StatementRights(store),
    fileNames: options.fileNames ?? '{report}',
  };
  const service = new RunService(parts);

  const tokens = new TokenCheck(options.secret);
  const sessionOf = async (request: Request): Promise<{ session: Session; byToken: boolean }> => {
    const header = request.get('authorization');
    const token = header?.startsWith('Bearer ') ? header.slice('Bearer '.length) : null;
    if (token !== null) {
      const verified = await tokens.verify(token);
      if (verified.ok) return { session: verified.session, byToken: true };
      throw new ApiError(verified.reason === 'expired' ? 'token-expired' : 'token-invalid');
    }
    const own = await options.authenticate?.(request);
    if (!own) throw new ApiError('no-token');
    return { session: own, byToken: false };
  };
  const session: typeof sessionOf = async (request) => {
    const found = await sessionOf(request);
    // Whoever comes is likely to run something soon.
    threads.warm();
    if (catalogue.hasRowsOfFiles) workbench().keepReady();
    return found;
  };

  const router = Router();
  const { hosts = [] } = options;
  const takeAwayNet = spreadNet();
  router.use(
    guardCalls((error, request, response) => {
      const found = unexpected();
      log(new UnexpectedError(String(found.data.reference), callOf(request), error));
      answerError(found, response);
    }),
  );
  router.use(safeHeaders(hosts));
  router.use('/api', createApi({ ...parts, service, session }));
  if (options.web) router.use(webApplication(options.web, equipment.fonts));
  router.use(answerErrors(log));
  return {
    router,
    store,
    render: (report, asked) => renderReport(service, report, asked),
    join: (reports, asked) => joinReports(service, reports, asked),
    close: async () => {
      await runs.close();
      await threads.close();
      await catalogue.end();
      await made?.close();
      await uploads.close();
      await store.close();
      takeAwayNet();
    },
  };
};

/** Headers that keep browsers from more than Gaveta needs; only the hosts, whose list may change, may show it in a frame. */
const safeHeaders = (hosts: readonly string[]): RequestHandler => {
  let made: { hosts: string; handler: RequestHandler } | null = null;
  const handlerFor = (allowed: readonly string[]): RequestHandler =>
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          workerSrc: ["'self'", 'blob:'],
          frameAncestors: ["'self'", ...allowed],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
        },
      },
      frameguard: false,
      crossOriginResourcePolicy: { policy: 'cross-origin' },
      strictTransportSecurity: false,
    });
  return (request, response, next) => {
    const now = hosts.join(' ');
    if (made?.hosts !== now) made = { hosts: now, handler: handlerFor(hosts) };
    made.handler(request, response, next);
  };
};
