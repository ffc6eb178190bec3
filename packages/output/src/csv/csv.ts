import type { Writable } from 'node:stream';
import {
  FormulaError,
  isNumeric,
  type ListedColumn,
  type ListedSet,
  type RowListener,
  type Value,
} from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { fileName } from '../file-name.ts';
import type { RowsRun } from '../output.ts';
import { PartFile } from '../part-file.ts';
import { RowNumbers } from '../row-numbers.ts';
import { TextSink } from '../text-sink.ts';
import { dataText, wellFormed } from '../values.ts';
import { bytesIn } from './encoding.ts';
import type { CsvOptions } from './options.ts';

const END = '\r\n';

/** Begins a text that a spreadsheet would run as a formula. */
const FORMULA = /^[=+\-@\t\r\uFF1D\uFF0B\uFF0D\uFF20]/;

/** Writes cells as RFC 4180 has them. */
class Cells {
  private readonly special: RegExp;

  constructor(private readonly options: CsvOptions) {
    this.special = new RegExp(`["\\r\\n\\${options.separator}]|^\\s|\\s$`);
  }

  text(text: string): string {
    let safe = wellFormed(text);
    if (this.options.guard && FORMULA.test(safe)) safe = `'${safe}`;
    // An empty text is something else than nothing.
    return safe === '' || this.options.quotes === 'all' || this.special.test(safe)
      ? `"${safe.replaceAll('"', '""')}"`
      : safe;
  }

  value(value: Value): string {
    if (value === null) return '';
    if (typeof value === 'string' || value instanceof FormulaError) return this.text(dataText(value)!);
    if (typeof value === 'boolean') return dataText(value)!;
    const { decimal, separator, quotes } = this.options;
    const written = dataText(value)!;
    const digits = decimal === ',' && isNumeric(value) ? written.replace('.', ',') : written;
    return quotes === 'all' || digits.includes(separator) ? `"${digits}"` : digits;
  }

  line(cells: readonly string[]): string {
    return `${cells.join(this.options.separator)}${END}`;
  }

  titles(columns: readonly ListedColumn[]): string[] {
    const { header } = this.options;
    return columns.map(({ label, name }) => this.text(header === 'names' ? name : label));
  }
}

/** The sets below one another, each with how deep it lies. */
const flat = (sets: readonly ListedSet[], depth = 0): { set: ListedSet; depth: number }[] =>
  sets.flatMap((set) => [{ set, depth }, ...flat(set.inner, depth + 1)]);

/** Columns of one flat file: those of all sets, of which each line fills its own and those of the rows around it. */
class FlatRows implements RowListener {
  private readonly from = new Map<ListedSet, number>();
  private readonly width: number;
  private readonly current: string[];
  private readonly isBranched: boolean;
  /** Rows that wait to see whether there are rows inside them: those say it all. */
  private readonly open: { set: ListedSet; isTold: boolean }[] = [];

  constructor(
    private readonly sets: { set: ListedSet; depth: number }[],
    private readonly cells: Cells,
    private readonly sink: TextSink,
    isHeaded: boolean,
  ) {
    let at = 0;
    for (const { set } of sets) {
      this.from.set(set, at);
      at += set.columns.length;
    }
    this.width = at;
    this.current = Array.from({ length: at }, () => '');
    const roots = sets.filter(({ depth }) => depth === 0);
    // A line of one of several sets says which.
    this.isBranched = roots.length > 1 || sets.some(({ set }) => set.inner.length > 1);
    if (isHeaded) this.head();
  }

  private head(): void {
    const titles = this.sets.flatMap(({ set }) => this.cells.titles(set.columns));
    void this.sink.write(this.cells.line(this.isBranched ? [this.cells.text('set'), ...titles] : titles));
  }

  begins(): void {}
  ends(): void {}

  row(set: ListedSet, values: readonly Value[]): Promise<void> | undefined {
    for (const outer of this.open) outer.isTold = true;
    const from = this.from.get(set)!;
    for (const [i, value] of values.entries()) this.current[from + i] = this.cells.value(value);
    this.open.push({ set, isTold: false });
    return undefined;
  }

  rowEnds(set: ListedSet): Promise<void> | undefined {
    const { isTold } = this.open.pop()!;
    const told = isTold || this.width === 0 ? undefined : this.line(set);
    const from = this.from.get(set)!;
    this.current.fill('', from, from + set.columns.length);
    return told;
  }

  private line(set: ListedSet): Promise<void> | undefined {
    const { cells, sink, current } = this;
    return sink.write(cells.line(this.isBranched ? [cells.text(set.name), ...current] : current));
  }
}

const writeTogether = async (run: RowsRun<CsvOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const { options } = run;
  const { first, encode } = bytesIn(options);
  const text = new TextSink(sink, signal, encode);
  if (first) sink.write(first);
  const cells = new Cells(options);
  await run.rows(new FlatRows(flat(run.sets), cells, text, options.header !== 'none'));
  await text.end();
};

/** Writes each set to a file of its own; rows inside others name those by the numbers that they have there. */
class SetsApart implements RowListener {
  readonly files = new Map<ListedSet, PartFile>();
  private readonly numbers: RowNumbers;

  constructor(
    sets: readonly ListedSet[],
    private readonly cells: Cells,
    private readonly encode: (text: string) => Uint8Array,
  ) {
    this.numbers = new RowNumbers(sets);
  }

  async open(first: Uint8Array | null, isHeaded: boolean): Promise<void> {
    for (const set of this.numbers.all) {
      const file = await PartFile.open();
      this.files.set(set, file);
      if (first) await file.write(first);
      const numbers = this.numbers.captions(set).map((caption) => this.cells.text(caption));
      if (isHeaded) await this.add(set, [...numbers, ...this.cells.titles(set.columns)]);
    }
  }

  private add(set: ListedSet, cells: readonly string[]): Promise<void> | undefined {
    return this.files.get(set)!.write(this.encode(this.cells.line(cells)));
  }

  begins(): void {}
  rowEnds(): void {}
  ends(): void {}

  row(set: ListedSet, values: readonly Value[]): Promise<void> | undefined {
    const numbers = this.numbers.next(set).map(String);
    return this.add(set, [...numbers, ...values.map((value) => this.cells.value(value))]);
  }

  async close(): Promise<void> {
    await Promise.all([...this.files.values()].map((file) => file.close()));
  }
}

const writeApart = async (run: RowsRun<CsvOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const { options } = run;
  const { first, encode } = bytesIn(options);
  const apart = new SetsApart(run.sets, new Cells(options), encode);
  try {
    await apart.open(first, options.header !== 'none');
    await run.rows(apart);
    const archive = new Archive(sink);
    const extension = options.separator === '\t' ? 'tsv' : 'csv';
    for (const [set, file] of apart.files)
      await file.into(archive, `${fileName(set.label, set.name)}.${extension}`, signal);
    await archive.end();
  } finally {
    await apart.close();
  }
};

/** Rows as lines of cells (RFC 4180). */
export const writeCsv = (run: RowsRun<CsvOptions>, sink: Writable, signal: AbortSignal): Promise<void> =>
  run.options.sets === 'apart' ? writeApart(run, sink, signal) : writeTogether(run, sink, signal);
