import { describe, expect, it } from 'vitest';
import type { ConnectionDraft } from '../api/client.ts';
import { formatOf, missingIn, newSettings, readHeaders, withFile } from './connection-draft.ts';

const draft = (kind: 'postgres' | 'file' | 'http'): ConnectionDraft => ({
  name: '',
  label: '',
  settings: newSettings(kind),
});

const file = new Blob(['AAAA']);

describe('a new connection', () => {
  it('takes format and name from the file that is put in', () => {
    const made = withFile(draft('file'), 'Snow depths.XLSX', file, ['snow_depths']);
    expect(made).toMatchObject({
      name: 'snow_depths_2',
      label: 'Snow depths',
      settings: { format: 'xlsx' },
      file,
    });
    expect(withFile({ ...draft('file'), name: 'kept', label: 'Kept' }, 'a.csv', file, [])).toMatchObject({
      name: 'kept',
      label: 'Kept',
    });
  });
  it('does not take a file that it cannot read', () => {
    expect(formatOf('photo.jpeg')).toBeNull();
    expect(formatOf('readme')).toBeNull();
    expect(withFile(draft('file'), 'photo.jpeg', file, [])).toBeNull();
  });
  it('says what is missing, one thing at a time', () => {
    expect(missingIn(draft('file'), false)).toBe('needsLabel');
    expect(missingIn({ ...draft('file'), label: 'x' }, false)).toBe('needsFile');
    expect(missingIn({ ...draft('file'), label: 'x' }, true)).toBeNull();
    expect(missingIn({ ...draft('postgres'), label: 'x' }, false)).toBe('needsDatabase');
    expect(
      missingIn({ ...draft('postgres'), label: 'x', secret: { connectionString: 'postgres://h/d' } }, false),
    ).toBeNull();
    expect(missingIn({ ...draft('http'), label: 'x' }, false)).toBe('needsAddress');
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
