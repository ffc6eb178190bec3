import { EMBEDDING_VERSION, readToHost, type ToFrame, type ToHost } from '@gaveta/core/embedding';

type Detail<K extends ToHost['kind']> = Omit<Extract<ToHost, { kind: K }>, 'gaveta' | 'kind'>;

/** Events of the elements; `detail` carries the message's data. They bubble. */
export interface GavetaEvents {
  saved: CustomEvent<Detail<'saved'>>;
  'page-count': CustomEvent<Detail<'page-count'>>;
  error: CustomEvent<Detail<'error'>>;
}

/** Where this script was loaded from; apart, since bundlers read `new URL(…, import.meta.url)` as a file to pack. */
const SCRIPT: string = import.meta.url;

/** Gaveta's address. */
const HOME = new URL('.', SCRIPT);

abstract class GavetaElement extends HTMLElement {
  static observedAttributes = ['report', 'parameters', 'language'];

  /**
   * Gives a fresh token from the host's server. Set it, or name an address that answers `{ "token": … }` in `token-url`. It
   * may have been set before the element was registered.
   */
  fetchToken: (() => Promise<string>) | null = Reflect.get(this, 'fetchToken') ?? null;

  private frame: HTMLIFrameElement | null = null;
  private readonly hear = (event: MessageEvent): void => {
    if (event.source !== this.frame?.contentWindow || event.origin !== HOME.origin) return;
    const message = readToHost(event.data);
    if (!message) return;
    switch (message.kind) {
      case 'ready':
        void this.sendToken();
        this.sendParameters();
        return;
      case 'need-token':
        void this.sendToken();
        return;
      case 'saved':
      case 'page-count':
      case 'error': {
        const { gaveta: _, kind, ...detail } = message;
        this.dispatchEvent(new CustomEvent(kind, { detail, bubbles: true }));
        return;
      }
      default:
        message satisfies never;
    }
  };

  /** Path of the screen inside Gaveta. */
  protected abstract path(report: string): string;
  protected abstract readonly frameTitle: { en: string; pt: string };

  connectedCallback(): void {
    window.addEventListener('message', this.hear);
    this.style.display ||= 'block';
    this.show();
  }

  disconnectedCallback(): void {
    window.removeEventListener('message', this.hear);
    this.frame?.remove();
    this.frame = null;
  }

  attributeChangedCallback(name: string): void {
    if (!this.isConnected) return;
    if (name === 'parameters') this.sendParameters();
    else this.show();
  }

  private show(): void {
    const report = this.getAttribute('report');
    this.frame?.remove();
    this.frame = null;
    if (!report) return;
    const frame = document.createElement('iframe');
    const address = new URL(this.path(encodeURIComponent(report)), HOME);
    const language = this.getAttribute('language') ?? '';
    if (language) address.searchParams.set('language', language);
    frame.src = address.href;
    frame.title = this.frameTitle[language.toLowerCase().startsWith('pt') ? 'pt' : 'en'];
    frame.allow = 'clipboard-write';
    frame.style.cssText = 'border:0;width:100%;height:100%;display:block';
    this.frame = frame;
    this.append(frame);
  }

  private send(message: ToFrame): void {
    this.frame?.contentWindow?.postMessage(message, HOME.origin);
  }

  private async sendToken(): Promise<void> {
    try {
      this.send({ gaveta: EMBEDDING_VERSION, kind: 'token', token: await this.token() });
    } catch (error) {
      const detail = { code: 'no-token', detail: error instanceof Error ? error.message : String(error) };
      this.dispatchEvent(new CustomEvent('error', { detail, bubbles: true }));
    }
  }

  private async token(): Promise<string> {
    if (this.fetchToken) return this.fetchToken();
    const address = this.getAttribute('token-url');
    if (!address) throw new Error('Set fetchToken, or name the address that gives a token in the attribute token-url.');
    const response = await fetch(address, { credentials: 'same-origin' });
    if (!response.ok) throw new Error(`${address} answered ${response.status} instead of a token.`);
    return ((await response.json()) as { token: string }).token;
  }

  private sendParameters(): void {
    const text = this.getAttribute('parameters');
    if (!text) return;
    try {
      this.send({ gaveta: EMBEDDING_VERSION, kind: 'parameters', values: JSON.parse(text) });
    } catch {
      const detail = { code: 'wrong-parameters', detail: 'The attribute “parameters” is not JSON.' };
      this.dispatchEvent(new CustomEvent('error', { detail, bubbles: true }));
    }
  }
}

/** Shows a report: `<gaveta-viewer report="season-ledger" token-url="/token">`. */
export class GavetaViewer extends GavetaElement {
  protected readonly frameTitle = { en: 'Report', pt: 'Relatório' };
  protected path(report: string): string {
    return `embed/reports/${report}`;
  }
}

/** Lets a maker change a report: `<gaveta-designer report="season-ledger" token-url="/token">`. */
export class GavetaDesigner extends GavetaElement {
  protected readonly frameTitle = { en: 'Report designer', pt: 'Desenho do relatório' };
  protected path(report: string): string {
    return `embed/reports/${report}/design`;
  }
}

/** Registers the two elements; doing it twice is harmless. */
export const defineElements = (): void => {
  if (!customElements.get('gaveta-viewer')) customElements.define('gaveta-viewer', GavetaViewer);
  if (!customElements.get('gaveta-designer')) customElements.define('gaveta-designer', GavetaDesigner);
};
