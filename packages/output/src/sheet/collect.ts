import type {
  ContentBlock,
  ContentEvent,
  ContentFill,
  ContentLine,
  ContentPart,
  ContentSection,
  ContentsList,
  LinkTarget,
  PieceSum,
  PieceTotal,
  RunLook,
  TextContent,
  Value,
} from '@gaveta/core/internal';
import { PartFile } from '../part-file.ts';
import { type CellLook, Interned } from './cell-look.ts';
import { toWaiting, type WaitingValue } from './wire.ts';

/** Edges that are taken for the same, in points. */
export const NEAR = 2.5;
/** Free room between two columns that is a column of its own. */
const LEAST_FREE = 14;
/** Edges that are kept before those that are close to one another are put together. */
const MANY_EDGES = 4_000;

/** A text that waits for the columns of its sheet. Keys are short: there is one of these for each cell. */
export interface WaitingText {
  x: number;
  y: number;
  w: number;
  h: number;
  /** It heads a column or a row. */
  c?: true;
  /** It stands at its right edge. */
  e?: true;
  /** Place of its look. */
  k: number;
  /** Its words; in several looks with the place of each. */
  t: string | [text: string, font: number][];
  v?: WaitingValue;
  /** `source` of its value, and the total that it is. */
  s?: string;
  o?: PieceTotal;
  /** How its value is worked out from others. */
  f?: PieceSum;
  l?: LinkTarget;
  a?: string;
}

/** A picture that waits for its place: `file` is its name in the document. */
export interface WaitingPicture {
  x: number;
  y: number;
  w: number;
  h: number;
  part: number;
}

export interface WaitingBlock {
  kind: 'block';
  height: number;
  depth: number;
  isCollapsed: boolean;
  texts: WaitingText[];
  pictures: WaitingPicture[];
  fills: ContentFill[];
  lines: ContentLine[];
}

export type WaitingEvent =
  | WaitingBlock
  | { kind: 'begins' | 'ends' }
  /** A new printed page begins. */
  | { kind: 'break' }
  /** All headings down to a level are listed, each below the last. */
  | { kind: 'contents'; levels: number; x: number; y: number; width: number };

/** A heading as the contents list it. */
export interface SheetHeading {
  level: number;
  title: string;
  anchor: string;
}

/** One sheet before its columns are known: what stands on it waits in a file. */
export class WaitingSheet {
  private edges: number[] = [];
  private seen = new Set<number>();
  /** Right edges of texts that stand at them. */
  private ends = new Set<number>();
  right = 0;

  private constructor(
    /** Name that it would have; null for that of the report. */
    readonly name: string | null,
    readonly section: ContentSection,
    private readonly part: PartFile,
  ) {}

  static async open(name: string | null, section: ContentSection): Promise<WaitingSheet> {
    return new WaitingSheet(name, section, await PartFile.open());
  }

  write(event: WaitingEvent): Promise<void> | undefined {
    if (event.kind === 'block') {
      for (const { x, w, e } of event.texts) {
        this.edge(x);
        if (e) this.ends.add(Math.round((x + w) * 2) / 2);
        this.right = Math.max(this.right, x + w);
      }
      for (const { x } of event.pictures) this.edge(x);
      if (this.ends.size > MANY_EDGES) this.ends = new Set(together([...this.ends]));
    }
    return this.part.write(Buffer.from(`${JSON.stringify(event)}\n`));
  }

  private edge(x: number): void {
    const rounded = Math.round(x * 2) / 2;
    if (this.seen.has(rounded)) return;
    this.seen.add(rounded);
    this.edges.push(rounded);
    if (this.edges.length < MANY_EDGES) return;
    this.edges = together(this.edges);
    this.seen = new Set(this.edges);
  }

  /** Left edges of its columns, and the right edge of the last; one column at least. Points. */
  columns(): number[] {
    const edges = together(this.edges);
    if (edges.length === 0) edges.push(0);
    // What stands further in begins a column of its own; the first begins at the paper’s edge.
    if (edges[0]! > NEAR) edges.unshift(0);
    edges.push(Math.max(this.right, edges.at(-1)! + 20));
    // What stands at its right edge does not move over free room there.
    const free = together([...this.ends]).filter((end) => {
      const next = edges.find((edge) => edge > end - NEAR);
      return next !== undefined && next - end > LEAST_FREE;
    });
    return [...edges, ...free].sort((a, b) => a - b);
  }

  async *events(): AsyncGenerator<WaitingEvent> {
    let rest = '';
    const decoder = new TextDecoder();
    for await (const chunk of this.part.chunks()) {
      const lines = (rest + decoder.decode(chunk, { stream: true })).split('\n');
      rest = lines.pop()!;
      for (const line of lines) yield JSON.parse(line) as WaitingEvent;
    }
  }

  close(): Promise<void> {
    return this.part.close();
  }
}

/** Edges in order, of those close to one another the first. */
const together = (edges: readonly number[]): number[] => {
  const sorted = [...edges].sort((a, b) => a - b);
  const kept: number[] = [];
  for (const edge of sorted) if (kept.length === 0 || edge - kept.at(-1)! > NEAR) kept.push(edge);
  return kept;
};

export interface CollectOptions {
  /** One sheet for all, one for each set of pages, or one for each of the outermost groups. */
  split: 'none' | 'pages' | 'groups';
  /** Puts a picture into the document; gives what it is known by there. */
  picture: (part: ContentPart) => Promise<number | null>;
}

/** Sorts what is told of a report into sheets. */
export class Collector {
  readonly sheets: WaitingSheet[] = [];
  readonly looks = new Interned<CellLook>();
  readonly fonts = new Interned<RunLook>();
  readonly headings: SheetHeading[] = [];
  private readonly known = new WeakMap<RunLook, Map<string, number>>();
  private section: ContentSection | null = null;
  private current: WaitingSheet | null = null;
  private depth = 0;
  /** Where the groups begin that have sheets of their own. */
  private splitting: { key: string; depth: number } | null = null;
  /** The next block begins a sheet, named by its first words. */
  private isBeginning = false;

  constructor(private readonly options: CollectOptions) {}

  async take(event: ContentEvent): Promise<void> {
    const { options } = this;
    switch (event.kind) {
      case 'section':
        this.section = event;
        if (options.split !== 'none') this.current = null;
        break;
      case 'begins': {
        this.depth++;
        const key = `${event.drawer} ${event.group ?? ''}`;
        if (options.split === 'groups' && event.part === 'group') {
          this.splitting ??= { key, depth: this.depth };
          if (this.splitting.key === key) this.isBeginning = true;
        }
        await this.current?.write({ kind: 'begins' });
        break;
      }
      case 'ends':
        await this.current?.write({ kind: 'ends' });
        this.depth--;
        break;
      case 'block':
        await this.block(event);
        break;
      case 'break':
        await this.current?.write({ kind: 'break' });
        break;
      case 'restart':
        break;
      default:
        event satisfies never;
    }
  }

  private async block(block: ContentBlock): Promise<void> {
    const { section } = this;
    if (!section) return;
    const texts: WaitingText[] = [];
    const pictures: WaitingPicture[] = [];
    let contents: ContentsList | null = null;
    for (const part of block.parts) {
      const { x, y, width: w, height: h, content } = part;
      if (content.kind === 'text') texts.push(this.text(part, content));
      else if (content.kind === 'contents') contents = content;
      else {
        const picture = await this.options.picture(part);
        if (picture !== null) pictures.push({ x, y, w, h, part: picture });
      }
    }
    if (!this.current || this.isBeginning) await this.begin(section, texts);
    const { height, depth, isCollapsed, fills, lines } = block;
    const waiting = { kind: 'block' as const, height, depth, isCollapsed, texts, pictures, fills, lines };
    await this.current!.write(waiting);
    const listed: ContentsList | null = contents;
    const [place] = block.parts;
    if (listed && place)
      await this.current!.write({
        kind: 'contents',
        levels: listed.levels,
        x: place.x,
        y: place.y,
        width: place.width,
      });
  }

  /** A document that shows nothing has a sheet all the same. */
  async end(): Promise<void> {
    if (this.sheets.length === 0 && this.section) await this.begin(this.section, []);
  }

  private async begin(section: ContentSection, texts: readonly WaitingText[]): Promise<void> {
    const [first] = [...texts].sort((a, b) => a.y - b.y || a.x - b.x);
    const words = first && (typeof first.t === 'string' ? first.t : first.t.map(([text]) => text).join(''));
    const name = this.isBeginning && words ? words : null;
    this.isBeginning = false;
    this.current = await WaitingSheet.open(name, section);
    this.sheets.push(this.current);
    for (let i = 0; i < this.depth; i++) await this.current.write({ kind: 'begins' });
  }

  private text(part: ContentPart, content: TextContent): WaitingText {
    const { runs, value, format = '', padding, source, total, sum } = content;
    const font = runs[0]?.look ?? PLAIN;
    const waiting = value === undefined || value === null ? null : toWaiting(value as Value);
    const look: CellLook = {
      font,
      align: content.align,
      stands: content.stands,
      wraps: content.wraps,
      turn: content.turn,
      indent: Math.round(content.align === 'right' ? padding.right : padding.left),
      format,
      type: waiting && waiting[0] !== 'error' ? waiting[0] : 'text',
      ...(content.background ? { fill: content.background } : {}),
      edges: content.border ?? {},
    };
    const mark = content.listed ? `${content.listed.mark} ` : '';
    const isPlain = runs.every((run) => run.look === font);
    return {
      x: part.x,
      y: part.y,
      w: part.width,
      h: part.height,
      ...(content.as === 'header' ? { c: true as const } : {}),
      ...(content.align === 'right' ? { e: true as const } : {}),
      k: this.placeOf(look, content),
      t: isPlain
        ? mark + runs.map(({ text }) => text).join('')
        : runs.map(({ text, look: own }, i): [string, number] => [i === 0 ? mark + text : text, this.fonts.of(own)]),
      ...(waiting ? { v: waiting } : {}),
      ...(source ? { s: source } : {}),
      ...(total ? { o: total } : {}),
      ...(sum ? { f: sum } : {}),
      ...((part.to ?? runs[0]?.to) ? { l: part.to ?? runs[0]!.to! } : {}),
      ...this.named(part),
    };
  }

  /** The place of a look. Most texts look as many others do, which is found out without writing it down. */
  private placeOf(look: CellLook, { padding }: TextContent): number {
    let own = this.known.get(look.font);
    if (!own) {
      own = new Map();
      this.known.set(look.font, own);
    }
    const { align, stands, wraps, turn, indent, format, type, fill = '', edges } = look;
    const drawn = Object.keys(edges).length > 0 ? JSON.stringify(edges) : '';
    const key = `${align} ${stands} ${wraps} ${turn} ${indent} ${type} ${fill} ${padding.left} ${drawn} ${format}`;
    let place = own.get(key);
    if (place === undefined) {
      place = this.looks.of(look);
      own.set(key, place);
    }
    return place;
  }

  /** The name of its place, by which links and the contents lead to it. */
  private named({ anchor, heading }: ContentPart): Pick<WaitingText, 'a'> {
    if (!heading) return anchor === undefined ? {} : { a: anchor };
    const name = anchor ?? `heading ${this.headings.length + 1}`;
    this.headings.push({ ...heading, anchor: name });
    return { a: name };
  }

  async close(): Promise<void> {
    await Promise.all(this.sheets.map((sheet) => sheet.close()));
  }
}

const PLAIN: RunLook = {
  family: 'Calibri',
  size: 10,
  bold: false,
  italic: false,
  underline: false,
  strike: false,
  color: '#000000',
};
