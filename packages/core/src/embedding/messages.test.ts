import { expect, it } from 'vitest';
import { readToFrame, readToHost } from './messages.ts';

it('takes messages of our own contract, and nothing else that pages say to each other', () => {
  expect(readToFrame({ gaveta: 1, kind: 'token', token: 'abc' })).toMatchObject({ token: 'abc' });
  expect(readToFrame({ gaveta: 1, kind: 'parameters', values: { season: 2025 } })).toMatchObject({
    values: { season: 2025 },
  });
  expect(readToHost({ gaveta: 1, kind: 'page-count', report: 'r', pages: 3 })).toMatchObject({ pages: 3 });
  for (const other of [
    null,
    'token',
    7,
    {},
    { kind: 'token', token: 'x' },
    { gaveta: 2, kind: 'token', token: 'x' },
    { gaveta: 1, kind: 'token', token: 7 },
    { gaveta: 1, kind: 'parameters', values: null },
    { gaveta: 1, kind: 'ready' },
  ]) {
    expect(readToFrame(other)).toBeNull();
  }
  for (const other of [
    null,
    [],
    { gaveta: 1 },
    { gaveta: 1, kind: 'token', token: 'x' },
    { gaveta: '1', kind: 'ready' },
  ])
    expect(readToHost(other)).toBeNull();
});
