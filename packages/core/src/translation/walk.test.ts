import { describe, expect, it } from 'vitest';
import { spoken } from '../definition/spoken.ts';
import { z } from '../definition/zod.ts';
import { respoken } from './walk.ts';

const words = spoken(z.string());
const rule = spoken(z.string(), 'formula');
const Part: z.ZodType = z.lazy(() => z.strictObject({ says: words.optional(), inner: z.array(Part).optional() }));
const SCHEMA = z.strictObject({
  name: z.string(),
  title: words.optional(),
  help: words.default(''),
  none: words.nullable(),
  rules: z.record(z.string(), rule).optional(),
  kinds: z
    .array(
      z.discriminatedUnion('kind', [
        z.strictObject({ kind: z.literal('a'), label: words }),
        z.strictObject({ kind: z.literal('b'), label: z.string() }),
      ]),
    )
    .optional(),
  either: z.union([z.strictObject({ code: z.string() }), z.strictObject({ label: words })]).optional(),
  part: Part.optional(),
});

/** Each part that is read, with where it stands. */
const seen = (value: object): [string, string, unknown][] => {
  const found: [string, string, unknown][] = [];
  respoken(SCHEMA, value, (part, as, path) => {
    if (part !== undefined) found.push([path, as, part]);
    return part;
  });
  return found;
};

const plain = { name: 'n', help: '', none: null };

describe('going through a value along its schema', () => {
  it('finds what is marked, through all that may lie around it', () => {
    const value = {
      ...plain,
      title: 't',
      rules: { one: 'r1', two: 'r2' },
      kinds: [
        { kind: 'a', label: 'read' },
        { kind: 'b', label: 'not read' },
      ],
      either: { label: 'l' },
      part: { says: 'p', inner: [{ says: 'q', inner: [{ says: 'r' }] }, {}] },
    };
    expect(seen(value).filter(([, , part]) => part !== '' && part !== null)).toEqual([
      ['title', 'text', 't'],
      ['rules/one', 'formula', 'r1'],
      ['rules/two', 'formula', 'r2'],
      ['kinds/0/label', 'text', 'read'],
      ['either/label', 'text', 'l'],
      ['part/says', 'text', 'p'],
      ['part/inner/0/says', 'text', 'q'],
      ['part/inner/0/inner/0/says', 'text', 'r'],
    ]);
    expect(seen({ ...plain, either: { code: 'c' } }).map(([path]) => path)).not.toContain('either/code');
  });

  it('copies what changes and what lies around it, and nothing else', () => {
    const value = {
      ...plain,
      kinds: [
        { kind: 'a', label: 'old' },
        { kind: 'b', label: 'old' },
      ],
      part: { says: 'same', inner: [{ says: 'same' }] },
    };
    const frozen = structuredClone(value);
    const next = respoken(SCHEMA, value, (part) => (part === 'old' ? 'new' : part)) as typeof value;
    expect(next.kinds).toEqual([
      { kind: 'a', label: 'new' },
      { kind: 'b', label: 'old' },
    ]);
    expect(next.kinds[1]).toBe(value.kinds[1]);
    expect(next.part).toBe(value.part);
    expect(value).toEqual(frozen);
  });

  it('gives a value back as it is when nothing in it changes', () => {
    const value = { ...plain, title: 't', part: { inner: [{}] } };
    expect(respoken(SCHEMA, value, (part) => part)).toBe(value);
  });

  it('leaves what the schema does not know', () => {
    const value = { ...plain, more: { title: 'x' }, kinds: [{ kind: 'c', label: 'x' }], either: { other: 1 } };
    expect(respoken(SCHEMA, value, () => 'changed')).toMatchObject({
      more: { title: 'x' },
      kinds: [{ kind: 'c', label: 'x' }],
      either: { other: 1 },
    });
  });
});
