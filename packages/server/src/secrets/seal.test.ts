import { describe, expect, it } from 'vitest';
import { createSeal } from './seal.ts';

const seal = createSeal('a key of the configuration, long enough to be one');

describe('a sealed secret', () => {
  it('opens again for what it belongs to', () => {
    expect(seal.open(seal.close('pässwörd', 'weather'), 'weather')).toBe('pässwörd');
  });
  it('cannot be read, and looks different every time', () => {
    const [a, b] = [seal.close('password', 'weather'), seal.close('password', 'weather')];
    expect(a).not.toContain('password');
    expect(Buffer.from(a.split('.')[3]!, 'base64').toString()).not.toContain('password');
    expect(a).not.toBe(b);
  });
  it('opens neither for something else, nor with another key, nor when changed', () => {
    const sealed = seal.close('password', 'weather');
    expect(seal.open(sealed, 'office')).toBeNull();
    expect(createSeal('another key of the configuration, long enough').open(sealed, 'weather')).toBeNull();
    const [version, start, tag, data] = sealed.split('.') as [string, string, string, string];
    const changed = Buffer.from(data, 'base64');
    changed[0]! ^= 1;
    expect(seal.open([version, start, tag, changed.toString('base64')].join('.'), 'weather')).toBeNull();
    expect(seal.open('', 'weather')).toBeNull();
  });
  it('needs a key of some length', () => {
    expect(() => createSeal('short')).toThrow('at least 32');
  });
});
