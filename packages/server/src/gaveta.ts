import { ownThemes, type Phrase, phrase } from '@gaveta/core/internal';
import { loadEquipment } from '@gaveta/output/equipment';
import type { Request } from 'express';
import { LinkTokens } from './access/link-tokens.ts';
import { MemoryPresence } from './access/presence.ts';
import { type CallerSession, TokenCheck } from './access/session.ts';
import { ApiError, wordsOf } from './base/api-error.ts';
import { ErrorBook } from './base/error-book.ts';
import { limitsWith, runLimits } from './base/limits.ts';
import { ownVersion } from './base/package-files.ts';
import { sometimes } from './base/tell-sometimes.ts';
import { Catalogue } from './catalogue/catalogue.ts';
import { examine, type Finding, findingLine } from './catalogue/doctor.ts';
import { Deliveries } from './deliveries/deliveries.ts';
import { type DeliveriesInCode, deliveriesInCode } from './deliveries/in-code.ts';
import { ProcessQueue } from './deliveries/queue.ts';
import { ServerQueue } from './deliveries/server-queue.ts';
import { UnexpectedError, unexpected } from './http/errors.ts';
import { readFunctionModules } from './http/function-modules.ts';
import { spreadNet } from './http/guard.ts';
import { createHandler } from './http/handler.ts';
import { pathOf, type RequestHandler, withoutPath } from './http/web-address.ts';
import { checkOptions, type GavetaOptions, oddOptions, webFolder } from './options.ts';
import { Runs } from './runs/runs.ts';
import { createSeal } from './secrets/seal.ts';
import { ActivityBook } from './services/activity.ts';
import { DefinitionRights } from './services/definition-rights.ts';
import { embeddingService } from './services/embedding.ts';
import { FirstPages } from './services/first-pages.ts';
import { Gate } from './services/gate.ts';
import { House } from './services/house.ts';
import { type ReportsInCode, type RunsInCode, reportsInCode, runsInCode } from './services/in-code.ts';
import { type LibraryInCode, libraryInCode } from './services/library-in-code.ts';
import { linkReader } from './services/links.ts';
import { PeopleNoted } from './services/people-noted.ts';
import {
  type JoinedReport,
  type JoinOptions,
  joinReports,
  type Rendered,
  type RenderOptions,
  renderReport,
} from './services/render.ts';
import { RunService } from './services/runs.ts';
import { sketchReports } from './services/sketch-reports.ts';
import { FileUploads } from './services/uploads.ts';
import { SourceThreads } from './sources/source-threads.ts';
import { Workbench } from './staging/workbench.ts';
import { openStore, type Store } from './store/store.ts';
import { ReportThreads } from './threads/report-threads.ts';

export interface Gaveta {
  /**
   * For Express: mount it where Gaveta shall live, `app.use('/reports', gaveta.router)`, before parsers of bodies. What is none of
   * Gaveta’s is passed on.
   */
  router: RequestHandler;
  /** For any other server: `createServer(gaveta.handler)`. Under a path, `address` tells which. */
  handler: RequestHandler;
  /** What it keeps, for Gaveta's own programs: use `reports`. */
  store: Store;
  /** Stored reports, for code of the host's own. */
  reports: ReportsInCode;
  /** Folders and who may do what, for code of the host's own. */
  library: LibraryInCode;
  /** Runs, for code of the host's own. */
  runs: RunsInCode;
  /** Reports that come by themselves, for code of the host's own. */
  deliveries: DeliveriesInCode;
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
  /** Holds the models against what is behind them now; empty when everything fits. `npx gaveta doctor` says the same. */
  doctor(): Promise<Finding[]>;
  /** Ends runs and threads and lets go of the store. Connections of the host's own code stay open. */
  close(): Promise<void>;
}

/** Starts Gaveta. Fails at once, with the line to mend, when the options cannot work. */
export const createGaveta = async (options: GavetaOptions): Promise<Gaveta> => {
  checkOptions(options);
  const web = webFolder(options.web);
  const errors = new ErrorBook();
  const log = (error: unknown): void => {
    errors.note(error);
    (options.log ?? console.error)(error);
  };
  for (const odd of oddOptions(options)) log(new Error(odd));
  const tell = sometimes(log);
  const limits = limitsWith(options.limits ?? {});
  const seal = options.encryptionKey === undefined ? null : createSeal(options.encryptionKey);
  const { modules = [] } = options;
  const equipment = (await loadEquipment(modules)).offering(options.outputs);
  const functionModules = await readFunctionModules(equipment);
  const families = [...new Set(equipment.fonts.map(({ family }) => family))];
  const themes = ownThemes(options.themes ?? [], families);
  const store = await openStore(options.store, seal);
  const threads = new ReportThreads(limits, modules);
  /** Tells the log of an error that nobody expected in something, and gives the words for whoever waits for that. */
  const wordsFor =
    (what: string) =>
    (error: unknown): Phrase => {
      const found = unexpected();
      log(new UnexpectedError(String(found.data.reference), what, error));
      return phrase('log-has-it', { reference: found.data.reference! });
    };
  const runs = new Runs(threads, runLimits(limits), wordsFor('a run'));
  const uploads = new FileUploads(limits.maxUpload);
  const allowedAddresses = options.allowedAddresses ?? [];
  const allowedDatabases = options.allowedDatabases ?? [];
  const sources = { allowedAddresses, allowedDatabases, limits, threads: new SourceThreads() };
  const catalogue = new Catalogue(
    options.models,
    options.connections,
    store.data,
    sources,
    (entity, claim, wanted) =>
      log(
        new Error(
          `The claim “${claim}” is missing or no ${wanted}, so “${entity}” shows no rows to whoever carries it.`,
        ),
      ),
    options.currencies,
  );
  await catalogue.load();
  let made: Workbench | null = null;
  const workbench = (): Workbench => {
    made ??= new Workbench();
    return made;
  };
  const gate = new Gate(store, options.authorize ?? null, options.hooks ?? {}, sketchReports(store, catalogue, themes));
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
    functionModules,
    themes,
    uploads,
    presence: new MemoryPresence(),
    gate,
    rights: new DefinitionRights(store, gate, catalogue.models),
    house: new House(store, gate, themes),
    log,
    fileNames: options.fileNames ?? '{report}',
    book: new ActivityBook(store.activity, options.recordDays ?? 365, log),
  };
  const service = new RunService(parts);
  const firstPages = new FirstPages({ ...parts, service, isOn: options.firstPages ?? true });

  const deliveryParts = { ...parts, service, options: options.deliveries ?? {}, wordsFor: wordsFor('a delivery') };
  const queue = store.askServer ? new ServerQueue(store.askServer, log) : new ProcessQueue();
  const deliveries = new Deliveries(deliveryParts, queue);
  await deliveries.start();

  const people = new PeopleNoted(store.grants, log);
  const linkTokens = new LinkTokens(options.secret);
  const tokens = new TokenCheck(options.secret);
  const sessionOf = async (request: Request): Promise<{ session: CallerSession; byToken: boolean }> => {
    const header = request.get('authorization');
    const token = header?.startsWith('Bearer ') ? header.slice('Bearer '.length) : null;
    if (token !== null) {
      const reader = await linkReader(token, linkTokens, store);
      if (reader) return { session: reader, byToken: true };
      const verified = await tokens.verify(token);
      if (verified.ok) return { session: verified.session, byToken: true };
      const error = new ApiError(
        `token-${verified.reason}`,
        verified.reason === 'content' ? { detail: verified.detail } : {},
      );
      // What only the host's developer can mend is said where they look.
      if (verified.reason !== 'expired') tell(error.code, () => `A token was refused. ${wordsOf(error)}`);
      throw error;
    }
    const own = await options.authenticate?.(request);
    if (!own) throw new ApiError('no-token');
    return { session: own, byToken: false };
  };
  const session: typeof sessionOf = async (request) => {
    const found = await sessionOf(request);
    if (!found.session.link) people.note(found.session);
    // Whoever comes is likely to run something soon.
    threads.warm();
    if (catalogue.hasRowsOfFiles) workbench().keepReady();
    return found;
  };

  const doctor = (): Promise<Finding[]> => examine(options.models, options.connections);
  // It starts without waiting for databases, and says what it finds.
  const examined =
    options.doctor === false
      ? null
      : doctor().then(
          (found) => {
            for (const one of found) log(new Error(findingLine(one)));
          },
          (error) => log(error),
        );
  const takeAwayNet = spreadNet();
  const path = pathOf(options.address);
  const { hosts = [], hooks = {} } = options;
  const embedding = embeddingService({
    ...{ store, catalogue, equipment, themes, errors, hosts, path, doctor },
    version: ownVersion(),
    hooks: Object.keys(hooks),
    hasAuthorize: options.authorize !== undefined,
    hasKey: seal !== null,
    secret: options.secret,
  });
  const app: RequestHandler = createHandler({
    ...parts,
    service,
    firstPages,
    links: { store, gate: parts.gate, book: parts.book, tokens: linkTokens, mostDays: options.linkDays ?? 90 },
    deliveries,
    deliveryParts,
    embedding,
    session,
    hosts,
    web,
    path,
    log,
    tell,
  });
  return {
    router: app,
    handler: withoutPath(path ?? '', app),
    store,
    reports: reportsInCode(store, service.calls['POST /check']),
    library: libraryInCode(store),
    runs: runsInCode(service),
    deliveries: deliveriesInCode(deliveries),
    render: (report, asked) => renderReport(service, report, asked),
    join: (reports, asked) => joinReports(service, reports, asked),
    doctor,
    close: async () => {
      await examined;
      await people.done();
      await deliveries.close();
      await firstPages.close();
      await parts.book.done();
      await runs.close();
      await service.notes.done();
      await threads.close();
      await catalogue.end();
      await made?.close();
      await uploads.close();
      await store.close();
      takeAwayNet();
    },
  };
};
