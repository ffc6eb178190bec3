import { existsSync } from 'node:fs';
import type { IncomingMessage } from 'node:http';
import { createRequire } from 'node:module';
import { dirname, join, resolve } from 'node:path';
import {
  didYouMean,
  isCurrencyCode,
  MOST_DECIMALS,
  type OwnTheme,
  saidValue,
  therePhrase,
} from '@gaveta/core/internal';
import { LEAST_SECRET, type Session } from './access/session.ts';
import type { Limits } from './base/limits.ts';
import { packageFile } from './base/package-files.ts';
import type { Connection } from './connection/connection.ts';
import type { OpenPGlite } from './connection/pglite.ts';
import { checkDeliveryOptions } from './deliveries/check-options.ts';
import type { DeliveryOptions } from './deliveries/options.ts';
import type { RegisteredModel } from './model/define.ts';
import type { Authorize, Hooks } from './services/gate.ts';

export interface GavetaOptions {
  /**
   * Where reports are kept: a folder for the embedded PostgreSQL, the connection string of a server (`postgres://…`) with a database
   * of Gaveta’s own, or an open PGlite.
   */
  store: string | OpenPGlite;
  /** What reports may be bound to: what `defineModel` gave. */
  models: readonly RegisteredModel[];
  /** Databases by the name that models use. */
  connections: Record<string, Connection>;
  /** Signs and checks tokens; at least 32 characters, known to the host's server and to Gaveta alone. */
  secret: string;
  /**
   * Origins of host applications that may show Gaveta in a frame, as `https://office.example`, or a scheme without origins, as
   * `file:` or that of a desktop shell. Read on each request.
   */
  hosts?: readonly string[];
  /**
   * Where browsers reach Gaveta, as `https://office.example/reports/`; needed behind a proxy that takes away the path, and by
   * `handler` under a path. Left out: where the router is mounted.
   */
  address?: string;
  /** Folder with the built web application; left out: that of the package `@gaveta/web`; `false`: the API alone. */
  web?: string | false;
  /** Who is calling when a request carries no token, as by a cookie of the host's own; null for nobody. */
  authenticate?(request: IncomingMessage): Promise<Session | null> | Session | null;
  /**
   * Whether a caller may see, run or change a report, or create one, besides the right that their token needs for it. Everybody may
   * when left out. Reports that somebody may not see are not there for them, also inside others of their own.
   */
  authorize?: Authorize;
  /** Code of the host's own that is asked before a run or a save, and told after a run. */
  hooks?: Hooks;
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
   * Addresses of modules, as `file:///…`, that add outputs, fonts and functions of formulas; see docs/embedding.md. Each thread loads
   * them for itself.
   */
  modules?: readonly string[];
  /**
   * Themes of the house: fonts, colours, styles, and bands as a letterhead; see docs/embedding.md. They come before Gaveta’s own, and
   * new reports have the first.
   */
  themes?: readonly OwnTheme[];
  /**
   * Whether the library shows each report as a small picture of its first page, which is made in the background out of real rows, for
   * each person as they see it; `true` when left out.
   */
  firstPages?: boolean;
  /** Reports that come by themselves: a mail server, folders, addresses and printers that they go to; see docs/deliveries.md. */
  deliveries?: DeliveryOptions;
  /** Days after which a link for people without an account ends at the latest; 90 when left out, 0: nobody may make one. */
  linkDays?: number;
  /** Days for which is kept who did what; 365 when left out, 0: nothing is noted. */
  recordDays?: number;
  /** Decimals of currencies where they are others than ISO 4217 says, by code: `{ XBT: 8 }`. */
  currencies?: Readonly<Record<string, number>>;
  /** What bounds time, memory and size; docs/security.md lists them. */
  limits?: Partial<Limits>;
  /**
   * Whether the models are held against their databases once it has started; what does not fit is told to the log. `true` when left
   * out.
   */
  doctor?: boolean;
  /** Told of what nobody expected, without the texts and values that errors carry along; standard error when left out. */
  log?: (error: unknown) => void;
}

/** Refuses options that cannot work, with the line to mend. */
export const checkOptions = ({
  store,
  models,
  connections,
  secret,
  address,
  allowedAddresses = [],
  hosts = [],
  currencies = {},
  deliveries,
}: GavetaOptions): void => {
  // Code without types may leave out anything.
  const isPGlite = typeof store === 'object' && store !== null && typeof store.close === 'function';
  if (!isPGlite && (typeof store !== 'string' || store.trim() === ''))
    throw new Error(
      'createGaveta: “store” is missing. Name a folder, as store: "data/gaveta", the connection string of a PostgreSQL server, or give an open PGlite',
    );
  if (!Array.isArray(models))
    throw new Error('createGaveta: “models” is missing. Give a list of what defineModel gave');
  if (typeof connections !== 'object' || connections === null)
    throw new Error('createGaveta: “connections” is missing. Give each by the name that models use');
  if (typeof secret !== 'string' || secret.length < LEAST_SECRET)
    throw new Error(`createGaveta: “secret” needs at least ${LEAST_SECRET} characters`);
  if (deliveries) checkDeliveryOptions(deliveries);
  for (const one of allowedAddresses)
    if (!URL.canParse(one)) throw new Error(`createGaveta: allowedAddresses: “${one}” is no address`);
  if (address !== undefined && !URL.canParse(address))
    throw new Error(
      `createGaveta: address: “${address}” is no address. Give all of it, as in address: 'https://office.example/reports/'`,
    );
  for (const [code, decimals] of Object.entries(currencies)) {
    if (!isCurrencyCode(code)) throw new Error(`createGaveta: currencies: “${code}” is no code of a currency, as EUR`);
    if (!Number.isInteger(decimals) || decimals < 0 || decimals > MOST_DECIMALS)
      throw new Error(`createGaveta: currencies: ${code} has a number of decimals, from 0 to ${MOST_DECIMALS}`);
  }
  for (const host of hosts) {
    const origin = URL.canParse(host) ? new URL(host).origin : null;
    // Pages of files, or of a shell's own scheme, have no origin but the scheme.
    if (origin === host || host === '*' || /^[a-z][a-z0-9+.-]*:$/.test(host)) continue;
    const { protocol } = origin === null ? { protocol: '' } : new URL(host);
    const meant = /^https?:$/.test(protocol)
      ? origin
      : protocol !== '' && host.includes('//')
        ? protocol
        : URL.canParse(`https://${host}`)
          ? new URL(`https://${host}`).origin
          : 'https://office.example';
    throw new Error(`createGaveta: hosts: “${host}” is no origin. Write hosts: ['${meant}']`);
  }
};

const KNOWN = Object.keys({
  store: true,
  models: true,
  connections: true,
  secret: true,
  hosts: true,
  address: true,
  web: true,
  authenticate: true,
  authorize: true,
  hooks: true,
  encryptionKey: true,
  allowedAddresses: true,
  allowedDatabases: true,
  outputs: true,
  fileNames: true,
  modules: true,
  themes: true,
  firstPages: true,
  deliveries: true,
  linkDays: true,
  recordDays: true,
  currencies: true,
  limits: true,
  doctor: true,
  log: true,
} satisfies Record<keyof GavetaOptions, true>);

/** An option that goes on working until the next major version, and what to write in its place. */
export interface Deprecated {
  option: string;
  since: string;
  instead: string;
}

/** Options that will go. */
const DEPRECATED: readonly Deprecated[] = [];

/** What to tell of options that mean nothing, or will mean nothing in the next major version; with the line to write. */
export const oddOptions = (given: object, deprecated: readonly Deprecated[] = DEPRECATED): string[] =>
  Object.keys(given).flatMap((name) => {
    const old = deprecated.find(({ option }) => option === name);
    if (old)
      return [
        `createGaveta: “${name}” is deprecated since ${old.since}, and will go in the next major version. ${old.instead}`,
      ];
    if (KNOWN.includes(name)) return [];
    const hint = saidValue(didYouMean(name, KNOWN, therePhrase(KNOWN)));
    return [`createGaveta has no option “${name}”, and leaves it alone. ${hint}`];
  });

/** The folder with the built web application; null where only the API is wanted, or the package is not installed. */
export const webFolder = (web: GavetaOptions['web']): string | null => {
  if (web === false) return null;
  if (web !== undefined) {
    const folder = resolve(web);
    if (existsSync(join(folder, 'index.html'))) return folder;
    throw new Error(
      `createGaveta: web: “${web}” is no folder with the built web application: its index.html is missing. Leave “web” out to use that of the package @gaveta/web`,
    );
  }
  try {
    const folder = join(
      dirname(createRequire(packageFile('package.json')).resolve('@gaveta/web/package.json')),
      'dist',
    );
    return existsSync(join(folder, 'index.html')) ? folder : null;
  } catch {
    return null;
  }
};
