import { expect, it } from 'vitest';
import type { DeliveryFile } from '../store/delivery-records.ts';
import { MadeFiles } from './made-files.ts';

const files = (megabytes: number): DeliveryFile[] => [
  { name: 'a.pdf', mime: 'application/pdf', bytes: new Uint8Array(megabytes * 1_000_000) },
];

it('files that were made a moment ago are at hand, the oldest go first, and there are never too many', () => {
  const made = new MadeFiles();
  made.keep('first', files(10));
  made.keep('second', files(10));
  expect(made.of('first')).toHaveLength(1);
  made.keep('third', files(15));
  expect([made.of('first'), made.of('second')?.length, made.of('third')?.length]).toEqual([undefined, 1, 1]);
  // What is made again takes the place of what was.
  made.keep('second', files(1));
  made.keep('fourth', files(15));
  expect(['second', 'third', 'fourth'].map((one) => made.of(one) !== undefined)).toEqual([true, true, true]);
  // One that is too large is not kept at all.
  made.keep('fifth', files(40));
  expect(['second', 'third', 'fourth', 'fifth'].map((one) => made.of(one) !== undefined)).toEqual([
    false,
    false,
    false,
    false,
  ]);
});
