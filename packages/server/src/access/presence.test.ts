import { expect, it } from 'vitest';
import { MemoryPresence } from './presence.ts';

it('knows who else has a report open, until they leave or fall silent', async () => {
  let now = 1000;
  const presence = new MemoryPresence(() => now);
  expect(await presence.notice('ledger', 'a', 'Inês')).toEqual([]);
  expect(await presence.notice('other', 'x', 'Rui')).toEqual([]);
  now = 5000;
  expect(await presence.notice('ledger', 'b', 'Rui')).toEqual([{ user: 'Inês', since: 1000 }]);
  now = 20_000;
  expect(await presence.notice('ledger', 'a', 'Inês')).toEqual([{ user: 'Rui', since: 5000 }]);
  now = 31_000;
  expect(await presence.notice('ledger', 'a', 'Inês')).toEqual([]);
  await presence.notice('ledger', 'b', 'Rui');
  await presence.leave('ledger', 'a');
  expect(await presence.notice('ledger', 'b', 'Rui')).toEqual([]);
});
