import { GavetaViewer } from './viewer.ts';

const LOOK = `
  :host { display: inline-block }
  :host([hidden]) { display: none }
  button {
    font: inherit;
    padding: 6px 14px;
    border-radius: var(--gaveta-radius, 6px);
    border: 1px solid var(--gaveta-action, #1f5c4d);
    background: var(--gaveta-action, #1f5c4d);
    color: var(--gaveta-on-action, #fff);
    cursor: pointer;
  }
  button[disabled] { opacity: 0.6; cursor: progress }
`;

/**
 * A button that makes a file of a report, without showing it: `<gaveta-export-button report="season-ledger" format="pdf"
 * token-url="/token">Ledger as PDF</gaveta-export-button>`. What stands in it is its label.
 */
export class GavetaExportButton extends GavetaViewer {
  private readonly button = document.createElement('button');
  private isWanted = false;

  constructor() {
    super();
    const root = this.attachShadow({ mode: 'open' });
    // A sheet that is adopted needs no leave of a page's policy, which an element of style would.
    const style = new CSSStyleSheet();
    style.replaceSync(LOOK);
    root.adoptedStyleSheets = [style];
    const label = document.createElement('slot');
    label.append('PDF');
    this.button.type = 'button';
    this.button.setAttribute('part', 'button');
    this.button.append(label);
    this.button.addEventListener('click', () => void this.download());
    // The frame is in the page, so that it works, and takes no room in it.
    const hidden = document.createElement('slot');
    hidden.name = 'frame';
    const away = document.createElement('div');
    away.style.cssText = 'position:absolute;width:1px;height:1px;overflow:hidden;clip-path:inset(50%)';
    away.inert = true;
    away.append(hidden);
    root.append(this.button, away);
  }

  /** Makes the file and hands it to the browser to be saved. */
  async download(): Promise<void> {
    if (this.button.disabled) return;
    this.button.disabled = true;
    this.button.setAttribute('aria-busy', 'true');
    try {
      if (!this.isWanted) {
        this.isWanted = true;
        this.show();
      }
      const file = await this.export(this.getAttribute('format') ?? 'pdf');
      const link = document.createElement('a');
      link.href = URL.createObjectURL(file);
      link.download = file.name;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
    } catch (error) {
      const { code = 'unexpected' } = error as { code?: string };
      const detail = error instanceof Error ? error.message : String(error);
      this.dispatchEvent(new CustomEvent('error', { detail: { code, detail }, bubbles: true }));
    } finally {
      this.button.disabled = false;
      this.button.removeAttribute('aria-busy');
    }
  }

  /** Nothing is fetched before somebody wants the file. */
  protected override show(): void {
    if (!this.isWanted) return;
    super.show();
    const frame = this.querySelector('iframe');
    if (frame) {
      frame.slot = 'frame';
      frame.tabIndex = -1;
    }
  }
}
