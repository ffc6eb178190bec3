import { type LinkTarget, safeAddress } from '@gaveta/core/internal';
import type { Bookmarks } from '../document/text.ts';
import { words } from '../odt/body.ts';
import { attributes, edgeText, type OwnStyles, pt, textProperties } from '../odt/styles.ts';
import type { PartText } from '../part-text.ts';
import type { CellLook, Interned } from '../sheet/cell-look.ts';
import type { SheetCell, SheetPicture, SheetRow } from '../sheet/rows.ts';
import { type RowSum, sumText } from '../sheet/sums.ts';
import type { RangeTotal } from '../sheet/totals.ts';
import { columnLetters } from '../xlsx/text.ts';
import { escapeAttribute } from '../xml/escape.ts';
import type { NumberStyles } from './number-styles.ts';
import { valueAttributes } from './values.ts';

/** Functions of SUBTOTAL, by number (OpenFormula 1.3, 6.10.16). */
const NUMBERS = { AVERAGE: 1, COUNT: 2, MAX: 4, MIN: 5, SUM: 9 } as const;

/** Rows at the top of a sheet among which its captions stay in view. */
const LAST_FROZEN = 15;

const OWN: Partial<Record<CellLook['type'], string>> = { date: 'yyyy-mm-dd', datetime: 'yyyy-mm-dd hh:mm' };

/** What sheets of one workbook have in common. */
export interface Workbook {
  styles: OwnStyles;
  numbers: NumberStyles;
  fonts: Interned<CellLook['font']>;
  timeZone: string;
  bookmarks: Bookmarks;
  /** Where places are, by their names. */
  places: Map<string, string>;
}

const quoted = (name: string): string => `'${name.replaceAll("'", "''")}'`;

/** One sheet on its way into the workbook. */
export class OdsSheet {
  /** Rows from the first to this one stay in view; 0 when none do. */
  frozen = 0;
  private isHeading = true;
  private inHeader = false;
  private level = 0;
  private rows = 0;
  /** Cells of rows below that are covered by those above, by row. */
  private readonly covered = new Map<number, Map<number, number>>();
  private readonly looks = new Map<string, string>();

  constructor(
    readonly name: string,
    private readonly columns: readonly number[],
    private readonly workbook: Workbook,
    private readonly text: PartText,
    /** Rows of the sheet that this one goes on from. */
    readonly offset: number,
  ) {}

  /** `style`: of the table, with its kind of page. */
  async begin(style: string): Promise<void> {
    const { columns, workbook, text } = this;
    await text.write(`<table:table table:name="${escapeAttribute(this.name)}" table:style-name="${style}">`);
    // Pictures are known when all rows are.
    await text.leaveRoom();
    for (const [i, edge] of columns.slice(1).entries()) {
      const width = pt(Math.max(1, edge - columns[i]!));
      const own = workbook.styles.name(
        'table-column',
        `<style:table-column-properties style:column-width="${width}"/>`,
      );
      await text.write(`<table:table-column table:style-name="${own}"/>`);
    }
  }

  row(row: SheetRow): Promise<void> | undefined {
    const { workbook } = this;
    const number = row.number - this.offset;
    this.rows = number + 1;
    const own = workbook.styles.name(
      'table-row',
      `<style:table-row-properties style:row-height="${pt(row.height)}" style:use-optimal-row-height="false"${row.breaks && number > 0 ? ' fo:break-before="page"' : ''}/>`,
    );
    const around = this.turn(row, number);
    return this.text.write(
      `${around}<table:table-row table:style-name="${own}">${this.cells(row, number)}</table:table-row>`,
    );
  }

  /** What ends and begins before a row: captions that are printed again, and levels of the outline. */
  private turn(row: SheetRow, number: number): string {
    let written = '';
    const level = row.level;
    const heads = row.isHeader && this.isHeading && number <= LAST_FROZEN && level === 0;
    if (this.inHeader && !heads) {
      written += '</table:table-header-rows>';
      this.inHeader = false;
      this.isHeading = false;
    }
    while (this.level > level) {
      written += '</table:table-row-group>';
      this.level--;
    }
    while (this.level < level) {
      written += `<table:table-row-group${row.isHidden ? ' table:display="false"' : ''}>`;
      this.level++;
    }
    if (heads && !this.inHeader) {
      written += '<table:table-header-rows>';
      this.inHeader = true;
    }
    if (heads) this.frozen = number + 1;
    return written;
  }

  private cells({ cells, bare }: SheetRow, number: number): string {
    const covered = this.covered.get(number) ?? new Map<number, number>();
    this.covered.delete(number);
    const written = new Map<number, { xml: string; span: number }>();
    for (const [column, look] of bare)
      written.set(column, { xml: `<table:table-cell table:style-name="${this.bareStyle(look)}"/>`, span: 1 });
    for (const cell of cells) {
      const style = this.style(cell);
      const spans =
        cell.span > 1 || cell.rows > 1
          ? ` table:number-columns-spanned="${cell.span}" table:number-rows-spanned="${cell.rows}"`
          : '';
      written.set(cell.column, { xml: this.cell(cell, number, style, spans), span: cell.span });
      for (let at = 1; at < cell.rows; at++) {
        const below = this.covered.get(number + at) ?? new Map<number, number>();
        below.set(cell.column, cell.span);
        this.covered.set(number + at, below);
      }
      if (cell.anchor !== undefined)
        this.workbook.places.set(
          this.workbook.bookmarks.of(cell.anchor),
          `$${quoted(this.name)}.$${columnLetters(cell.column)}$${number + 1}`,
        );
    }
    let [xml, empty] = ['', 0];
    const flush = (): void => {
      if (empty > 0) xml += `<table:table-cell${empty > 1 ? ` table:number-columns-repeated="${empty}"` : ''}/>`;
      empty = 0;
    };
    for (let column = 0; column < this.columns.length - 1; ) {
      const under = covered.get(column);
      const one = under === undefined ? written.get(column) : undefined;
      if (under === undefined && !one) {
        empty++;
        column++;
        continue;
      }
      flush();
      const span = under ?? one!.span;
      xml += one
        ? one.xml + '<table:covered-table-cell/>'.repeat(span - 1)
        : '<table:covered-table-cell/>'.repeat(span);
      column += span;
    }
    flush();
    return xml;
  }

  private cell(cell: SheetCell, row: number, style: string, spans: string): string {
    const { value, words: said, formula, to, look } = cell;
    const { timeZone } = this.workbook;
    const kind = valueAttributes(value, look.format, timeZone);
    const worked = formula && this.formula(formula, row);
    const shown = typeof said === 'string' ? words(said) : said.map(([text, font]) => this.span(text, font)).join('');
    const inner = this.linked(shown, to);
    const lines = inner === '' ? '' : `<text:p>${inner}</text:p>`;
    return `<table:table-cell table:style-name="${style}"${spans}${worked ? ` table:formula="${worked}"` : ''}${lines === '' && value === null ? '' : kind}>${lines}</table:table-cell>`;
  }

  private span(text: string, font: number): string {
    const { styles, fonts } = this.workbook;
    return `<text:span text:style-name="${styles.name('text', textProperties(fonts.all[font]!))}">${words(text)}</text:span>`;
  }

  private linked(inner: string, to: LinkTarget | undefined): string {
    if (!to || inner === '') return inner;
    const address =
      'anchor' in to ? `#${this.workbook.bookmarks.of(to.anchor)}` : 'address' in to ? safeAddress(to.address) : null;
    return address === null
      ? inner
      : `<text:a xlink:type="simple" xlink:href="${escapeAttribute(address)}">${inner}</text:a>`;
  }

  /** Null where its cells are on a sheet before. */
  private formula(formula: RangeTotal | RowSum, row: number): string | null {
    if (!('from' in formula))
      return `of:=${sumText(formula, (column) => `[.${columnLetters(column)}${row + 1}]`, ';')}`;
    const { name, column, from, to } = formula;
    if (from < this.offset) return null;
    const letters = columnLetters(column);
    return `of:=SUBTOTAL(${NUMBERS[name]};[.${letters}${from - this.offset + 1}:.${letters}${to - this.offset + 1}])`;
  }

  private style({ look, lookKey: key }: Pick<SheetCell, 'look' | 'lookKey'>): string {
    let name = this.looks.get(key);
    if (name === undefined) {
      const { font, align, stands, wraps, turn, indent, fill, edges } = look;
      const angle = ((Math.round(-turn) % 360) + 360) % 360;
      const code = look.type === 'text' || look.type === 'boolean' ? '' : look.format.trim() || OWN[look.type] || '';
      const data = this.workbook.numbers.of(code);
      const cell = attributes({
        'fo:background-color': fill,
        'style:vertical-align': stands,
        'fo:wrap-option': wraps ? 'wrap' : 'no-wrap',
        'style:shrink-to-fit': !wraps && code !== '' ? 'true' : undefined,
        'style:rotation-angle': angle === 0 ? undefined : String(angle),
        'style:text-align-source': 'fix',
        'fo:padding': '0pt',
        ...borders(edges),
      });
      const side = align === 'right' ? 'fo:margin-right' : 'fo:margin-left';
      const start = { left: 'start', right: 'end', center: 'center', justify: 'justify' }[align];
      const paragraph = attributes({ 'fo:text-align': start, [side]: indent > 0 ? pt(indent) : undefined });
      name = this.workbook.styles.name(
        'table-cell',
        `<style:table-cell-properties${cell}/><style:paragraph-properties${paragraph}/>${textProperties(font)}`,
        data ? ` style:data-style-name="${data}"` : '',
      );
      this.looks.set(key, name);
    }
    return name;
  }

  private bareStyle({ fill, edges }: Pick<CellLook, 'fill' | 'edges'>): string {
    const cell = attributes({ 'fo:background-color': fill, ...borders(edges) });
    return this.workbook.styles.name('table-cell', `<style:table-cell-properties${cell}/>`);
  }

  async end(): Promise<void> {
    let written = this.inHeader ? '</table:table-header-rows>' : '';
    written += '</table:table-row-group>'.repeat(this.level);
    if (this.rows === 0) written += '<table:table-row><table:table-cell/></table:table-row>';
    await this.text.write(`${written}</table:table>`);
  }

  /** Where it is split, as its view is kept. */
  settings(): string {
    const item = (name: string, type: string, value: string | number): string =>
      `<config:config-item config:name="${name}" config:type="${type}">${value}</config:config-item>`;
    const split =
      this.frozen > 0
        ? item('VerticalSplitMode', 'short', 2) +
          item('VerticalSplitPosition', 'int', this.frozen) +
          item('ActiveSplitRange', 'short', 2) +
          item('PositionBottom', 'int', this.frozen)
        : '';
    return `<config:config-item-map-entry config:name="${escapeAttribute(this.name)}">${split}${item('ShowGrid', 'boolean', 'false')}</config:config-item-map-entry>`;
  }
}

const borders = (edges: CellLook['edges']): Record<string, string | undefined> => ({
  'fo:border-top': edgeText(edges.top),
  'fo:border-bottom': edgeText(edges.bottom),
  'fo:border-left': edgeText(edges.left),
  'fo:border-right': edgeText(edges.right),
});

/** Pictures of a sheet, as they lie on it. */
export const shapesXml = (
  pictures: readonly (SheetPicture & { file: string; svg?: string; alternative: string })[],
  columns: readonly number[],
): string => {
  if (pictures.length === 0) return '';
  const image = (file: string): string =>
    `<draw:image xlink:href="Pictures/${file}" xlink:type="simple" xlink:show="embed" xlink:actuate="onLoad"/>`;
  const drawn = pictures.map(
    ({ column, dx, top, width, height, file, svg, alternative }) =>
      `<draw:frame svg:x="${pt(columns[column]! + dx)}" svg:y="${pt(top)}" svg:width="${pt(width)}" svg:height="${pt(height)}">${svg ? image(svg) : ''}${image(file)}<svg:title>${escapeAttribute(alternative)}</svg:title></draw:frame>`,
  );
  return `<table:shapes>${drawn.join('')}</table:shapes>`;
};
