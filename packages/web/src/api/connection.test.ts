import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Connection } from './connection.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it('is told once that the server is away, tries again ever less often, and says when it is back', async () => {
  const told: boolean[] = [];
  const reach = vi.fn(() => Promise.reject(new Error('away')));
  const connection = new Connection(reach);
  const unfollow = connection.follow((isOnline) => told.push(isOnline));
  for (let i = 0; i < 3; i++) connection.lost();
  expect(told).toEqual([false]);
  await vi.advanceTimersByTimeAsync(500 + 1000 + 2000 + 4000 + 8000);
  expect(reach).toHaveBeenCalledTimes(5);
  await vi.advanceTimersByTimeAsync(7999);
  expect(reach).toHaveBeenCalledTimes(5);
  reach.mockImplementation(() => Promise.resolve() as Promise<never>);
  connection.tryNow();
  await vi.advanceTimersByTimeAsync(0);
  expect(told).toEqual([false, true]);
  expect(connection.isOnline).toBe(true);
  await vi.advanceTimersByTimeAsync(60_000);
  expect(reach).toHaveBeenCalledTimes(6);
  unfollow();
  connection.lost();
  expect(told).toHaveLength(2);
});

it('is back as soon as any call is answered', () => {
  const connection = new Connection(() => Promise.reject(new Error('away')));
  connection.lost();
  connection.back();
  expect(connection.isOnline).toBe(true);
  expect(vi.getTimerCount()).toBe(0);
});
