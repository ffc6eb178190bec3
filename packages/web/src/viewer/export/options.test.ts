import { describe, expect, it } from 'vitest';
import type { OutputFacts } from '../../api/client.ts';
import type { Memory } from '../../ui/memory.ts';
import {
  askedOptions,
  optionBoxes,
  rememberExport,
  rememberedName,
  rememberedOptions,
  rememberedOutput,
  rememberedSeveral,
  rememberNaming,
  unknownPart,
} from './options.ts';

const output = (properties: object): OutputFacts => ({
  name: 'made',
  label: 'Made up',
  mime: 'text/plain',
  extension: 'txt',
  takes: 'rows',
  options: { type: 'object', properties },
});
const memory = (): Memory => {
  const kept = new Map<string, string>();
  return {
    getItem: (key) => kept.get(key) ?? null,
    setItem: (key, value) => void kept.set(key, value),
    removeItem: (key) => void kept.delete(key),
  };
};
/** A browser that keeps nothing for pages. */
const closed: Memory = {
  getItem: () => {
    throw new Error('closed');
  },
  setItem: () => {
    throw new Error('closed');
  },
  removeItem: () => {},
};

describe('the boxes of an output', () => {
  const boxes = optionBoxes(
    output({
      from: { type: 'integer', minimum: 1, maximum: Number.MAX_SAFE_INTEGER, description: 'first page' },
      dpi: { type: 'integer', minimum: 18, maximum: 1200, default: 150 },
      outline: { anyOf: [{ type: 'boolean' }, { type: 'string', enum: ['yes', 'no'] }], default: true },
      form: { type: 'string', enum: ['each', 'one'], default: 'each' },
      separator: {
        anyOf: [
          { type: 'string', enum: ['comma', 'tab'] },
          { type: 'string', enum: [',', '\t'] },
        ],
      },
      author: { type: 'string', maxLength: 200 },
    }),
  );

  it('are of the kind that an option is, with what is taken where nothing is said', () => {
    expect(boxes).toEqual([
      { kind: 'number', name: 'from', help: 'first page', initial: '', least: 1, most: null },
      { kind: 'number', name: 'dpi', help: '', initial: '150', least: 18, most: 1200 },
      { kind: 'switch', name: 'outline', help: '', initial: 'true' },
      { kind: 'choice', name: 'form', help: '', initial: 'each', values: ['each', 'one'] },
      { kind: 'choice', name: 'separator', help: '', initial: '', values: ['comma', 'tab'] },
      { kind: 'text', name: 'author', help: '', initial: '' },
    ]);
    expect(optionBoxes({ ...output({}), options: {} })).toEqual([]);
  });

  it('ask for what differs from that, and for nothing that is empty or unknown', () => {
    expect(askedOptions(boxes, {})).toEqual({});
    const values = { dpi: '150', form: 'one', outline: 'false', from: '', author: 'Inês', gone: 'x' };
    expect(askedOptions(boxes, values)).toEqual({ form: 'one', outline: 'false', author: 'Inês' });
  });
});

describe('what was exported last', () => {
  it('comes back, but for pages and passwords', () => {
    const kept = memory();
    expect(rememberedOutput(kept)).toBeNull();
    rememberExport(kept, 'pdf', { from: '2', to: '3', password: 'a', ownerPassword: 'b', author: 'Inês' });
    rememberExport(kept, 'csv', { header: 'names' });
    expect(rememberedOutput(kept)).toBe('csv');
    expect(rememberedOptions(kept, 'pdf')).toEqual({ author: 'Inês' });
    expect(rememberedOptions(kept, 'csv')).toEqual({ header: 'names' });
  });

  it('is nothing where a browser keeps nothing, or something else stands there', () => {
    rememberExport(closed, 'pdf', { author: 'Inês' });
    expect([rememberedOutput(closed), rememberedOptions(closed, 'pdf')]).toEqual([null, {}]);
    const kept = memory();
    for (const text of ['{', 'null', '[1]', '"x"', '{"dpi":5,"form":"one"}']) {
      kept.setItem('gaveta.export.png', text);
      const read = rememberedOptions(kept, 'png');
      expect(
        Object.values(read).every((value) => typeof value === 'string'),
        text,
      ).toBe(true);
    }
    expect(rememberedOptions(kept, 'png')).toEqual({ form: 'one' });
  });
});

describe('the name of a file', () => {
  it('is remembered with what was taken together, and in a browser that keeps nothing it is not', () => {
    const kept = memory();
    rememberNaming(kept, '{report} {season}', ['pdf', 'csv']);
    expect([rememberedName(kept), rememberedSeveral(kept)]).toEqual(['{report} {season}', ['pdf', 'csv']]);
    rememberNaming(kept, '', []);
    expect([rememberedName(kept), rememberedSeveral(kept)]).toEqual(['', []]);
    rememberNaming(closed, 'x', ['pdf']);
    expect([rememberedName(closed), rememberedSeveral(closed)]).toEqual(['', []]);
  });

  it('says the first part in braces that there is not', () => {
    const parts = ['report', 'date', 'season'];
    expect(unknownPart('{report} of {season}, {date}', parts)).toBeNull();
    expect(unknownPart('{report} {sason} {x}', parts)).toBe('sason');
    expect(unknownPart('all {} of it', parts)).toBe('');
    expect(unknownPart('a { b', parts)).toBeNull();
  });
});
