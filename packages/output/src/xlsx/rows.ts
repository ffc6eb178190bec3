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
} from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { onlyOnce } from '../only-once.ts';
import type { RowsRun } from '../output.ts';
import { PartFile } from '../part-file.ts';
import { RowNumbers } from '../row-numbers.ts';
import { MOST_COLUMNS, MOST_ROWS } from '../sheet/limits.ts';
import { textCell, valueCell } from './cells.ts';
import { CellFormats } from './formats.ts';
import type { XlsxDataOptions } from './options.ts';
import { columnLetters, SheetNames } from './text.ts';
import { addWorkbook, type SheetEntry, sheetHead, tableXml } from './workbook.ts';

/** Characters that leave together. */
const TOGETHER = 64 * 1024;

const WIDTHS: Readonly<Record<ListedColumn['type'], number>> = {
  text: 22,
  number: 13,
  date: 12,
  datetime: 18,
  boolean: 9,
};

interface SheetColumn {
  caption: string;
  /** In characters, at least. */
  width: number;
  /** Place among the formats of the workbook. */
  style: number;
  /** Its numbers are added up in the row of totals. */
  isSummed: boolean;
}

/** One sheet on its way to its part of the workbook. */
class Sheet {
  private waiting = '';
  private rows = 0;
  private readonly sums: (Numeric | null)[];

  private constructor(
    readonly name: string,
    private readonly columns: readonly SheetColumn[],
    private readonly letters: readonly string[],
    private readonly part: PartFile,
  ) {
    this.sums = columns.map(() => null);
    const widths = columns.map(({ caption, width }) => Math.min(60, Math.max(width, caption.length + 3)));
    const cells = columns.map(({ caption }, i) => textCell(`${letters[i]}1`, ` s="${CellFormats.CAPTION}"`, caption));
    this.waiting = `${sheetHead(widths, 1)}<row r="1">${cells.join('')}</row>`;
  }

  static async open(name: string, columns: readonly SheetColumn[]): Promise<Sheet> {
    if (columns.length > MOST_COLUMNS)
      throw new SaidError(phrase('sheet-many-columns', { count: columns.length, most: MOST_COLUMNS }));
    return new Sheet(
      name,
      columns,
      columns.map((_, i) => columnLetters(i)),
      await PartFile.open(),
    );
  }

  /** Room for the captions, and a row of totals. */
  get isFull(): boolean {
    return this.rows + 2 >= MOST_ROWS;
  }

  /** `from`: the column that the first value stands in. */
  row(values: readonly Value[], from: number, level: number, timeZone: string): Promise<void> | undefined {
    const number = ++this.rows + 1;
    let cells = '';
    for (let i = 0; i < values.length; i++) {
      const value = values[i]!;
      const at = from + i;
      cells += valueCell(`${this.letters[at]}${number}`, value, this.columns[at]!.style, timeZone);
      if (this.columns[at]!.isSummed && isNumeric(value)) this.sums[at] = addNumbers(this.sums[at] ?? 0, value);
    }
    this.waiting += `<row r="${number}"${level > 0 ? ` outlineLevel="${Math.min(7, level)}"` : ''}>${cells}</row>`;
    return this.waiting.length < TOGETHER ? undefined : this.flush();
  }

  private flush(): Promise<void> | undefined {
    const data = Buffer.from(this.waiting);
    this.waiting = '';
    return this.part.write(data);
  }

  /** Sums of its numbers, as formulas with what they come to, so that a program that calculates nothing shows them too. */
  private totalsRow(formats: CellFormats): string {
    const number = this.rows + 2;
    const cells = this.columns.map(({ style }, i) => {
      const sum = this.sums[i];
      if (sum == null) return '';
      const letter = this.letters[i]!;
      return `<c r="${letter}${number}" s="${formats.bolder(style)}"><f>SUBTOTAL(109,${letter}2:${letter}${number - 1})</f><v>${numericText(sum)}</v></c>`;
    });
    return `<row r="${number}">${cells.join('')}</row>`;
  }

  /** Puts the sheet and its table into the workbook; gives what the workbook lists of it. */
  async into(
    archive: Archive,
    place: number,
    formats: CellFormats,
    withTotals: boolean,
    withTable: boolean,
    signal: AbortSignal,
  ): Promise<SheetEntry> {
    const { columns, rows, letters, part } = this;
    const hasTotals = withTotals && this.sums.some((sum) => sum !== null);
    const hasTable = withTable && rows > 0 && columns.length > 0;
    if (hasTotals) this.waiting += this.totalsRow(formats);
    const last = letters.at(-1) ?? 'A';
    const filter = !hasTable && rows > 0 && columns.length > 0 ? `<autoFilter ref="A1:${last}${rows + 1}"/>` : '';
    this.waiting += `</sheetData>${filter}${hasTable ? '<tableParts count="1"><tablePart r:id="rId1"/></tableParts>' : ''}</worksheet>`;
    await this.flush();
    await part.into(archive, `xl/worksheets/sheet${place}.xml`, signal);
    if (!hasTable) return { name: this.name, table: null };
    const captions = columns.map(({ caption }) => caption);
    await archive.add(`xl/tables/table${place}.xml`, tableXml(place, last, rows, captions));
    return { name: this.name, table: place };
  }

  close(): Promise<void> {
    return this.part.close();
  }
}

/** Where the rows of a set go. */
interface Place {
  sheets: Sheet[];
  columns: SheetColumn[];
  from: number;
  level: number;
}

class Rows implements RowListener {
  private readonly places = new Map<ListedSet, Place>();
  private readonly names = new SheetNames();
  readonly formats = new CellFormats();
  readonly sheets: Sheet[] = [];

  private readonly numbers: RowNumbers;

  constructor(private readonly run: RowsRun<XlsxDataOptions>) {
    this.numbers = new RowNumbers(run.sets);
  }

  private columnsOf({ columns }: ListedSet): SheetColumn[] {
    const { header } = this.run.options;
    return columns.map((column) => ({
      caption: header === 'names' ? column.name : column.label,
      width: WIDTHS[column.type],
      style: this.formats.of(column),
      isSummed: column.type === 'number',
    }));
  }

  async open(): Promise<void> {
    if (this.run.options.sheets === 'each') await this.openEach();
    else await this.openOne();
    if (this.sheets.length === 0) await this.add(this.run.title, []);
  }

  private async add(name: string, columns: readonly SheetColumn[]): Promise<Sheet> {
    const captions = onlyOnce(columns.map(({ caption }) => caption.trim() || 'Column'));
    const sheet = await Sheet.open(
      this.names.name(name),
      columns.map((column, i) => ({ ...column, caption: captions[i]! })),
    );
    this.sheets.push(sheet);
    return sheet;
  }

  /** Rows inside others name those by the numbers that they have in their sheet. */
  private async openEach(): Promise<void> {
    for (const set of this.numbers.all) {
      const numbers = this.numbers.captions(set).map((caption): SheetColumn => {
        return { caption, width: 9, style: CellFormats.PLAIN, isSummed: false };
      });
      const columns = [...numbers, ...this.columnsOf(set)];
      const sheets = [await this.add(set.label, columns)];
      this.places.set(set, { sheets, columns, from: 0, level: 0 });
    }
  }

  /** The columns of all sets beside one another. */
  private async openOne(): Promise<void> {
    const columns: SheetColumn[] = [];
    const sheets: Sheet[] = [];
    const place = (sets: readonly ListedSet[], level: number): void => {
      for (const set of sets) {
        this.places.set(set, { sheets, columns, from: columns.length, level });
        columns.push(...this.columnsOf(set));
        place(set.inner, level + 1);
      }
    };
    place(this.run.sets, 0);
    if (this.places.size > 0) sheets.push(await this.add(this.run.title, columns));
  }

  begins(): void {}
  rowEnds(): void {}
  ends(): void {}

  async row(set: ListedSet, values: readonly Value[]): Promise<void> {
    const place = this.places.get(set)!;
    let sheet = place.sheets.at(-1)!;
    if (sheet.isFull) {
      sheet = await this.add(sheet.name, place.columns);
      place.sheets.push(sheet);
    }
    const { from, level } = place;
    const numbers = this.run.options.sheets === 'each' ? this.numbers.next(set) : [];
    const told = sheet.row([...numbers, ...values], from, level, this.run.timeZone);
    if (told) await told;
  }

  async close(): Promise<void> {
    await Promise.all(this.sheets.map((sheet) => sheet.close()));
  }
}

/** Rows as cells of their own types, in a workbook (ECMA-376). */
export const writeRows = async (run: RowsRun<XlsxDataOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const rows = new Rows(run);
  try {
    await rows.open();
    await run.rows(rows);
    const archive = new Archive(sink);
    const { totals, sheets } = run.options;
    const entries: SheetEntry[] = [];
    for (const [i, sheet] of rows.sheets.entries())
      entries.push(await sheet.into(archive, i + 1, rows.formats, totals, sheets === 'each', signal));
    await addWorkbook(archive, { sheets: entries, formats: rows.formats, title: run.title });
    await archive.end();
  } finally {
    await rows.close();
  }
};
