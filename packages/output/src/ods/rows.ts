import type { Writable } from 'node:stream';
import {
  addNumbers,
  isNumeric,
  type ListedColumn,
  type ListedSet,
  type Numeric,
  numericText,
  phrase,
  type RowListener,
  SaidError,
  type Value,
  valueText,
} from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { words } from '../odt/body.ts';
import { manifestXml, metaXml, OASIS } from '../odt/package.ts';
import { onlyOnce } from '../only-once.ts';
import type { RowsRun } from '../output.ts';
import { PartFile } from '../part-file.ts';
import { RowNumbers } from '../row-numbers.ts';
import { MOST_COLUMNS, MOST_ROWS } from '../sheet/limits.ts';
import { columnLetters, SheetNames } from '../xlsx/text.ts';
import { escapeAttribute } from '../xml/escape.ts';
import { NumberStyles } from './number-styles.ts';
import type { OdsDataOptions } from './options.ts';
import { valueAttributes } from './values.ts';

const MIME = 'application/vnd.oasis.opendocument.spreadsheet';
const NAMES = `xmlns:office="${OASIS}:office:1.0" xmlns:style="${OASIS}:style:1.0" xmlns:text="${OASIS}:text:1.0" xmlns:table="${OASIS}:table:1.0" xmlns:fo="${OASIS}:xsl-fo-compatible:1.0" xmlns:number="${OASIS}:datastyle:1.0" xmlns:of="${OASIS}:of:1.2" office:version="1.3"`;

/** Characters that leave together. */
const TOGETHER = 64 * 1024;

/** Centimetres. */
const WIDTHS: Readonly<Record<ListedColumn['type'], number>> = {
  text: 4.5,
  number: 2.8,
  date: 2.6,
  datetime: 3.8,
  boolean: 2.2,
};

interface SheetColumn {
  caption: string;
  type: ListedColumn['type'];
  format: string;
  isSummed: boolean;
}

/** Formats where none is said: of dates and times, which programs would show as numbers. */
const FORMATS: Partial<Record<ListedColumn['type'], string>> = { date: 'yyyy-mm-dd', datetime: 'yyyy-mm-dd hh:mm' };

/** Styles of cells by their number formats. */
class CellStyles {
  private readonly numbers = new NumberStyles();
  private readonly names = new Map<string, string>();

  of({ format, type }: Pick<SheetColumn, 'format' | 'type'>): string {
    const code = format || (FORMATS[type] ?? '');
    let name = this.names.get(code);
    if (name === undefined) {
      name = `C${this.names.size + 1}`;
      this.names.set(code, name);
    }
    return name;
  }

  xml(): string {
    const cells = [...this.names].map(([code, name]) => {
      const number = this.numbers.of(code);
      const data = number ? ` style:data-style-name="${number}"` : '';
      const bold = '<style:text-properties fo:font-weight="bold"/>';
      return `<style:style style:name="${name}" style:family="table-cell"${data}/><style:style style:name="${name}b" style:family="table-cell"${data}>${bold}</style:style>`;
    });
    const widths = Object.entries(WIDTHS).map(
      ([type, width]) =>
        `<style:style style:name="W${type}" style:family="table-column"><style:table-column-properties style:column-width="${width}cm"/></style:style>`,
    );
    return `${this.numbers.xml()}${widths.join('')}${cells.join('')}<style:style style:name="Caption" style:family="table-cell"><style:text-properties fo:font-weight="bold"/></style:style>`;
  }
}

const textCell = (text: string, style: string): string =>
  `<table:table-cell table:style-name="${style}" office:value-type="string"><text:p>${words(text)}</text:p></table:table-cell>`;

/** One sheet, which waits in a file until all of it is there. */
class Sheet {
  private waiting = '';
  private rows = 0;
  private readonly sums: (Numeric | null)[];

  constructor(
    readonly name: string,
    private readonly columns: readonly SheetColumn[],
    private readonly styles: CellStyles,
    readonly part: PartFile,
  ) {
    if (columns.length > MOST_COLUMNS)
      throw new SaidError(phrase('sheet-many-columns', { count: columns.length, most: MOST_COLUMNS }));
    this.sums = columns.map(() => null);
    const wide = columns.map(({ type }) => `<table:table-column table:style-name="W${type}"/>`);
    const captions = columns.map(({ caption }) => textCell(caption, 'Caption'));
    this.waiting = `<table:table table:name="${escapeAttribute(name)}">${wide.join('')}<table:table-header-rows><table:table-row>${captions.join('')}</table:table-row></table:table-header-rows>`;
  }

  get isFull(): boolean {
    return this.rows + 2 >= MOST_ROWS;
  }

  row(values: readonly Value[], timeZone: string): Promise<void> | undefined {
    this.rows++;
    let cells = '';
    for (const [i, value] of values.entries()) {
      const column = this.columns[i]!;
      if (column.isSummed && isNumeric(value)) this.sums[i] = addNumbers(this.sums[i] ?? 0, value);
      if (value === null) cells += '<table:table-cell/>';
      else
        cells += `<table:table-cell table:style-name="${this.styles.of(column)}"${valueAttributes(value, column.format, timeZone)}><text:p>${words(valueText(value))}</text:p></table:table-cell>`;
    }
    this.waiting += `<table:table-row>${cells}</table:table-row>`;
    return this.waiting.length < TOGETHER ? undefined : this.flush();
  }

  private flush(): Promise<void> | undefined {
    const data = Buffer.from(this.waiting);
    this.waiting = '';
    return this.part.write(data);
  }

  /** Completes it, with sums as formulas where they are wanted; gives the range that a filter stands over, null where nothing does. */
  async end(withTotals: boolean): Promise<string | null> {
    const { rows, columns, sums, styles, name } = this;
    if (withTotals && sums.some((sum) => sum !== null)) {
      const cells = columns.map((column, i) => {
        const sum = sums[i];
        if (sum == null) return '<table:table-cell/>';
        const letter = columnLetters(i);
        const text = numericText(sum);
        return `<table:table-cell table:style-name="${styles.of(column)}b" table:formula="of:=SUBTOTAL(109;[.${letter}2:.${letter}${rows + 1}])"${valueAttributes(sum, column.format, 'UTC')}><text:p>${text}</text:p></table:table-cell>`;
      });
      this.waiting += `<table:table-row>${cells.join('')}</table:table-row>`;
    }
    this.waiting += '</table:table>';
    await this.flush();
    if (rows === 0 || columns.length === 0) return null;
    const quoted = `'${name.replaceAll("'", "''")}'`;
    return `${quoted}.A1:${quoted}.${columnLetters(columns.length - 1)}${rows + 1}`;
  }
}

class Rows implements RowListener {
  readonly sheets: Sheet[] = [];
  readonly styles = new CellStyles();
  private readonly names = new SheetNames();
  private readonly places = new Map<ListedSet, { sheet: Sheet; columns: SheetColumn[] }>();
  private readonly numbers: RowNumbers;

  constructor(private readonly run: RowsRun<OdsDataOptions>) {
    this.numbers = new RowNumbers(run.sets);
  }

  async open(): Promise<void> {
    const { header } = this.run.options;
    for (const set of this.numbers.all) {
      const numbers = this.numbers.captions(set).map((caption): SheetColumn => {
        return { caption, type: 'number', format: '', isSummed: false };
      });
      const columns = set.columns.map(({ name, label, type, format }): SheetColumn => {
        return { caption: header === 'names' ? name : label, type, format, isSummed: type === 'number' };
      });
      const all = [...numbers, ...columns];
      const captions = onlyOnce(all.map(({ caption }) => caption.trim() || 'Column'));
      const named = all.map((column, i) => ({ ...column, caption: captions[i]! }));
      this.places.set(set, { sheet: await this.add(set.label, named), columns: named });
    }
    if (this.sheets.length === 0) await this.add(this.run.title, []);
  }

  private async add(name: string, columns: readonly SheetColumn[]): Promise<Sheet> {
    const sheet = new Sheet(this.names.name(name), columns, this.styles, await PartFile.open());
    this.sheets.push(sheet);
    return sheet;
  }

  begins(): void {}
  rowEnds(): void {}
  ends(): void {}

  async row(set: ListedSet, values: readonly Value[]): Promise<void> {
    const place = this.places.get(set)!;
    if (place.sheet.isFull) place.sheet = await this.add(place.sheet.name, place.columns);
    const told = place.sheet.row([...this.numbers.next(set), ...values], this.run.timeZone);
    if (told) await told;
  }

  async close(): Promise<void> {
    await Promise.all(this.sheets.map(({ part }) => part.close()));
  }
}

/** Rows as cells of their own types, in a spreadsheet of OpenDocument (1.3) with a sheet for each set. */
export const writeRows = async (run: RowsRun<OdsDataOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const rows = new Rows(run);
  try {
    await rows.open();
    await run.rows(rows);
    const archive = new Archive(sink);
    await archive.add('mimetype', MIME, { stored: true });
    let filters = '';
    for (const [i, sheet] of rows.sheets.entries()) {
      const range = await sheet.end(run.options.totals);
      if (range)
        filters += `<table:database-range table:name="rows${i + 1}" table:target-range-address="${escapeAttribute(range)}" table:display-filter-buttons="true"/>`;
    }
    const head = `<?xml version="1.0" encoding="UTF-8"?>\n<office:document-content ${NAMES}><office:automatic-styles>${rows.styles.xml()}</office:automatic-styles><office:body><office:spreadsheet>`;
    const ranges = filters === '' ? '' : `<table:database-ranges>${filters}</table:database-ranges>`;
    const tail = `${ranges}</office:spreadsheet></office:body></office:document-content>`;
    await archive.stitch('content.xml', [head, ...rows.sheets.map(({ part }) => part), tail], signal);
    await archive.add('meta.xml', metaXml({ title: run.title, language: run.language }));
    await archive.add('META-INF/manifest.xml', manifestXml(archive, MIME, ['content.xml', 'meta.xml']));
    await archive.end();
  } finally {
    await rows.close();
  }
};
