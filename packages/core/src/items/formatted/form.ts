import { lateLibrary } from '../../base/late-library.ts';
import { safeAddress } from '../../page/page.ts';

const readers = lateLibrary('the readers of formatted text', async () => {
  const [{ Parser }, { marked }] = await Promise.all([import('htmlparser2'), import('marked')]);
  return { Parser, marked };
});

/** Must have come to an end before formatted text is read. */
export const loadReaders = readers.load;

/** A stretch of text in one way of writing. */
export interface FormRun {
  text: string;
  bold?: boolean;
  italic?: boolean;
  underline?: boolean;
  strike?: boolean;
  code?: boolean;
  /** Where it leads to. */
  address?: string;
}

/** A part of a text with form, from top to bottom. `indent`: how deep it lies in lists and quotations. */
export type FormBlock =
  /** `level`: 1 to 6 of a heading, 0 of any other; `mark`: what stands before an item of a list. */
  | { kind: 'paragraph'; runs: FormRun[]; level: number; indent: number; mark: string | null }
  | { kind: 'rule'; indent: number }
  | { kind: 'table'; rows: { isHead: boolean; cells: FormRun[][] }[]; indent: number };

export interface Form {
  blocks: FormBlock[];
  /** Names of what has no form here, and is shown as it is written. */
  unknown: string[];
}

type Flag = 'bold' | 'italic' | 'underline' | 'strike' | 'code';

const FLAGS: Readonly<Record<string, Flag | null>> = {
  b: 'bold',
  strong: 'bold',
  i: 'italic',
  em: 'italic',
  cite: 'italic',
  dfn: 'italic',
  var: 'italic',
  u: 'underline',
  ins: 'underline',
  s: 'strike',
  strike: 'strike',
  del: 'strike',
  code: 'code',
  kbd: 'code',
  samp: 'code',
  tt: 'code',
  // These say nothing of how they look.
  span: null,
  font: null,
  small: null,
  big: null,
  sub: null,
  sup: null,
  abbr: null,
  mark: null,
  time: null,
  q: null,
  label: null,
  a: null,
};

/** Parts that stand on lines of their own, and have no other form. */
const PARTS = new Set([
  ...['p', 'div', 'section', 'article', 'header', 'footer', 'main', 'aside', 'address', 'figure', 'figcaption'],
  ...['center', 'dl', 'dt', 'dd', 'caption'],
]);
const SILENT = new Set(['html', 'head', 'body', 'meta', 'tbody', 'thead', 'tfoot', 'colgroup', 'col', 'input']);

/** Most parts of one text, and how deep lists lie in one another. */
const MOST_BLOCKS = 5_000;
const DEEPEST = 10;

const TAG = /<\/?[a-z][a-z0-9]*(\s[^<>]*)?\/?>/i;

/** How a text is written: with the tags of HTML, or else with the signs of Markdown. */
export const writtenAs = (text: string): 'html' | 'markdown' => (TAG.test(text) ? 'html' : 'markdown');

/** Signs of Markdown above which its form is not looked for, which would take longer with each of them; and lists in lists in lists. */
const MOST_SIGNS = 4_000;
const TOO_DEEP = /^(?: {0,3}(?:>|[-*+]|\d{1,9}[.)]) ?){20}/m;

/** Markdown as HTML; what is nested too deep for that stays as it is written. */
const fromMarkdown = (text: string): string => {
  const signs = text.match(/[*_`~[\]>|-]/g)?.length ?? 0;
  try {
    if (signs <= MOST_SIGNS && !TOO_DEEP.test(text))
      return readers.get().marked.parse(text, { async: false, gfm: true, breaks: true }) as string;
  } catch {
    // It is nested too deep in some other way.
  }
  const plain = text.replaceAll('&', '&amp;').replaceAll('<', '&lt;');
  return `<p>${plain.replace(/\r?\n/g, '<br>')}</p>`;
};

/** Reads the form of a text. What has no form here stays as text, and is named; nothing of it is ever run. */
export const formOf = (text: string, written: 'html' | 'markdown' = writtenAs(text)): Form => {
  const html = written === 'html' ? text : fromMarkdown(text);
  const reader = new FormReader();
  const { Parser } = readers.get();
  const parser = new Parser(
    {
      onopentag: (name, attributes) =>
        reader.open(name, attributes, html.slice(parser.startIndex, parser.endIndex + 1)),
      ontext: (data) => reader.text(data),
      onclosetag: (name, isImplied) => reader.close(name, isImplied),
    },
    { decodeEntities: true, lowerCaseTags: true },
  );
  parser.write(html);
  parser.end();
  return reader.end();
};

/** Puts blocks together while tags and words come. */
class FormReader {
  private readonly blocks: FormBlock[] = [];
  private readonly unknown = new Set<string>();
  private runs: FormRun[] = [];
  private readonly flags: Record<Flag, number> = { bold: 0, italic: 0, underline: 0, strike: 0, code: 0 };
  private readonly addresses: (string | null)[] = [];
  private level = 0;
  private quotes = 0;
  private pre = 0;
  /** Numbers of the lists around: that of the next item, or null for one without numbers. */
  private readonly lists: (number | null)[] = [];
  private mark: string | null = null;
  private readonly tables: (FormBlock & { kind: 'table' })[] = [];

  open(name: string, attributes: Readonly<Record<string, string>>, source: string): void {
    if (SILENT.has(name)) return;
    const flag = FLAGS[name];
    if (flag !== undefined) {
      if (flag) this.flags[flag]++;
      if (name === 'a') this.addresses.push(safeAddress(attributes.href ?? ''));
      return;
    }
    if (name === 'br') this.add('\n');
    else if (PARTS.has(name)) this.finish();
    else if (/^h[1-6]$/.test(name)) {
      this.finish();
      this.level = Number(name[1]);
    } else if (name === 'ul' || name === 'ol') {
      this.finish();
      this.lists.push(name === 'ol' ? Number(attributes.start) || 1 : null);
    } else if (name === 'li') {
      this.finish();
      const number = this.lists.at(-1) ?? null;
      if (number !== null) this.lists[this.lists.length - 1] = number + 1;
      this.mark = number === null ? '•' : `${number}.`;
    } else if (name === 'blockquote') {
      this.finish();
      this.quotes++;
    } else if (name === 'pre') {
      this.finish();
      this.pre++;
      this.flags.code++;
    } else if (name === 'hr') {
      this.finish();
      this.put({ kind: 'rule', indent: this.indent });
    } else if (name === 'table') {
      this.finish();
      this.tables.push({ kind: 'table', rows: [], indent: this.indent });
    } else if (name === 'tr' && this.tables.length > 0) this.tables.at(-1)!.rows.push({ isHead: false, cells: [] });
    else if ((name === 'td' || name === 'th') && this.row) {
      this.runs = [];
      if (name === 'th') {
        this.row.isHead = true;
        this.flags.bold++;
      }
    } else {
      this.unknown.add(name);
      this.add(source);
    }
  }

  close(name: string, isImplied: boolean): void {
    if (SILENT.has(name) || name === 'br' || name === 'hr') return;
    const flag = FLAGS[name];
    if (flag !== undefined) {
      if (flag) this.flags[flag] = Math.max(0, this.flags[flag] - 1);
      if (name === 'a') this.addresses.pop();
      return;
    }
    if (PARTS.has(name) || name === 'li') this.finish();
    else if (/^h[1-6]$/.test(name)) {
      this.finish();
      this.level = 0;
    } else if (name === 'ul' || name === 'ol') {
      this.finish();
      this.lists.pop();
    } else if (name === 'blockquote') {
      this.finish();
      this.quotes = Math.max(0, this.quotes - 1);
    } else if (name === 'pre') {
      this.finish();
      this.pre = Math.max(0, this.pre - 1);
      this.flags.code = Math.max(0, this.flags.code - 1);
    } else if (name === 'table') {
      const table = this.tables.pop();
      this.runs = [];
      if (table?.rows.some(({ cells }) => cells.length > 0)) this.put(table);
    } else if ((name === 'td' || name === 'th') && this.row) {
      this.row.cells.push(trimmed(this.runs));
      this.runs = [];
      if (name === 'th') this.flags.bold = Math.max(0, this.flags.bold - 1);
    } else if (name !== 'tr' && this.unknown.has(name) && !isImplied) this.add(`</${name}>`);
  }

  private get row() {
    return this.tables.at(-1)?.rows.at(-1) ?? null;
  }

  private get indent(): number {
    return Math.min(DEEPEST, this.lists.length + this.quotes);
  }

  text(data: string): void {
    this.add(this.pre > 0 ? data : data.replace(/[ \t\r\n\f]+/g, ' '));
  }

  private add(text: string): void {
    const last = this.runs.at(-1);
    // Between words there is one space, also where they are written in different ways.
    const words = this.pre === 0 && text.startsWith(' ') && /(^|\s)$/.test(last?.text ?? '') ? text.slice(1) : text;
    if (words === '') return;
    const run: FormRun = { text: words };
    for (const flag of Object.keys(this.flags) as Flag[]) if (this.flags[flag] > 0) run[flag] = true;
    const address = this.addresses.at(-1);
    if (address) run.address = address;
    this.runs.push(run);
  }

  /** Ends the paragraph that is open; inside a cell of a table a new line begins instead. */
  private finish(): void {
    if (this.row && this.tables.length > 0) {
      if (this.runs.length > 0 && !this.runs.at(-1)!.text.endsWith('\n')) this.add('\n');
      return;
    }
    const runs = trimmed(this.runs);
    this.runs = [];
    if (runs.length === 0) return;
    this.put({ kind: 'paragraph', runs, level: this.level, indent: this.indent, mark: this.mark });
    this.mark = null;
  }

  private put(block: FormBlock): void {
    if (this.blocks.length < MOST_BLOCKS) this.blocks.push(block);
  }

  end(): Form {
    while (this.tables.length > 0) this.close('table', true);
    this.finish();
    return { blocks: this.blocks, unknown: [...this.unknown] };
  }
}

/** Without the spaces before and after. */
const trimmed = (runs: readonly FormRun[]): FormRun[] => {
  const kept = runs.map((run) => ({ ...run }));
  while (kept.length > 0) {
    kept[0]!.text = kept[0]!.text.trimStart();
    if (kept[0]!.text !== '') break;
    kept.shift();
  }
  while (kept.length > 0) {
    const last = kept.at(-1)!;
    last.text = last.text.trimEnd();
    if (last.text !== '') break;
    kept.pop();
  }
  return kept;
};
