// @vitest-environment happy-dom
// @vitest-environment-options { "settings": { "navigation": { "disableChildFrameNavigation": true } } }
import { EMBEDDING_VERSION } from '@gaveta/core/embedding';
import { act } from 'react';
import { createRoot } from 'react-dom/client';
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { defineElements } from './define.ts';
import type { GavetaExportButton } from './export-button.ts';
import { setHome } from './home.ts';
import { Designer, Viewer } from './react.tsx';
import type { GavetaDesigner, GavetaViewer } from './viewer.ts';

/** Where the script of the elements comes from: from here in a test. Apart, as in the elements themselves. */
const SCRIPT: string = import.meta.url;
const HOME = new URL('.', SCRIPT);
setHome(SCRIPT);

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
  const all = (): { kind: string }[] => told.map((one) => (one as { message: { kind: string } }).message);
  const messages = (): unknown[] => all().filter(({ kind }) => kind !== 'settings');
  const settings = (): unknown => all().findLast(({ kind }) => kind === 'settings');
  return {
    told,
    messages,
    settings,
    say: (message: object, from = {}) => say({ gaveta: EMBEDDING_VERSION, ...message }, from),
  };
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
    const shown = {
      server: HOME.href,
      report: 'x',
      fetchToken: async () => 'first',
      parameters: { season: 2025 },
      language: 'pt-PT',
    };
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
    await act(async () =>
      createRoot(place).render(<Designer server={HOME.href} report="x" fetchToken={async () => ''} />),
    );
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
    expect(frameOf(viewer).src).toBe(`${HOME.href}embed/reports/a%20b?ui-language=pt-PT`);
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
    expect(page.told.every((one) => (one as { origin: string }).origin === HOME.origin)).toBe(true);
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

  it('says what a token’s address answers in its place', async () => {
    vi.stubGlobal('fetch', async () => ({ ok: true, json: async () => ({ jwt: 'x', user: 'Inês' }) }));
    const viewer = place('gaveta-viewer', { report: 'x', 'token-url': '/token' });
    inside(viewer).say({ kind: 'ready' });
    const detail =
      '/token answered { "jwt": …, "user": … }. It must answer { "token": "…" }, with what signToken made.';
    await expect.poll(() => heard).toMatchObject([{ kind: 'error', detail: { code: 'no-token', detail } }]);
    expect(viewer.querySelector('[role=alert]')?.textContent).toBe(detail);
    heard.length = 0;
    viewer.fetchToken = (async () => ({ token: 'x' })) as unknown as () => Promise<string>;
    await expect.poll(() => heard).toMatchObject([{ detail: { code: 'no-token' } }]);
    expect(viewer.querySelector('[role=alert]')?.textContent).toContain('fetchToken gave no text');
    viewer.fetchToken = async () => 'at last';
    await expect.poll(() => viewer.querySelector('[role=alert]')).toBeNull();
  });

  it('says which line is missing where its frame is not shown', async () => {
    vi.useFakeTimers();
    const reached = vi.fn(async () => ({ ok: true }));
    vi.stubGlobal('fetch', reached);
    vi.stubGlobal('location', new URL('https://office.example/page'));
    const viewer = place('gaveta-viewer', { report: 'x' });
    frameOf(viewer).dispatchEvent(new Event('load'));
    await vi.advanceTimersByTimeAsync(8000);
    expect(heard).toMatchObject([{ kind: 'error', detail: { code: 'host-refused' } }]);
    expect(viewer.querySelector('[role=alert]')?.textContent).toContain("hosts: ['https://office.example']");
    reached.mockRejectedValue(new TypeError('refused'));
    viewer.setAttribute('report', 'other');
    frameOf(viewer).dispatchEvent(new Event('load'));
    await vi.advanceTimersByTimeAsync(8000);
    expect(heard[1]).toMatchObject({ detail: { code: 'server-away' } });
    viewer.setAttribute('report', 'third');
    inside(viewer).say({ kind: 'ready' });
    frameOf(viewer).dispatchEvent(new Event('load'));
    await vi.advanceTimersByTimeAsync(8000);
    expect(heard.filter(({ kind }) => kind === 'error').map(({ detail }) => (detail as { code: string }).code)).toEqual(
      [
        'host-refused',
        'server-away',
        // It was asked for a token, which nobody gives here.
        'no-token',
      ],
    );
    vi.useRealTimers();
  });

  it('takes Gaveta’s address as an attribute', () => {
    const viewer = place('gaveta-viewer', { report: 'x', server: 'https://reports.example/inner' });
    expect(frameOf(viewer).src).toBe('https://reports.example/inner/embed/reports/x');
    viewer.server = null;
    expect(frameOf(viewer).src).toBe(`${HOME.href}embed/reports/x`);
  });

  it('takes what was set before it was known', async () => {
    const early = document.createElement('gaveta-later') as GavetaViewer;
    Object.assign(early, { fetchToken: async () => 'early', parameters: { season: 2024 } });
    early.setAttribute('report', 'x');
    document.body.append(early);
    customElements.define(
      'gaveta-later',
      class extends (customElements.get('gaveta-viewer') as typeof GavetaViewer) {},
    );
    customElements.upgrade(early);
    await expect.poll(() => early.getAttribute('parameters')).toBe('{"season":2024}');
    const page = inside(early);
    page.say({ kind: 'ready' });
    await expect.poll(page.messages).toContainEqual(token('early'));
  });

  it('hands over its look, the parts to leave out, and the host’s buttons and words', async () => {
    const warned = vi.spyOn(console, 'warn').mockImplementation(() => {});
    const viewer = place('gaveta-viewer', { report: 'x', hide: 'export, print unknown', height: 'auto' });
    viewer.style.setProperty('--gaveta-action', '#7a1f5c');
    const onPress = vi.fn();
    viewer.actions = [{ id: 'send', label: 'Send', onPress }];
    viewer.words = { 'viewer.print': 'On paper' };
    const page = inside(viewer);
    page.say({ kind: 'ready' });
    expect(page.settings()).toMatchObject({
      look: { action: '#7a1f5c' },
      hide: ['export', 'print'],
      actions: [{ id: 'send', label: 'Send', place: 'bar' }],
      words: { 'viewer.print': 'On paper' },
      isAutoHeight: true,
    });
    const detail = expect.stringContaining('there is no part “unknown”. There are: export, print');
    expect(heard).toEqual([{ kind: 'error', detail: { code: 'unknown-part', detail } }]);
    expect(warned).toHaveBeenCalledOnce();
    warned.mockRestore();
    viewer.setAttribute('hide', 'outline');
    expect(page.settings()).toMatchObject({ hide: ['outline'] });
    viewer.style.setProperty('--gaveta-action', 'navy');
    await expect.poll(page.settings).toMatchObject({ look: { action: 'navy' } });
    page.say({ kind: 'height', height: 1234 });
    expect(frameOf(viewer).style.height).toBe('1234px');
    viewer.removeAttribute('height');
    expect(frameOf(viewer).style.height).toBe('100%');
    const pressed = { id: 'send', report: 'x', run: 'r', page: 2, values: { season: 2025 } };
    page.say({ kind: 'action', ...pressed });
    expect(onPress).toHaveBeenCalledWith(expect.objectContaining(pressed));
  });

  it('asks the screen for what its methods say, also before it is there', async () => {
    const viewer = place('gaveta-viewer', { report: 'x', 'token-url': '/token' });
    const page = inside(viewer);
    const early = viewer.goTo(3);
    page.say({ kind: 'ready' });
    const calls = () => page.messages().filter((m) => (m as { kind: string }).kind === 'call') as { call: number }[];
    await expect.poll(calls).toMatchObject([{ method: 'goTo', given: { page: 3 } }]);
    page.say({ kind: 'answer', call: calls()[0]!.call, value: true });
    expect(await early).toBe(true);
    const file = viewer.export('csv', { options: { separator: 'tab' } });
    expect(calls()[1]).toMatchObject({ method: 'export', given: { format: 'csv', options: { separator: 'tab' } } });
    const blob = new Blob(['a'], { type: 'text/csv' });
    page.say({ kind: 'answer', call: calls()[1]!.call, value: { name: 'huts.csv', blob } });
    expect(await file).toMatchObject({ name: 'huts.csv', type: 'text/csv', size: 1 });
    const refused = viewer.setParameters({ seson: 2025 });
    page.say({ kind: 'refusal', call: calls()[2]!.call, code: 'unknown-parameter', detail: 'Did you mean season?' });
    await expect(refused).rejects.toMatchObject({ code: 'unknown-parameter', message: 'Did you mean season?' });
    const never = viewer.print();
    viewer.remove();
    await expect(never).rejects.toMatchObject({ code: 'closed' });
    await expect(viewer.run()).rejects.toMatchObject({ code: 'not-shown' });
  });

  it('saves a designer’s work, and keeps the page while there is some that is not saved', () => {
    const designer = place('gaveta-designer', { report: 'x' }) as unknown as GavetaDesigner;
    const page = inside(designer);
    page.say({ kind: 'ready' });
    void designer.save('Totals').catch(() => {});
    expect(page.messages()).toContainEqual(expect.objectContaining({ method: 'save', given: { note: 'Totals' } }));
    const leaves = (): boolean => window.dispatchEvent(new Event('beforeunload', { cancelable: true }));
    expect(leaves()).toBe(true);
    page.say({ kind: 'unsaved', report: 'x', isUnsaved: true });
    expect(designer.isUnsaved).toBe(true);
    expect(leaves()).toBe(false);
    page.say({ kind: 'unsaved', report: 'x', isUnsaved: false });
    expect(leaves()).toBe(true);
  });
});

describe('the export button', () => {
  it('fetches nothing before it is pressed, then makes the file without showing the report', async () => {
    const button = place('gaveta-export-button', { report: 'x', format: 'xlsx' }) as unknown as GavetaExportButton;
    expect(frameOf(button)).toBeNull();
    const inner = button.shadowRoot!.querySelector('button')!;
    const saved: string[] = [];
    vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
      saved.push(this.download);
    });
    inner.click();
    const page = inside(button);
    page.say({ kind: 'ready' });
    await expect.poll(page.messages).toContainEqual(expect.objectContaining({ method: 'export' }));
    expect(inner.disabled).toBe(true);
    const [call] = page.messages().filter((m) => (m as { kind: string }).kind === 'call') as { call: number }[];
    page.say({ kind: 'answer', call: call!.call, value: { name: 'ledger.xlsx', blob: new Blob(['x']) } });
    await expect.poll(() => saved).toEqual(['ledger.xlsx']);
    expect(inner.disabled).toBe(false);
    inner.click();
    await expect.poll(() => page.messages().filter((m) => (m as { kind: string }).kind === 'call')).toHaveLength(2);
    page.say({ kind: 'refusal', call: call!.call + 1, code: 'run-incomplete', detail: 'Rows are missing.' });
    await expect
      .poll(() => heard)
      .toContainEqual({
        kind: 'error',
        detail: { code: 'run-incomplete', detail: 'Rows are missing.' },
      });
  });
});
