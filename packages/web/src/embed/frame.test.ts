import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { type ApiFailure, tokens } from '../api/client.ts';

interface Said {
  message: Record<string, unknown>;
  origin: string;
}

let said: Said[];
let hear: (event: object) => void;
let host: object;

/** A frame of its own for each test, in a page that keeps what it is told. */
const frame = async () => {
  vi.resetModules();
  return import('./frame.ts');
};
const say = (data: object, origin = 'https://office.example', source: object = host): void =>
  hear({ source, origin, data: { gaveta: 1, ...data } });
const kinds = () => said.map(({ message }) => message.kind);
const tokenUntil = (seconds: number): string => {
  const payload = btoa(JSON.stringify({ exp: Math.floor(Date.now() / 1000) + seconds }));
  return `x.${payload.replace(/=+$/, '')}.y`;
};

beforeEach(() => {
  vi.useFakeTimers({ now: new Date('2026-11-29T09:00:00Z') });
  said = [];
  host = { postMessage: (message: Record<string, unknown>, origin: string) => said.push({ message, origin }) };
  vi.stubGlobal('window', {
    parent: host,
    addEventListener: (_kind: string, listener: (event: object) => void) => {
      hear = listener;
    },
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
  tokens.current = null;
  tokens.renew = null;
});

describe('a frame', () => {
  it('is ready before it knows who is around it, and speaks to that page alone from then on', async () => {
    const { joinHost } = await frame();
    const page = joinHost()!;
    expect(said).toEqual([{ message: { gaveta: 1, kind: 'ready' }, origin: '*' }]);
    say({ kind: 'token', token: tokenUntil(300) });
    await page.signedIn;
    say({ kind: 'token', token: 'of another' }, 'https://other.example');
    say({ kind: 'token', token: 'of another' }, 'https://office.example', {});
    page.tell({ kind: 'printed', report: 'x' });
    expect(said.at(-1)).toMatchObject({ message: { kind: 'printed' }, origin: 'https://office.example' });
  });

  it('speaks to pages of files, which have no origin to name', async () => {
    const { joinHost } = await frame();
    const page = joinHost()!;
    say({ kind: 'token', token: tokenUntil(300) }, 'null');
    page.tell({ kind: 'printed', report: 'x' });
    expect(said.at(-1)).toMatchObject({ message: { kind: 'printed' }, origin: '*' });
  });

  it('asks for a new token half a minute before one ends, each time', async () => {
    const { joinHost } = await frame();
    joinHost();
    say({ kind: 'token', token: tokenUntil(300) });
    await vi.advanceTimersByTimeAsync(269_000);
    expect(kinds()).toEqual(['ready']);
    await vi.advanceTimersByTimeAsync(1000);
    expect(kinds()).toEqual(['ready', 'need-token']);
    say({ kind: 'token', token: tokenUntil(300) });
    await vi.advanceTimersByTimeAsync(270_000);
    expect(kinds()).toEqual(['ready', 'need-token', 'need-token']);
    // One that does not say when it ends is renewed when a call is refused.
    say({ kind: 'token', token: 'opaque' });
    await vi.advanceTimersByTimeAsync(600_000);
    expect(kinds()).toHaveLength(3);
  });

  it('keeps values that came before there was a screen, and gives them once', async () => {
    const { joinHost } = await frame();
    const page = joinHost()!;
    say({ kind: 'parameters', values: { season: 2024, region: 1 } });
    say({ kind: 'parameters', values: { season: 2025 } });
    const [first, second] = [vi.fn(), vi.fn()];
    const leave = page.onParameters(first);
    expect(first.mock.calls).toEqual([[{ season: 2025, region: 1 }]]);
    leave();
    page.onParameters(second);
    expect(second).not.toHaveBeenCalled();
    say({ kind: 'parameters', values: { season: 2026 } });
    expect(second).toHaveBeenCalledWith({ season: 2026 });
  });

  it('does what it is asked once its screen can, and says why it does not', async () => {
    const { joinHost, offerMethods } = await frame();
    joinHost();
    say({ kind: 'call', call: 1, method: 'goTo', given: { page: 3 } });
    await vi.advanceTimersByTimeAsync(10);
    expect(kinds()).toEqual(['ready']);
    const goTo = vi.fn(async () => true);
    const withdraw = offerMethods({
      goTo,
      print: async () => {
        throw new Error('no printer');
      },
    });
    say({ kind: 'call', call: 2, method: 'print', given: {} });
    await vi.advanceTimersByTimeAsync(0);
    expect(goTo).toHaveBeenCalledWith({ page: 3 });
    expect(said.slice(1).map(({ message }) => message)).toEqual([
      { gaveta: 1, kind: 'answer', call: 1, value: true },
      { gaveta: 1, kind: 'refusal', call: 2, code: 'unexpected', detail: 'no printer' },
    ]);
    withdraw();
    say({ kind: 'call', call: 3, method: 'goTo', given: { page: 1 } });
    expect(goTo).toHaveBeenCalledTimes(1);
  });

  it('gives up when its host sends no token', async () => {
    const { joinHost } = await frame();
    const refused = joinHost()!.signedIn.catch((error: unknown) => error);
    await vi.advanceTimersByTimeAsync(15_000);
    expect(((await refused) as ApiFailure).code).toBe('no-token');
  });
});

it('is none where nothing is around it', async () => {
  const alone = { addEventListener: () => {} };
  vi.stubGlobal('window', Object.assign(alone, { parent: alone, opener: null }));
  vi.stubGlobal('document', { baseURI: 'https://reports.example/' });
  vi.stubGlobal('location', new URL('https://reports.example/reports/x'));
  const { joinHost } = await frame();
  expect(joinHost()).toBeNull();
  // A window that an element opened talks with the page that it was opened from.
  vi.stubGlobal('window', { ...alone, opener: host });
  Object.assign(window, { parent: window });
  vi.stubGlobal('location', new URL('https://reports.example/embed/reports/x'));
  expect((await frame()).joinHost()).not.toBeNull();
  expect(kinds()).toEqual(['ready']);
});
