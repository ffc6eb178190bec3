import { expect, it } from 'vitest';
import { definition } from '../layout/huts.test-support.ts';
import { emptyHistory, type History, packHistory, record, undo, unpackHistory } from './history.ts';

const report = definition({ body: [{ id: 'h', name: 'hut', rows: { entity: 'hut' } }] });
const named = (history: History, name: string): History =>
  record(history, `call it ${name}`, { do: 'report', settings: { name } });
const written = (value: unknown) => JSON.parse(JSON.stringify(value));

it('is packed as text and done again, with what was undone, from what it began with', () => {
  const history = undo(['a', 'b', 'c'].reduce(named, emptyHistory(report)));
  // What is opened again comes from the server, and names its parts in another order.
  const { name, ...rest } = written(history.report);
  const opened = { ...rest, name };
  const again = unpackHistory(written(packHistory(history, 1e6)), opened, [report])!;
  expect(again.report).toBe(opened);
  expect([again.done, again.undone].map((list) => list.map((step) => step.name))).toEqual([
    ['call it a', 'call it b'],
    ['call it c'],
  ]);
  // Undone to what is saved, it is known to be that.
  expect(undo(undo(again)).report).toBe(report);
  expect(named(again, 'd').undone).toEqual([]);
});

it('leaves out what was done longest ago where there is no room, and is nothing for another report', () => {
  const history = Array.from({ length: 50 }, (_, i) => `name ${i}`).reduce(named, emptyHistory(report));
  const room = JSON.stringify(history.report).length + 500;
  const packed = packHistory(history, room);
  expect(packed.steps.length).toBeGreaterThan(3);
  expect(packed.steps.length).toBeLessThan(12);
  expect(packed.steps.at(-1)!.name).toBe('call it name 49');
  expect(unpackHistory(written(packed), history.report)!.done.length).toBe(packed.steps.length);
  expect(unpackHistory(written(packed), { ...history.report, name: 'other' })).toBeNull();
  expect(packHistory(history, 10).steps).toEqual([]);
});
