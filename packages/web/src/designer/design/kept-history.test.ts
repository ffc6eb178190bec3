import { emptyHistory, type History, type Report, record, undo } from '@gaveta/core/internal';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { report } from '../office.test-support.ts';
import { keepHistory, keptHistory } from './kept-history.ts';

let kept: Map<string, string>;
beforeEach(() => {
  kept = new Map();
  const sessionStorage = {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, text: string) => void kept.set(key, text),
  };
  vi.stubGlobal('window', { sessionStorage });
});
afterEach(() => vi.unstubAllGlobals());

const named = (history: History, name: string): History =>
  record(history, `call it ${name}`, { do: 'report', settings: { name } });
/** As it comes from the server. */
const loaded = ({ report: now }: History): Report => JSON.parse(JSON.stringify(now));

it('what was done is known again for the same report as it was left, and for no other', () => {
  const history = undo(named(named(emptyHistory(report), 'a'), 'b'));
  keepHistory('one', history);
  const again = keptHistory('one', loaded(history), [report])!;
  expect([again.done.length, again.undone.length]).toEqual([1, 1]);
  expect(undo(again).report).toBe(report);
  expect(keptHistory('two', loaded(history), [])).toBeNull();
  // Somebody else has changed it since.
  expect(keptHistory('one', { ...loaded(history), name: 'c' }, [])).toBeNull();
});

it('that of the reports used last is kept, and none once nothing was done', () => {
  const history = named(emptyHistory(report), 'a');
  for (const key of ['one', 'two', 'three', 'four']) keepHistory(key, history);
  const known = (key: string) => keptHistory(key, loaded(history), []) !== null;
  expect(['one', 'two', 'three', 'four'].map(known)).toEqual([false, true, true, true]);
  keepHistory('four', emptyHistory(report));
  expect(known('four')).toBe(false);
});

it.each([
  ['not JSON', '{"'],
  ['something else', '[{"key": "one", "packed": 7}]'],
  [
    'edits that nobody knows',
    '[{"key":"one","packed":{"start":{},"steps":[{"name":"x","edit":{"do":"fly"}}],"done":1}}]',
  ],
])('what is kept there and is %s is passed over', (_, text) => {
  kept.set('gaveta.done', text);
  expect(keptHistory('one', report, [])).toBeNull();
});

it('a browser that keeps nothing costs nothing else', () => {
  vi.stubGlobal('window', {
    get sessionStorage(): never {
      throw new Error('denied');
    },
  });
  expect(() => keepHistory('one', named(emptyHistory(report), 'a'))).not.toThrow();
  expect(keptHistory('one', report, [])).toBeNull();
});
