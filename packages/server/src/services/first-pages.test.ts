import { afterEach, expect, it, vi } from 'vitest';
import { ApiError } from '../base/api-error.ts';
import { LIMITS } from '../base/limits.ts';
import type { SeenThing } from '../store/library-store.ts';
import { Caller } from './call.ts';
import { type FirstPageParts, FirstPages } from './first-pages.ts';

afterEach(() => vi.useRealTimers());

const caller = new Caller({ user: 'Inês', rights: ['view', 'design'], claims: {} });
const thing = (id: string, more: Partial<SeenThing> = {}): SeenThing =>
  ({ id, kind: 'report', may: 'see', revision: 1, published: 1, ...more }) as SeenThing;

/** What is made, in its order; each waits for `go`. */
const making = (isOn = true) => {
  const order: string[] = [];
  let go = (): void => {};
  const kept = new Map<string, { revision: number; picture: Uint8Array | null; madeAt: number }>();
  const pages = new FirstPages({
    isOn,
    limits: LIMITS,
    log: (error: unknown) => {
      throw error;
    },
    equipment: { output: () => ({}) },
    store: {
      firstPages: {
        get: async (id: string) => kept.get(id) ?? null,
        put: async (id: string, _: string, page: { revision: number; picture: Uint8Array | null }) =>
          void kept.set(id, { ...page, madeAt: Date.now() }),
      },
    },
    service: {
      startUnseen: async ({ report }: { report: string }) => {
        order.push(report);
        await new Promise<void>((resolve) => {
          go = resolve;
        });
        throw new ApiError('unknown-report', { id: report });
      },
    },
  } as unknown as FirstPageParts);
  const next = async (): Promise<void> => {
    go();
    await vi.advanceTimersByTimeAsync(1);
  };
  return { pages, order, next };
};

it('makes what was asked for last first, and what was asked for together in its order', async () => {
  vi.useFakeTimers();
  const { pages, order, next } = making();
  pages.make(thing('first'), caller);
  await vi.advanceTimersByTimeAsync(1);
  pages.make(thing('b'), caller);
  pages.make(thing('a'), caller);
  await vi.advanceTimersByTimeAsync(10_000);
  pages.make(thing('looked at'), caller);
  pages.make(thing('beside it'), caller);
  // Asked for anew: whoever looks still looks.
  pages.make(thing('a'), caller);
  for (let i = 0; i < 5; i++) await next();
  expect(order).toEqual(['first', 'looked at', 'beside it', 'a', 'b']);
});

it('says that there is none of what cannot be run, until it is saved anew', async () => {
  vi.useFakeTimers();
  const { pages, order, next } = making();
  expect(await pages.of(thing('one'), caller)).toEqual({ state: 'making', png: null });
  await vi.advanceTimersByTimeAsync(1);
  await next();
  expect(await pages.of(thing('one'), caller)).toEqual({ state: 'none', png: null });
  expect(await pages.of(thing('one', { published: 2 }), caller)).toMatchObject({ state: 'making' });
  await vi.advanceTimersByTimeAsync(1);
  expect(order).toEqual(['one', 'one']);
});

it('makes none where the host wants none, nor of recipes and connections', async () => {
  expect(await making(false).pages.of(thing('one'), caller)).toEqual({ state: 'none', png: null });
  const { pages, order } = making();
  expect(await pages.of(thing('recipe:one', { kind: 'recipe' }), caller)).toEqual({ state: 'none', png: null });
  expect(order).toEqual([]);
});
