import type { FrameCalls, HostValues } from '@gaveta/core/embedding';
import { GavetaElement } from './element.ts';

/** A file of a report, and how it is made. */
export interface ExportOptions {
  /** Options of the output, as docs/outputs.md lists them. */
  options?: Record<string, string | number | boolean>;
  /** Pattern of the file’s name, as `{report} {date}`. */
  fileName?: string;
}

/** Shows a report: `<gaveta-viewer report="season-ledger" token-url="/token">`. */
export class GavetaViewer extends GavetaElement {
  protected readonly frameTitle = { en: 'Report', pt: 'Relatório' };
  protected path(report: string | null): string | null {
    return report === null || report === '' ? null : `embed/reports/${encodeURIComponent(report)}`;
  }

  /** Runs the report anew, with the values that its parameters have now. */
  async run(): Promise<void> {
    await this.ask('run', {});
  }

  /** Opens the browser’s window for printing, as soon as all pages are there. */
  async print(): Promise<void> {
    await this.ask('print', {});
  }

  /** Makes a file of the report as it is shown, as soon as all of it is there: `format` is an output, as `pdf`. */
  async export(format: string, { options = {}, fileName = '' }: ExportOptions = {}): Promise<File> {
    const { name, blob } = await this.ask('export', { format, options, fileName });
    return new File([blob], name, { type: blob.type });
  }

  /** Goes to a page, from 1, or to an anchor of the report; gives whether there is such a one. */
  goTo(place: number | string): Promise<boolean> {
    return this.ask('goTo', typeof place === 'number' ? { page: place } : { anchor: place });
  }

  /** Looks for a text on all pages, ignoring case and accents, and goes to the first page that has it. */
  find(text: string): Promise<FrameCalls['find']['gives']> {
    return this.ask('find', { text });
  }

  /** Changes values of parameters; those that are not named stay. The report is run with them. */
  async setParameters(values: HostValues): Promise<void> {
    await this.ask('setParameters', { values });
  }
}

/** Lets a maker change a report: `<gaveta-designer report="season-ledger" token-url="/token">`; without `report` a new one. */
export class GavetaDesigner extends GavetaElement {
  protected readonly frameTitle = { en: 'Report designer', pt: 'Desenho do relatório' };
  protected path(report: string | null): string | null {
    return report === null || report === '' ? 'embed/start' : `embed/reports/${encodeURIComponent(report)}/design`;
  }

  /** Saves what was changed; rejects where that cannot be. */
  async save(note = ''): Promise<void> {
    await this.ask('save', { note });
  }
}

/** Lists the reports, each of which opens in it: `<gaveta-library token-url="/token">`. */
export class GavetaLibrary extends GavetaElement {
  protected readonly frameTitle = { en: 'Reports', pt: 'Relatórios' };
  protected path(): string {
    return 'embed/';
  }
}
