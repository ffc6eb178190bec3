import { expect, it } from 'vitest';
import { Presence } from './presence.ts';

it('knows who else has a report open, until they leave or fall silent', () => {
  let now = 1000;
  const presence = new Presence(() => now);
  expect(presence.notice('ledger', 'a', 'Inês')).toEqual([]);
  expect(presence.notice('other', 'x', 'Rui')).toEqual([]);
  now = 5000;
  expect(presence.notice('ledger', 'b', 'Rui')).toEqual([{ user: 'Inês', since: 1000 }]);
  now = 20_000;
  expect(presence.notice('ledger', 'a', 'Inês')).toEqual([{ user: 'Rui', since: 5000 }]);
  now = 31_000;
  expect(presence.notice('ledger', 'a', 'Inês')).toEqual([]);
  presence.notice('ledger', 'b', 'Rui');
  presence.leave('ledger', 'a');
  expect(presence.notice('ledger', 'b', 'Rui')).toEqual([]);
});
