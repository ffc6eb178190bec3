import { type ContentSection, type LinkTarget, safeAddress } from '@gaveta/core/internal';
import type { Archive } from '../archive.ts';
import { Relations } from '../office/relations.ts';
import { PartFile } from '../part-file.ts';
import type { CellLook, Interned } from '../sheet/cell-look.ts';
import type { SheetCell, SheetRow } from '../sheet/rows.ts';
import { type RowSum, sumText } from '../sheet/sums.ts';
import type { RangeTotal } from '../sheet/totals.ts';
import { textCell, valueCell } from './cells.ts';
import { fontXml, type LookFormats } from './look-formats.ts';
import { attributeText, cellText, columnLetters } from './text.ts';

const HEAD = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
/** Rows at the top of a sheet among which its captions stay in view. */
const LAST_FROZEN = 15;
/** New pages that a sheet can ask for. */
const MOST_BREAKS = 1_023;
const TOGETHER = 64 * 1024;
const POINTS_IN_INCH = 72;

/** Functions of SUBTOTAL, by number (ECMA-376, 18.17.7.324). */
const NUMBERS = { AVERAGE: 1, COUNT: 2, MAX: 4, MIN: 5, SUM: 9 } as const;

/** Where something is that links lead to. */
export interface SheetPlace {
  sheet: string;
  at: string;
}

/** What sheets of one workbook have in common. */
export interface SeenWorkbook {
  formats: LookFormats;
  fonts: Interned<CellLook['font']>;
  timeZone: string;
  places: Map<string, SheetPlace>;
}

const quoted = (name: string): string => `'${name.replaceAll("'", "''")}'`;

/** One sheet that looks like a report, on its way to its part of the workbook. */
export class SeenSheet {
  readonly relations = new Relations();
  private waiting = '';
  private readonly merges: string[] = [];
  private readonly links: { at: string; to: LinkTarget }[] = [];
  private readonly letters: string[];
  /** Rows from the first to this one stay in view; 0 when none do. */
  private frozen = 0;
  private firstHeader = -1;
  private isHeading = true;
  private deepest = 0;
  /** Rows that printed pages begin with. */
  private readonly breaks: number[] = [];
  rows = 0;

  private constructor(
    readonly name: string,
    private readonly columns: readonly number[],
    private readonly section: ContentSection,
    private readonly workbook: SeenWorkbook,
    private readonly part: PartFile,
    /** Rows of the sheet that this one goes on from. */
    readonly offset: number,
  ) {
    this.letters = columns.map((_, i) => columnLetters(i));
  }

  static async open(
    name: string,
    columns: readonly number[],
    section: ContentSection,
    workbook: SeenWorkbook,
    offset: number,
  ): Promise<SeenSheet> {
    return new SeenSheet(name, columns, section, workbook, await PartFile.open(), offset);
  }

  private at(column: number, row: number): string {
    return `${this.letters[column]}${row + 1}`;
  }

  row(row: SheetRow): Promise<void> | undefined {
    const number = row.number - this.offset;
    this.rows = number + 1;
    this.heads(row, number);
    const attributes = [
      ` r="${number + 1}" ht="${Math.round(row.height * 100) / 100}" customHeight="1"`,
      row.level > 0 ? ` outlineLevel="${Math.min(7, row.level)}"` : '',
      row.isHidden ? ' hidden="1"' : '',
      row.isCollapsed ? ' collapsed="1"' : '',
    ].join('');
    if (row.breaks && number > 0 && this.breaks.length < MOST_BREAKS) this.breaks.push(number);
    this.deepest = Math.max(this.deepest, Math.min(7, row.level));
    this.waiting += `<row${attributes}>${this.cells(row, number)}</row>`;
    return this.waiting.length < TOGETHER ? undefined : this.flush();
  }

  /** The captions of columns near the top stay in view. */
  private heads({ isHeader, cells }: SheetRow, number: number): void {
    if (!this.isHeading || number > LAST_FROZEN) return;
    if (isHeader) {
      if (this.firstHeader < 0) this.firstHeader = number;
      this.frozen = number + 1;
    } else if (this.firstHeader >= 0 && cells.length > 0) this.isHeading = false;
  }

  private cells({ cells, bare }: SheetRow, number: number): string {
    const written = new Map<number, string>();
    for (const [column, look] of bare)
      written.set(column, this.empty(column, number, this.workbook.formats.bare(look)));
    for (const cell of cells) {
      const style = this.workbook.formats.of(cell);
      written.set(cell.column, this.cell(cell, number, style));
      for (let at = 1; at < cell.span; at++) {
        const column = cell.column + at;
        written.set(column, this.empty(column, number, style));
      }
      if (cell.span > 1 || cell.rows > 1)
        this.merges.push(
          `${this.at(cell.column, number)}:${this.at(cell.column + cell.span - 1, number + cell.rows - 1)}`,
        );
      const place = this.at(cell.column, number);
      if (cell.to) this.links.push({ at: place, to: cell.to });
      if (cell.anchor !== undefined) this.workbook.places.set(cell.anchor, { sheet: this.name, at: place });
    }
    return [...written]
      .sort(([a], [b]) => a - b)
      .map(([, xml]) => xml)
      .join('');
  }

  private empty(column: number, row: number, style: number): string {
    return `<c r="${this.at(column, row)}" s="${style}"/>`;
  }

  private cell({ column, words, value, formula, look }: SheetCell, row: number, style: number): string {
    const at = this.at(column, row);
    const set = ` s="${style}"`;
    if (typeof words !== 'string') {
      const runs = words.map(
        ([text, font]) =>
          `<r><rPr>${fontXml(this.workbook.fonts.all[font]!, 'rFont')}</rPr><t xml:space="preserve">${cellText(text)}</t></r>`,
      );
      return `<c r="${at}"${set} t="inlineStr"><is>${runs.join('')}</is></c>`;
    }
    if (value === null || typeof value === 'string')
      return words === '' ? this.empty(column, row, style) : textCell(at, set, words);
    const written = valueCell(at, value, style, this.workbook.timeZone);
    const worked = formula && this.formula(formula, row);
    return worked && look.type === 'number' ? written.replace('<v>', () => `<f>${worked}</f><v>`) : written;
  }

  /** Null where its cells are on a sheet before. */
  private formula(formula: RangeTotal | RowSum, row: number): string | null {
    if (!('from' in formula)) return sumText(formula, (column) => this.at(column, row), ',');
    const { name, column, from, to } = formula;
    if (from < this.offset) return null;
    const letter = this.letters[column];
    return `SUBTOTAL(${NUMBERS[name]},${letter}${from - this.offset + 1}:${letter}${to - this.offset + 1})`;
  }

  private flush(): Promise<void> | undefined {
    const data = Buffer.from(this.waiting);
    this.waiting = '';
    return this.part.write(data);
  }

  /** The rows that stand at the top of each printed page, as a name of the workbook. */
  printTitles(place: number): string {
    if (this.firstHeader < 0) return '';
    const rows = `$${this.firstHeader + 1}:$${this.frozen}`;
    return `<definedName name="_xlnm.Print_Titles" localSheetId="${place}">${attributeText(quoted(this.name))}!${rows}</definedName>`;
  }

  /** Puts the sheet into the workbook. `drawing`: number of its part with pictures; null when it has none. */
  async into(archive: Archive, place: number, drawing: number | null, signal: AbortSignal): Promise<void> {
    await this.flush();
    const { relations } = this;
    const links = this.links.map((link) => this.link(link)).join('');
    const merged = this.merges.map((range) => `<mergeCell ref="${range}"/>`).join('');
    const end = [
      '</sheetData>',
      merged === '' ? '' : `<mergeCells count="${this.merges.length}">${merged}</mergeCells>`,
      links === '' ? '' : `<hyperlinks>${links}</hyperlinks>`,
      this.setup(),
      this.breaksXml(),
      drawing === null ? '' : `<drawing r:id="${relations.id('drawing', `../drawings/drawing${drawing}.xml`)}"/>`,
      '</worksheet>',
    ].join('');
    await archive.stitch(`xl/worksheets/sheet${place}.xml`, [this.head(), this.part, end], signal);
  }

  private link({ at, to }: { at: string; to: LinkTarget }): string {
    if ('anchor' in to) {
      const place = this.workbook.places.get(to.anchor);
      return place ? `<hyperlink ref="${at}" location="${attributeText(`${quoted(place.sheet)}!${place.at}`)}"/>` : '';
    }
    const address = 'address' in to ? safeAddress(to.address) : null;
    return address === null ? '' : `<hyperlink ref="${at}" r:id="${this.relations.id('hyperlink', address, true)}"/>`;
  }

  private head(): string {
    const { columns, frozen, deepest } = this;
    // A character is 7 pixels wide in the programs’ own font, with 5 around them.
    const width = (points: number): number => Math.max(0.5, Math.round((((points * 4) / 3 - 5) / 7) * 100) / 100);
    const widths = columns
      .slice(1)
      .map((edge, i) => `<col min="${i + 1}" max="${i + 1}" width="${width(edge - columns[i]!)}" customWidth="1"/>`);
    const pane =
      frozen > 0
        ? `<pane ySplit="${frozen}" topLeftCell="A${frozen + 1}" activePane="bottomLeft" state="frozen"/>`
        : '';
    return `${HEAD}<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheetPr><outlinePr summaryBelow="0"/><pageSetUpPr fitToPage="1"/></sheetPr><sheetViews><sheetView showGridLines="0" workbookViewId="0">${pane}</sheetView></sheetViews><sheetFormatPr defaultRowHeight="15"${deepest > 0 ? ` outlineLevelRow="${deepest}"` : ''}/><cols>${widths.join('')}</cols><sheetData>`;
  }

  private setup(): string {
    const { width, height, margins, footer, header } = this.section;
    const inches = (points: number): number => Math.round((points / POINTS_IN_INCH) * 1000) / 1000;
    const isWide = width > height;
    const top = margins.top + (header?.height ?? 0);
    const bottom = margins.bottom + (footer?.height ?? 0);
    const [short, long] = [Math.min(width, height), Math.max(width, height)];
    const size = `paperWidth="${Math.round(short / 2.8346)}mm" paperHeight="${Math.round(long / 2.8346)}mm"`;
    const paper = Math.abs(short - 595.3) < 2 && Math.abs(long - 841.9) < 2 ? 'paperSize="9"' : size;
    return `<pageMargins left="${inches(margins.left)}" right="${inches(margins.right)}" top="${inches(top)}" bottom="${inches(bottom)}" header="${inches(margins.top)}" footer="${inches(margins.bottom)}"/><pageSetup ${paper} orientation="${isWide ? 'landscape' : 'portrait'}" fitToWidth="1" fitToHeight="0"/>${bandsXml(this.section)}`;
  }

  private breaksXml(): string {
    const { breaks } = this;
    if (breaks.length === 0) return '';
    const listed = breaks.map((row) => `<brk id="${row}" max="16383" man="1"/>`);
    return `<rowBreaks count="${breaks.length}" manualBreakCount="${breaks.length}">${listed.join('')}</rowBreaks>`;
  }

  async close(): Promise<void> {
    await this.part.close();
  }
}

const CODES = { page: '&P', pages: '&N', partPages: '&N' } as const;

/** The texts of the top and the bottom of pages, as spreadsheets print them: at the left, in the middle and at the right. */
const bandsXml = (section: ContentSection): string => {
  const parted = (bands: Pick<ContentSection, 'header' | 'footer'>, band: 'header' | 'footer'): string => {
    const places: Record<'L' | 'C' | 'R', string[]> = { L: [], C: [], R: [] };
    for (const { content, x, width } of bands[band]?.parts ?? []) {
      if (content.kind !== 'text') continue;
      const words = content.runs.map(({ text, field }) => (field ? CODES[field] : text.replaceAll('&', '&&'))).join('');
      const room = section.width - section.margins.left - section.margins.right;
      const middle = x + width / 2;
      const at =
        content.align === 'right'
          ? 'R'
          : content.align === 'center' && Math.abs(middle - room / 2) < room / 6
            ? 'C'
            : middle > room * 0.6
              ? 'R'
              : 'L';
      if (words !== '') places[at].push(words);
    }
    const written = (['L', 'C', 'R'] as const).flatMap((at) =>
      places[at].length > 0 ? [`&${at}${places[at].join(' ')}`] : [],
    );
    // Programs take no more than 255 characters.
    return cellText(written.join('').slice(0, 250));
  };
  const { first, even } = section;
  const [header, footer] = [parted(section, 'header'), parted(section, 'footer')];
  if (header === '' && footer === '' && !first && !even) return '';
  const differ = `${even ? ' differentOddEven="1"' : ''}${first ? ' differentFirst="1"' : ''}`;
  const of = (name: string, words: string): string => (words === '' ? '' : `<${name}>${words}</${name}>`);
  return `<headerFooter${differ}>${of('oddHeader', header)}${of('oddFooter', footer)}${even ? of('evenHeader', parted(even, 'header')) + of('evenFooter', parted(even, 'footer')) : ''}${first ? of('firstHeader', parted(first, 'header')) + of('firstFooter', parted(first, 'footer')) : ''}</headerFooter>`;
};
