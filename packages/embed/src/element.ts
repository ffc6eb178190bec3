import {
  type FrameCalls,
  type FrameMethod,
  type HostAction,
  type HostValues,
  PARTS,
  type Part,
  type ToHost,
} from '@gaveta/core/embedding';
import { Conversation } from './conversation.ts';
import { type GavetaEvents, GavetaFailure, type GavetaTarget } from './events.ts';
import { homeOf } from './home.ts';
import { lookOf, watchLook } from './look.ts';
import { type OpenedAs, openIn } from './open-as.ts';
import { showAsBlocks } from './shown-as.ts';
import { noServer, type Trouble, tokenFrom, whySilent } from './trouble.ts';

/** A button of the host’s own, and what it does. */
export interface GavetaAction extends Omit<HostAction, 'place'> {
  /** In the strip above the report (as it comes), or in the menu behind it. */
  place?: HostAction['place'];
  onPress: (pressed: GavetaEvents['action']['detail']) => void;
}

/** Milliseconds in which a frame that was fetched must have said something. */
const SILENCE = 8000;

/** A call that waits for a screen which is not there yet. */
interface Waiting {
  go: (conversation: Conversation) => void;
  refuse: (error: GavetaFailure) => void;
}

/** What `<gaveta-viewer>` and its sisters share: a frame of Gaveta’s, and the conversation with it. */
export abstract class GavetaElement extends HTMLElement implements GavetaTarget {
  static observedAttributes = ['server', 'report', 'parameters', 'language', 'hide', 'height', 'words'];

  declare addEventListener: GavetaTarget['addEventListener'];

  private tokens: (() => Promise<string>) | null = null;
  private own: readonly GavetaAction[] = [];
  private replaced: Readonly<Record<string, string>> = {};
  private conversation: Conversation | null = null;
  private frame: HTMLIFrameElement | null = null;
  private window: Window | null = null;
  private isReady = false;
  /** What of `hide` is no part, as it was said last. */
  private unknown = '';
  private waiting: Waiting[] = [];
  private silence: ReturnType<typeof setTimeout> | undefined;
  private stopWatching: (() => void) | null = null;
  private opened: OpenedAs | null = null;
  private unsaved = false;
  private readonly asksToStay = (event: BeforeUnloadEvent): void => {
    if (this.unsaved) event.preventDefault();
  };

  constructor() {
    super();
    // What was set before the element was known lies on it as a plain value, and would hide what is here.
    for (const name of ['fetchToken', 'actions', 'words', 'parameters', 'report', 'server']) {
      if (!Object.hasOwn(this, name)) continue;
      const value: unknown = Reflect.get(this, name);
      Reflect.deleteProperty(this, name);
      queueMicrotask(() => Reflect.set(this, name, value));
    }
  }

  /** Path of the screen inside Gaveta; null where nothing can be shown yet. */
  protected abstract path(report: string | null): string | null;
  protected abstract readonly frameTitle: { en: string; pt: string };

  /** Gives a fresh token from the host's server. Set it, or name an address that answers `{ "token": … }` in `token-url`. */
  get fetchToken(): (() => Promise<string>) | null {
    return this.tokens;
  }
  set fetchToken(fetchToken: (() => Promise<string>) | null) {
    this.tokens = fetchToken;
    if (this.isReady) void this.sendToken();
  }

  /** Id of the report; null for none. */
  get report(): string | null {
    return this.getAttribute('report');
  }
  set report(report: string | null) {
    this.put('report', report);
  }

  /** Gaveta’s address; where the script came from when null. */
  get server(): string | null {
    return this.getAttribute('server');
  }
  set server(server: string | null) {
    this.put('server', server);
  }

  /** Values of the report’s parameters, by name. */
  get parameters(): HostValues {
    try {
      return JSON.parse(this.getAttribute('parameters') ?? '{}') as HostValues;
    } catch {
      return {};
    }
  }
  set parameters(values: HostValues | null) {
    this.put('parameters', values && JSON.stringify(values));
  }

  /** Buttons of the host’s own. */
  get actions(): readonly GavetaAction[] {
    return this.own;
  }
  set actions(actions: readonly GavetaAction[]) {
    this.own = actions;
    this.sendSettings();
  }

  /** Words of the interface by key, in place of its own; also from a file, named in the attribute `words`. */
  get words(): Readonly<Record<string, string>> {
    return this.replaced;
  }
  set words(words: Readonly<Record<string, string>>) {
    this.replaced = words;
    this.sendSettings();
  }

  /** Whether there is work in it that is not saved. */
  get isUnsaved(): boolean {
    return this.unsaved;
  }

  connectedCallback(): void {
    showAsBlocks(this);
    window.addEventListener('beforeunload', this.asksToStay);
    this.stopWatching = watchLook(this, () => this.sendSettings());
    void this.fetchWords();
    this.show();
  }

  disconnectedCallback(): void {
    window.removeEventListener('beforeunload', this.asksToStay);
    this.stopWatching?.();
    this.opened?.close();
    this.leaveFrame();
  }

  attributeChangedCallback(name: string, before: string | null, now: string | null): void {
    if (!this.isConnected || before === now) return;
    if (name === 'parameters') this.sendParameters();
    else if (name === 'words') void this.fetchWords();
    else if (name === 'hide' || name === 'height') this.sendSettings();
    else this.show();
  }

  /**
   * Shows the element over the page (`panel`), in the place of the page (`page`), or in a window of its own (`window`), each with a way
   * to close it. `close` of what it gives does so as well; the event `close` tells when it was.
   */
  openAs(place: 'panel' | 'page' | 'window'): OpenedAs {
    return this.openAt(place, this.address());
  }

  private openAt(place: OpenedAs['place'], address: URL | null): OpenedAs {
    this.opened?.close();
    if (!address) throw new GavetaFailure('no-report', 'Name a report first, in the attribute “report”.');
    this.opened = openIn(place, this, {
      words: this.isPortuguese ? { close: 'Fechar' } : { close: 'Close' },
      address,
      talkWith: (other) => {
        this.leaveFrame();
        this.window = other;
        this.talk(address);
      },
      closed: () => {
        this.opened = null;
        if (this.window !== null) this.show();
        this.dispatchEvent(new CustomEvent('close', { bubbles: true }));
      },
    });
    return this.opened;
  }

  /** Asks the screen for something, as soon as it can be asked. */
  protected ask<M extends FrameMethod>(method: M, given: FrameCalls[M]['given']): Promise<FrameCalls[M]['gives']> {
    if (!this.conversation)
      return Promise.reject(new GavetaFailure('not-shown', 'The element is not on a page, or names no report.'));
    if (this.isReady) return this.conversation.call(method, given);
    return new Promise((resolve, reject) => {
      this.waiting.push({
        go: (conversation) => void conversation.call(method, given).then(resolve, reject),
        refuse: reject,
      });
    });
  }

  /** Begins anew with what the attributes say now. */
  protected show(): void {
    this.leaveFrame();
    const address = this.address();
    if (!address) return;
    const frame = document.createElement('iframe');
    frame.title = this.frameTitle[this.isPortuguese ? 'pt' : 'en'];
    frame.allow = 'clipboard-write; fullscreen';
    frame.style.cssText = 'border:0;width:100%;height:100%;display:block';
    this.frame = frame;
    this.talk(address);
    frame.src = address.href;
    frame.addEventListener('load', () => this.expectWords(frame, address));
    this.append(frame);
  }

  private address(): URL | null {
    const path = this.path(this.report);
    if (path === null) return null;
    const home = homeOf(this.server);
    if (!home) {
      this.fail(noServer);
      return null;
    }
    const address = new URL(path, home);
    const language = this.getAttribute('language');
    if (language) address.searchParams.set('ui-language', language);
    return address;
  }

  private get isPortuguese(): boolean {
    return (this.getAttribute('language') ?? '').toLowerCase().startsWith('pt');
  }

  private talk(address: URL): void {
    this.conversation = new Conversation(
      () => this.window ?? this.frame?.contentWindow ?? null,
      address.origin,
      (message) => this.hear(message),
    );
  }

  private leaveFrame(): void {
    clearTimeout(this.silence);
    this.conversation?.close();
    this.conversation = null;
    this.frame?.remove();
    this.frame = null;
    this.window = null;
    this.isReady = false;
    this.unsaved = false;
    this.querySelector(':scope > [role=alert]')?.remove();
    for (const { refuse } of this.waiting.splice(0)) refuse(new GavetaFailure('closed', 'The element was removed.'));
  }

  /** A page that was fetched and says nothing is none of Gaveta’s, or was kept out of the frame. */
  private expectWords(frame: HTMLIFrameElement, address: URL): void {
    clearTimeout(this.silence);
    if (this.isReady) return;
    this.silence = setTimeout(async () => {
      const trouble = await whySilent(homeOf(this.server) ?? new URL('.', address));
      if (this.frame === frame && !this.isReady) this.fail(trouble);
    }, SILENCE);
  }

  private hear(message: Exclude<ToHost, { kind: 'answer' | 'refusal' }>): void {
    switch (message.kind) {
      case 'ready':
        clearTimeout(this.silence);
        this.isReady = true;
        this.sendSettings();
        void this.sendToken();
        this.sendParameters();
        for (const { go } of this.waiting.splice(0)) go(this.conversation!);
        return;
      case 'need-token':
        void this.sendToken();
        return;
      case 'height':
        if (this.isAutoHeight && this.frame && !this.opened) this.frame.style.height = `${message.height}px`;
        return;
      case 'leave':
        if (this.opened) this.opened.close();
        return;
      case 'detach':
        this.detach(message.address);
        return;
      default: {
        const { gaveta: _, kind, ...detail } = message;
        if (message.kind === 'unsaved') this.unsaved = message.isUnsaved;
        if (message.kind === 'action') this.own.find(({ id }) => id === message.id)?.onPress(message);
        this.tell(kind, detail);
      }
    }
  }

  /** What is read goes on in a window of its own, when somebody pressed for it in the frame. */
  private detach(wanted: string): void {
    const home = homeOf(this.server);
    const address = URL.canParse(wanted) ? new URL(wanted) : null;
    // A frame opens nothing but its own screens.
    const isOwn = home && address?.origin === home.origin && address.pathname.startsWith(`${home.pathname}embed/`);
    try {
      this.openAt('window', isOwn ? address : this.address());
    } catch (error) {
      this.tell('error', { code: 'no-window', detail: error instanceof Error ? error.message : String(error) });
    }
  }

  private tell(kind: string, detail: object): void {
    this.dispatchEvent(new CustomEvent(kind, { detail, bubbles: true }));
  }

  /** Says on the page and in an event what keeps it from being shown. */
  private fail({ code, detail }: Trouble): void {
    this.tell('error', { code, detail });
    if (code === 'wrong-parameters') return;
    this.querySelector(':scope > [role=alert]')?.remove();
    const notice = document.createElement('div');
    notice.setAttribute('role', 'alert');
    notice.style.cssText =
      'box-sizing:border-box;margin:0 0 8px;padding:12px 16px;border:1px solid #b3402e;border-radius:6px;background:#fffdf8;color:#1f2a2e;font:14px/1.5 system-ui,sans-serif;overflow-wrap:anywhere';
    notice.textContent = detail;
    this.prepend(notice);
  }

  private get isAutoHeight(): boolean {
    return this.getAttribute('height') === 'auto';
  }

  private sendSettings(): void {
    if (!this.isReady) return;
    const named = (this.getAttribute('hide') ?? '').split(/[\s,]+/).filter((part) => part !== '');
    const hide = named.filter((part): part is Part => isPart(part));
    this.tellUnknown(named.filter((part) => !isPart(part)).join(' '));
    if (!this.isAutoHeight && this.frame) this.frame.style.height = '100%';
    this.conversation?.say({
      kind: 'settings',
      look: lookOf(this),
      hide,
      actions: this.own.map(({ id, label, place = 'bar' }) => ({ id, label, place })),
      words: { ...this.replaced },
      isAutoHeight: this.isAutoHeight,
    });
  }

  /** Says once what of `hide` is no part. */
  private tellUnknown(names: string): void {
    if (names === this.unknown) return;
    this.unknown = names;
    if (names === '') return;
    const detail = `hide: there is no part “${names}”. There are: ${PARTS.join(', ')}.`;
    console.warn(`Gaveta: ${detail}`);
    this.tell('error', { code: 'unknown-part', detail });
  }

  private async fetchWords(): Promise<void> {
    const address = this.getAttribute('words');
    if (!address) return;
    try {
      const response = await fetch(address);
      if (!response.ok) throw new Error(`${address} answered ${response.status}.`);
      this.words = (await response.json()) as Record<string, string>;
    } catch (error) {
      this.tell('error', { code: 'no-words', detail: error instanceof Error ? error.message : String(error) });
    }
  }

  private async sendToken(): Promise<void> {
    const { conversation } = this;
    try {
      const token = await this.token();
      this.querySelector(':scope > [role=alert]')?.remove();
      conversation?.say({ kind: 'token', token });
    } catch (error) {
      if (this.conversation === conversation)
        this.fail({ code: 'no-token', detail: error instanceof Error ? error.message : String(error) });
    }
  }

  private async token(): Promise<string> {
    if (this.tokens) {
      const token: unknown = await this.tokens();
      if (typeof token === 'string' && token !== '') return token;
      throw new Error(
        'fetchToken gave no text. It must give the token itself, as in: async () => (await (await fetch("/token")).json()).token',
      );
    }
    const address = this.getAttribute('token-url');
    if (!address) throw new Error('Set fetchToken, or name the address that gives a token in the attribute token-url.');
    return tokenFrom(address);
  }

  private sendParameters(): void {
    const text = this.getAttribute('parameters');
    if (!text) return;
    try {
      const values = JSON.parse(text) as HostValues;
      if (this.isReady) this.conversation?.say({ kind: 'parameters', values });
    } catch {
      this.fail({
        code: 'wrong-parameters',
        detail: `The attribute “parameters” is not JSON: ${text.slice(0, 80)}. Write it as parameters='{"season": 2025}'.`,
      });
    }
  }

  private put(name: string, value: string | null): void {
    if (value === null) this.removeAttribute(name);
    else this.setAttribute(name, value);
  }
}

const isPart = (part: string): part is Part => (PARTS as readonly string[]).includes(part);
