import { lookup } from 'node:dns/promises';
import { phrase } from '@gaveta/core/internal';
import { LIMITS } from '../base/limits.ts';
import { at, checkCells, checkCounts, readJson, tableOf } from './files.ts';
import { type FileLimits, inMegabytes, type RawTable, SourceError } from './raw.ts';

export interface HttpSettings {
  address: string;
  headers?: Record<string, string>;
  /** Where the rows lie in each answer, as `result.items`; found out when left out. */
  rowsAt?: string | undefined;
  /** How further rows are asked for: a query parameter that counts pages or rows, or an address in the answer. */
  paging?:
    | { by: 'page'; parameter: string; first: number }
    | { by: 'offset'; parameter: string; size: number; sizeParameter?: string | undefined }
    | { by: 'next'; at: string }
    | undefined;
}

const MOST_PAGES = 1000;
const PATIENCE = 30_000;

/** Whether an address may be asked: its origin and the start of its path are on the host's list. */
export const isAllowed = (address: string, allowed: readonly string[]): boolean => {
  let url: URL;
  try {
    url = new URL(address);
  } catch {
    return false;
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:') return false;
  if (url.username || url.password) return false;
  return allowed.some((prefix) => {
    const wanted = new URL(prefix);
    const path = wanted.pathname.endsWith('/') ? wanted.pathname : `${wanted.pathname}/`;
    return url.origin === wanted.origin && (url.pathname === wanted.pathname || url.pathname.startsWith(path));
  });
};

const refused = (address: string): SourceError => new SourceError(phrase('address-not-allowed', { address }));

/** Answers of one address. Redirects and further pages must be on the list as well. */
const fetchBytes = async (
  address: string,
  headers: Record<string, string>,
  allowed: readonly string[],
  signal: AbortSignal,
  most: number,
): Promise<Uint8Array> => {
  let url = address;
  for (let hops = 0; hops < 5; hops++) {
    if (!isAllowed(url, allowed)) throw refused(url);
    const { hostname, host } = new URL(url);
    let answer: Response;
    try {
      answer = await fetch(url, {
        headers,
        redirect: 'manual',
        signal: AbortSignal.any([signal, AbortSignal.timeout(PATIENCE)]),
      });
    } catch (error) {
      if (signal.aborted) throw error;
      const known = await lookup(hostname.replace(/^\[|\]$/g, '')).then(
        () => true,
        () => false,
      );
      throw new SourceError(known ? phrase('host-silent', { host }) : phrase('host-unknown', { host: hostname }));
    }
    if (answer.status >= 300 && answer.status < 400) {
      const next = answer.headers.get('location');
      if (!next) throw new SourceError(phrase('host-nowhere', { host, status: answer.status }));
      url = following(next, new URL(url));
      continue;
    }
    if (!answer.ok) {
      const code = answer.status === 401 || answer.status === 403 ? 'host-refused' : 'host-answered';
      throw new SourceError(phrase(code, { host, status: `${answer.status} ${answer.statusText}`.trim() }));
    }
    return limited(answer, most);
  }
  throw new SourceError(phrase('address-circle', { address }));
};

const limited = async (answer: Response, most: number): Promise<Uint8Array> => {
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of answer.body as unknown as AsyncIterable<Uint8Array>) {
    size += part.byteLength;
    if (size > most) throw new SourceError(phrase('answer-larger', { most: inMegabytes(most) }));
    parts.push(part);
  }
  return Buffer.concat(parts);
};

/** A file by its address. */
export const fetchFile = (
  address: string,
  allowed: readonly string[],
  headers: Record<string, string>,
  signal: AbortSignal,
  { maxUpload }: FileLimits = LIMITS,
) => fetchBytes(address, headers, allowed, signal, maxUpload);

/** The rows of an HTTP service that answers in JSON, page by page. */
export const readHttp = async (
  name: string,
  settings: HttpSettings,
  allowed: readonly string[],
  signal: AbortSignal,
  limits: FileLimits = LIMITS,
): Promise<RawTable> => {
  const { headers = {}, rowsAt, paging } = settings;
  const whole: RawTable = { name, columns: [], rows: [] };
  const places = new Map<string, number>();
  if (!isAllowed(settings.address, allowed)) throw refused(settings.address);
  const seen = new Set([settings.address]);
  let taken = 0;
  let address: string | null = settings.address;
  for (let page = 0; address !== null; page++) {
    if (page >= MOST_PAGES) throw new SourceError(phrase('service-many-pages', { most: MOST_PAGES }));
    const url: URL = new URL(address);
    if (paging?.by === 'page') url.searchParams.set(paging.parameter, String(paging.first + page));
    if (paging?.by === 'offset') {
      url.searchParams.set(paging.parameter, String(page * paging.size));
      if (paging.sizeParameter) url.searchParams.set(paging.sizeParameter, String(paging.size));
    }
    const asked = { Accept: 'application/json', ...headers };
    const bytes = await fetchBytes(url.href, asked, allowed, signal, limits.fileUnpacked - taken);
    taken += bytes.byteLength;
    let json: unknown;
    try {
      json = readJson(new TextDecoder().decode(bytes), limits);
    } catch (error) {
      throw new SourceError(
        phrase('service-not-json', { host: url.host, said: error instanceof SourceError ? error.said : '' }),
      );
    }
    const part = tableOf(name, json, rowsAt, limits);
    checkCells(part);
    append(whole, part, places);
    checkCounts([whole], limits);
    if (!paging || part.rows.length === 0) break;
    if (paging.by === 'offset' && part.rows.length < paging.size) break;
    if (paging.by === 'next') {
      const next: unknown = at(json, paging.at);
      address = typeof next === 'string' && next !== '' ? following(next, url) : null;
      if (address !== null && seen.has(address)) throw new SourceError(phrase('service-circle', { host: url.host }));
      if (address !== null) seen.add(address);
    }
  }
  for (const row of whole.rows) for (let i = row.length; i < whole.columns.length; i++) row[i] = null;
  return whole;
};

/** The address of the next page, which may be written from this one’s. */
const following = (next: string, from: URL): string => {
  if (!URL.canParse(next, from)) throw new SourceError(phrase('service-next', { host: from.host }));
  return new URL(next, from).href;
};

/** Adds rows whose columns may stand in another order, or be more. `known`: where each column stands. */
const append = (whole: RawTable, part: RawTable, known: Map<string, number>): void => {
  const places = part.columns.map((column) => {
    const found = known.get(column) ?? whole.columns.push(column) - 1;
    known.set(column, found);
    return found;
  });
  for (const cells of part.rows) {
    const row: RawTable['rows'][number] = whole.columns.map(() => null);
    for (const [i, place] of places.entries()) row[place] = cells[i] ?? null;
    whole.rows.push(row);
  }
};
