import { formatOfName } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import {
  type ConnectionKind,
  type ConnectionValues,
  draftOf,
  formatOfText,
  nameFor,
  readHeaders,
  saidKey,
  savedValues,
  startValues,
} from './draft.ts';
import { connectionRoom } from './kinds/kinds.ts';

const begun = (kind: ConnectionKind): ConnectionValues => startValues(connectionRoom(kind).begin());
const named = (kind: ConnectionKind): ConnectionValues => ({ ...begun(kind), label: 'x' });

/** What the form says is wrong, box by box. */
const problems = (values: ConnectionValues): Record<string, string> => {
  const read = connectionRoom(values.settings.kind).schema.safeParse(values);
  return Object.fromEntries((read.error?.issues ?? []).map((issue) => [issue.path.join('.'), issue.message]));
};

describe('the form of a connection', () => {
  it('says at each box what is missing', () => {
    expect(problems(begun('file'))).toEqual({ label: 'needsLabel', file: 'needsFile' });
    expect(problems(named('postgres'))).toEqual({ 'settings.database': 'needsDatabase' });
    expect(problems(named('http'))).toEqual({ 'settings.address': 'needsAddress' });
    expect(problems({ ...named('file'), file: new Blob(['a']) })).toEqual({});
    expect(problems({ ...named('file'), stored: { file: true, secret: false } })).toEqual({});
  });
  it('takes a connection string instead of host and database', () => {
    const values = named('postgres');
    const byString = { ...values, secret: { ...values.secret, connectionString: 'postgres://h/d' } };
    expect(problems(byString)).toEqual({});
  });
  it('refuses a port, an address, headers and paging that cannot be', () => {
    const postgres = begun('postgres').settings;
    const port = (to: number) => ({ ...named('postgres'), settings: { ...postgres, database: 'd', port: to } });
    expect(problems(port(70_000))).toEqual({ 'settings.port': 'needsPort' });
    expect(problems(port(Number.NaN))).toEqual({ 'settings.port': 'needsPort' });
    const http = { ...begun('http').settings, address: 'ftp://huts.test/' };
    expect(problems({ ...named('http'), settings: http })).toEqual({ 'settings.address': 'needsAddress' });
    const settings = { ...http, address: 'https://huts.test/', paging: { by: 'next', at: ' ' } } as never;
    const secret = { connectionString: '', password: '', headers: 'no colon' };
    expect(problems({ ...named('http'), settings, secret })).toEqual({
      'secret.headers': 'headersWrong',
      'settings.paging': 'needsPaging',
    });
  });
  it('has words of its own for whatever a schema finds', () => {
    const { settings } = named('postgres');
    const long = { ...named('postgres'), settings: { ...settings, database: 'd'.repeat(501) } };
    expect(Object.values(problems(long)).map(saidKey)).toEqual(['unfit']);
    expect(saidKey('needsPort')).toBe('needsPort');
    expect(saidKey(undefined)).toBe('unfit');
  });
  it('sends a secret and a file only where some were given, and has neither once they are saved', () => {
    expect(draftOf(named('http'), 'huts')).not.toHaveProperty('secret');
    const file = new Blob(['a']);
    const secret = { connectionString: '', password: '', headers: 'X-Key: 1' };
    const values = { ...named('http'), secret, file };
    expect(draftOf(values, 'huts')).toMatchObject({ name: 'huts', secret: { headers: { 'X-Key': '1' } }, file });
    expect(savedValues(values)).toMatchObject({
      file: null,
      secret: { headers: '' },
      stored: { file: true, secret: true },
    });
  });
});

describe('a new connection', () => {
  it('has a name that nothing else has', () => {
    expect(nameFor('Snow depths', ['snow_depths'])).toBe('snow_depths_2');
    expect(nameFor(' ', [])).toBe('source');
  });
  it('takes its format from the name of a file, or from how a text begins', () => {
    expect(formatOfName('Snow depths.XLSX')).toBe('xlsx');
    expect(formatOfName('list.txt')).toBe('csv');
    expect(formatOfName('photo.jpeg')).toBeNull();
    expect(formatOfName('readme')).toBeNull();
    expect(['\n<rows/>', ' [1]', '{"a":1}', 'a;b'].map(formatOfText)).toEqual(['xml', 'json', 'json', 'csv']);
  });
});

describe('headers', () => {
  it('are read line by line', () => {
    expect(readHeaders('X-Key: a:b\n\nAccept: text/csv ')).toEqual({ 'X-Key': 'a:b', Accept: 'text/csv' });
    expect(readHeaders('')).toEqual({});
  });
  it('are refused when a line is none', () => {
    expect(readHeaders('no colon here')).toBeNull();
    expect(readHeaders(': value')).toBeNull();
    expect(readHeaders('two words: value')).toBeNull();
  });
});
