import { MessageChannel } from 'node:worker_threads';
import { phrase, RowProblem } from '@gaveta/core/internal';
import { afterEach, describe, expect, it } from 'vitest';
import { ConnectionError, StatementEnded, StatementError } from '../connection/connection.ts';
import { joined } from './calls.ts';

interface Offered {
  add(a: number, b: number): Promise<number>;
  fail(): Promise<void>;
  wait(): Promise<void>;
  odd(): Promise<unknown>;
}

let channel = new MessageChannel();
afterEach(() => {
  channel.port1.close();
  channel = new MessageChannel();
});

const offering = (offered: Partial<Record<keyof Offered, (...args: never[]) => Promise<unknown>>>) => {
  joined(channel.port2, offered);
  return joined<Offered>(channel.port1, {});
};

describe('calls between threads', () => {
  it('give what the other one answers, however many are under way', async () => {
    const other = offering({ add: async (a: number, b: number) => a + b });
    expect(await Promise.all([other.add(1, 2), other.add(3, 4)])).toEqual([3, 7]);
    await expect(other.wait()).rejects.toThrow('there is no “wait”');
  });

  it.each([
    new RowProblem('too-many-rows', { limit: 5 }),
    new StatementError('syntax error', 7),
    new StatementEnded(phrase('statement-slow', { seconds: 8 })),
    new ConnectionError('nobody answers'),
    new ConnectionError(phrase('nothing-answers')),
    new Error('something else'),
  ])('fail as the other one does: %s', async (error) => {
    const failed = await offering({ fail: () => Promise.reject(error) })
      .fail()
      .catch((e: unknown) => e);
    expect(failed).toBeInstanceOf(error.constructor);
    expect(failed).toMatchObject({ ...error, message: error.message });
  });

  it('fail when what is given cannot be copied, and when the other one ends', async () => {
    const other = offering({ odd: async () => [() => 1], wait: () => new Promise(() => {}) });
    await expect(other.odd()).rejects.toThrow('could not be cloned');
    const waiting = other.wait();
    channel.port2.close();
    await expect(waiting).rejects.toThrow('the other thread ended');
    await expect(other.add(1, 2)).rejects.toThrow('the other thread ended');
  });
});
