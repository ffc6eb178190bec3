import type { Writable } from 'node:stream';
import { isNumeric, type ListedSet, numericText, type RowListener, type Value } from '@gaveta/core/internal';
import { onlyOnce } from '../only-once.ts';
import type { RowsRun } from '../output.ts';
import { TextSink } from '../text-sink.ts';
import { dataText, wellFormed } from '../values.ts';
import type { JsonOptions } from './options.ts';

const quoted = (text: string): string => JSON.stringify(wellFormed(text));

/** Names for programs are each there once; captions may be there twice. */
const keysOf = (names: readonly string[]): string[] => onlyOnce(names).map(quoted);

/** How a set is written: the keys of its values, and those of the sets inside it. */
interface Keys {
  own: string;
  values: string[];
}

class Nested implements RowListener {
  private readonly keys = new Map<ListedSet, Keys>();
  /** Whether nothing has been written yet of each list and object that is open. */
  private readonly isFirst: boolean[] = [];

  constructor(
    private readonly sets: readonly ListedSet[],
    private readonly options: JsonOptions,
    private readonly sink: TextSink,
  ) {
    this.name(sets);
    if (!this.isLines) this.open('{');
  }

  private get isLines(): boolean {
    return this.options.form === 'lines';
  }

  private name(sets: readonly ListedSet[]): void {
    const called = (one: { name: string; label: string }): string =>
      this.options.names === 'labels' ? one.label : one.name;
    for (const set of sets) {
      const all = keysOf([...set.columns.map(called), ...set.inner.map(called)]);
      this.keys.set(set, { own: '', values: all.slice(0, set.columns.length) });
      this.name(set.inner);
      for (const [i, inner] of set.inner.entries()) this.keys.get(inner)!.own = all[set.columns.length + i]!;
    }
    if (sets === this.sets)
      for (const [i, key] of keysOf(sets.map(called)).entries()) this.keys.get(sets[i]!)!.own = key;
  }

  /** The start of a line, where lines are asked for. */
  private get line(): string {
    const { indent } = this.options;
    return indent === 0 || this.isLines ? '' : `\n${' '.repeat(indent * this.isFirst.length)}`;
  }

  private put(text: string): Promise<void> | undefined {
    return this.sink.write(text);
  }

  /** Goes on in what is open. */
  private next(): string {
    const comma = this.isFirst.at(-1) ? '' : ',';
    if (this.isFirst.length > 0) this.isFirst[this.isFirst.length - 1] = false;
    return `${comma}${this.line}`;
  }

  private open(sign: '{' | '['): void {
    void this.put(sign);
    this.isFirst.push(true);
  }

  private close(sign: '}' | ']'): Promise<void> | undefined {
    const isEmpty = this.isFirst.pop();
    return this.put(isEmpty ? sign : `${this.line}${sign}`);
  }

  private key(key: string): string {
    return `${this.next()}${key}:${this.options.indent > 0 && !this.isLines ? ' ' : ''}`;
  }

  begins(set: ListedSet): void {
    if (this.isLines && this.isFirst.length === 0) return;
    void this.put(this.key(this.keys.get(set)!.own));
    this.open('[');
  }

  row(set: ListedSet, values: readonly Value[]): Promise<void> | undefined {
    const { values: keys } = this.keys.get(set)!;
    if (this.isFirst.length > 0) void this.put(this.next());
    this.open('{');
    let text = '';
    for (const [i, value] of values.entries()) text += this.key(keys[i]!) + this.value(value);
    return this.put(text);
  }

  private value(value: Value): string {
    const text = dataText(value);
    if (text === null) return 'null';
    if (typeof value === 'boolean') return text;
    if (isNumeric(value)) return this.options.numbers === 'number' ? numericText(value) : `"${numericText(value)}"`;
    return quoted(text);
  }

  rowEnds(): Promise<void> | undefined {
    const told = this.close('}');
    if (!this.isLines || this.isFirst.length > 0) return told;
    return this.put('\n');
  }

  ends(): Promise<void> | undefined {
    if (this.isLines && this.isFirst.length === 0) return undefined;
    return this.close(']');
  }

  end(): void {
    if (this.isLines) return;
    void this.close('}');
    void this.put('\n');
  }
}

/** Rows as JSON, with the sets inside each of them as lists. */
export const writeJson = async (run: RowsRun<JsonOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const text = new TextSink(sink, signal);
  const nested = new Nested(run.sets, run.options, text);
  await run.rows(nested);
  nested.end();
  await text.end();
};
