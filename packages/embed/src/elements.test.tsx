// @vitest-environment happy-dom
// @vitest-environment-options { "settings": { "navigation": { "disableChildFrameNavigation": true } } }
import { EMBEDDING_VERSION } from '@gaveta/core/embedding';
import { act } from 'react';
import { createRoot } from 'react-dom/client';
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { defineElements, type GavetaViewer } from './element.ts';
import { Designer, Viewer } from './react.tsx';

/** Where the script of the elements comes from: from here in a test. Apart, as in the elements themselves. */
const SCRIPT: string = import.meta.url;
const HOME = new URL('.', SCRIPT);

let heard: { kind: string; detail: unknown }[];
beforeEach(() => {
  heard = [];
  for (const kind of ['saved', 'page-count', 'error'])
    document.body.addEventListener(kind, (event) => heard.push({ kind, detail: (event as CustomEvent).detail }), {
      signal: ended.signal,
    });
});
let ended = new AbortController();
afterEach(() => {
  document.body.replaceChildren();
  ended.abort();
  ended = new AbortController();
  vi.unstubAllGlobals();
});

const place = (tag: string, attributes: Record<string, string>): GavetaViewer => {
  const element = document.createElement(tag) as GavetaViewer;
  for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, value);
  document.body.append(element);
  return element;
};
const frameOf = (element: HTMLElement): HTMLIFrameElement => element.querySelector('iframe')!;

/** Stands in for what is in the frame: says things, and keeps what it is told. */
const inside = (element: HTMLElement) => {
  const told: unknown[] = [];
  const page = { postMessage: (message: unknown, origin: string) => told.push({ message, origin }) };
  Object.defineProperty(frameOf(element), 'contentWindow', { value: page });
  const say = (data: unknown, from: { source?: unknown; origin?: string } = {}): void => {
    const event = new Event('message');
    Object.assign(event, { data, source: page, origin: HOME.origin, ...from });
    window.dispatchEvent(event);
  };
  const messages = (): unknown[] => told.map((one) => (one as { message: unknown }).message);
  return { told, messages, say: (message: object, from = {}) => say({ gaveta: EMBEDDING_VERSION, ...message }, from) };
};
const token = (text: string) => ({ gaveta: EMBEDDING_VERSION, kind: 'token', token: text });

describe('the React components', () => {
  beforeEach(() => void vi.stubGlobal('IS_REACT_ACT_ENVIRONMENT', true));

  // The first of them registers the elements: what was set before stays.
  it('pass on what they are given, and call what is given last', async () => {
    const place = document.createElement('div');
    document.body.append(place);
    const root = createRoot(place);
    const [before, after] = [vi.fn(), vi.fn()];
    const shown = { report: 'x', fetchToken: async () => 'first', parameters: { season: 2025 }, language: 'pt-PT' };
    await act(async () => root.render(<Viewer {...shown} className="wide" onSaved={before} />));
    const element = place.querySelector('gaveta-viewer') as HTMLElement & { fetchToken: () => Promise<string> };
    const { report, parameters, language } = Object.fromEntries([...element.attributes].map((a) => [a.name, a.value]));
    expect({ report, parameters, language }).toEqual({ report: 'x', parameters: '{"season":2025}', language: 'pt-PT' });
    expect(element.className).toBe('wide');
    expect(element.querySelector('iframe')!.src).toContain('embed/reports/x');
    await act(async () => root.render(<Viewer {...shown} fetchToken={async () => 'second'} onSaved={after} />));
    element.dispatchEvent(new CustomEvent('saved', { detail: { report: 'x', revision: 2 } }));
    expect(before).not.toHaveBeenCalled();
    expect(after).toHaveBeenCalledWith({ report: 'x', revision: 2 });
    expect(await element.fetchToken()).toBe('second');
    await act(async () => root.unmount());
    element.dispatchEvent(new CustomEvent('saved', { detail: {} }));
    expect(after).toHaveBeenCalledTimes(1);
  });

  it('are the same for the designer', async () => {
    const place = document.createElement('div');
    document.body.append(place);
    await act(async () => createRoot(place).render(<Designer report="x" fetchToken={async () => ''} />));
    expect(place.querySelector('gaveta-designer iframe')).not.toBeNull();
  });
});

describe('an element', () => {
  beforeAll(() => {
    defineElements();
    // A second time is harmless.
    defineElements();
  });

  it('shows the report that it names, each kind its own screen, in the language it is given', () => {
    const viewer = place('gaveta-viewer', { report: 'a b', language: 'pt-PT' });
    expect(frameOf(viewer).src).toBe(`${HOME.href}embed/reports/a%20b?language=pt-PT`);
    expect(frameOf(viewer).title).toBe('Relatório');
    expect(frameOf(place('gaveta-designer', { report: 'x' })).src).toBe(`${HOME.href}embed/reports/x/design`);
    viewer.setAttribute('report', 'other');
    expect(viewer.querySelectorAll('iframe')).toHaveLength(1);
    expect(frameOf(viewer).src).toContain('embed/reports/other');
    viewer.removeAttribute('report');
    expect(frameOf(viewer)).toBeNull();
  });

  it('hands over a token when it is asked, and the parameters', async () => {
    const viewer = place('gaveta-viewer', { report: 'x', parameters: '{"season":2025}' });
    let count = 0;
    viewer.fetchToken = async () => `token ${++count}`;
    const page = inside(viewer);
    page.say({ kind: 'ready' });
    const parameters = { gaveta: EMBEDDING_VERSION, kind: 'parameters', values: { season: 2025 } };
    await expect.poll(page.messages).toEqual([parameters, token('token 1')]);
    page.say({ kind: 'need-token' });
    await expect.poll(page.messages).toContainEqual(token('token 2'));
    // Never to whoever else may have come into the frame.
    expect(page.told).toMatchObject([{ origin: HOME.origin }, { origin: HOME.origin }, { origin: HOME.origin }]);
    viewer.setAttribute('parameters', '{"season":2026}');
    expect(page.messages().at(-1)).toEqual({ ...parameters, values: { season: 2026 } });
  });

  it('asks the address in token-url, and says when it gets no token', async () => {
    const answers = [
      { ok: true, json: async () => ({ token: 'from there' }) },
      { ok: false, status: 503 },
    ];
    const fetched = vi.fn(async (_address: string) => answers.shift());
    vi.stubGlobal('fetch', fetched);
    const viewer = place('gaveta-viewer', { report: 'x', 'token-url': '/token' });
    const page = inside(viewer);
    page.say({ kind: 'ready' });
    await expect.poll(page.messages).toEqual([token('from there')]);
    page.say({ kind: 'need-token' });
    const refused = { code: 'no-token', detail: '/token answered 503 instead of a token.' };
    await expect.poll(() => heard).toEqual([{ kind: 'error', detail: refused }]);
    expect(fetched.mock.calls.map(([address]) => address)).toEqual(['/token', '/token']);
    viewer.removeAttribute('token-url');
    page.say({ kind: 'need-token' });
    await expect.poll(() => heard).toHaveLength(2);
    expect(heard[1]).toMatchObject({ detail: { code: 'no-token' } });
  });

  it('tells the host what happens inside as events, and nothing that comes from elsewhere', () => {
    const viewer = place('gaveta-viewer', { report: 'x' });
    const page = inside(viewer);
    const saved = { report: 'x', revision: 3 };
    page.say({ kind: 'saved', ...saved }, { origin: 'https://elsewhere.test' });
    page.say({ kind: 'saved', ...saved }, { source: window });
    page.say({ kind: 'made-up' });
    expect(heard).toEqual([]);
    page.say({ kind: 'saved', ...saved });
    page.say({ kind: 'page-count', report: 'x', pages: 4 });
    page.say({ kind: 'error', code: 'run-failed', detail: 'It failed.' });
    expect(heard).toEqual([
      { kind: 'saved', detail: saved },
      { kind: 'page-count', detail: { report: 'x', pages: 4 } },
      { kind: 'error', detail: { code: 'run-failed', detail: 'It failed.' } },
    ]);
    viewer.remove();
    page.say({ kind: 'saved', ...saved });
    expect(heard).toHaveLength(3);
    expect(frameOf(viewer)).toBeNull();
  });

  it('says when its parameters cannot be read', () => {
    const viewer = place('gaveta-viewer', { report: 'x' });
    const page = inside(viewer);
    viewer.setAttribute('parameters', 'season=2025');
    expect(heard).toMatchObject([{ kind: 'error', detail: { code: 'wrong-parameters' } }]);
    expect(page.messages()).toEqual([]);
  });
});
