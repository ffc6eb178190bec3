import type { ContentBlock, ContentEvent, ContentSection } from '../content/content.ts';
import { NO_PAGE } from '../formula/functions/context.ts';
import type { Block } from './block.ts';
import { contentOf } from './content-block.ts';
import { Flow, type FlowNote, type Parity } from './flow.ts';
import type { Paper } from './page-frame.ts';

/** Higher than anything that is laid out, and still a number to reckon with. Points. */
const TALLEST = 1e9;

/** Takes blocks for a document that goes on living: it has no pages yet, so that nothing is cut or kept back. */
export class ContentFlow extends Flow {
  /** What waits to be told, in order. */
  readonly waiting: ContentEvent[] = [];
  protected limit = TALLEST;
  readonly full = TALLEST;
  readonly pageNumber = 1;
  /** The paper that begins with the next block; null while it goes on. */
  private next: Paper | null;
  private current: Paper;
  /** Whether anything stands on the paper since it began, or since the last break. */
  private isUsed = false;
  private breaking: { parity: Parity } | null = null;
  private depth = 0;
  private keepDepth = 0;
  /** The last block, while it is known to stay with the next only because of a keep. */
  private keptLast: ContentBlock | null = null;

  constructor(paper: Paper) {
    super();
    this.next = paper;
    this.current = paper;
  }

  override get available(): number {
    return TALLEST;
  }

  private add(block: Block, isHeld: boolean): void {
    this.begin();
    const content = contentOf(block, { depth: this.depth, keepNext: isHeld || this.keepDepth > 0 });
    this.keptLast = isHeld ? null : content;
    this.waiting.push(content);
    for (const landing of block.landings ?? []) landing();
    this.isUsed = true;
  }

  /** Begins the paper or the page that is asked for, now that something stands on it. */
  private begin(): void {
    const { next, breaking } = this;
    this.next = null;
    this.breaking = null;
    if (next) {
      this.current = next;
      this.waiting.push(sectionOf(next));
    } else if (breaking) this.waiting.push({ kind: 'break', parity: breaking.parity });
  }

  override beginKeep(): void {
    this.keepDepth++;
  }

  override endKeep(): void {
    this.keepDepth--;
    if (this.keepDepth === 0 && this.keptLast) this.keptLast.keepNext = false;
  }

  override hold(block: Block): void {
    this.add(block, true);
  }

  override keepWithLast(follows: boolean): void {
    const last = this.waiting.at(-1);
    if (follows && last?.kind === 'block') last.keepNext = true;
  }

  override place(block: Block): void {
    this.add(block, false);
  }

  override placeAtBottom(block: Block): void {
    this.add(block, false);
  }

  override flush(): void {}

  override need(): void {}

  override endRepeat(): void {}

  override breakPage(): void {
    this.breakUnlessTop();
  }

  override breakUnlessTop(parity: Parity = null): void {
    if (!this.isUsed && !parity) return;
    this.breaking = { parity };
    this.isUsed = false;
  }

  override turnTo(paper: Paper): void {
    this.next = paper;
    this.isUsed = false;
  }

  override restartPart(): void {
    this.begin();
    this.waiting.push({ kind: 'restart' });
  }

  override note(note: FlowNote): void {
    switch (note.kind) {
      case 'deeper':
        this.depth++;
        break;
      case 'shallower':
        this.depth--;
        break;
      case 'begins':
      case 'ends':
        this.waiting.push(note);
        break;
      default:
        note satisfies never;
    }
  }

  protected put(block: Block): void {
    this.place(block);
  }

  protected nextPage(): void {
    this.breakPage();
  }

  /** Nothing comes any more. A document without content has its paper all the same. */
  end(): void {
    if (this.next) this.begin();
    this.current.frame.completed();
  }
}

/** The paper with the bands of its pages, for the rows that are current where it begins. */
const sectionOf = ({ geometry, frame }: Paper): ContentSection => {
  const { width, height, top, bottom, left, right, continuous } = geometry;
  const bands = (number: number): Pick<ContentSection, 'header' | 'footer'> => {
    const page = { ...NO_PAGE, number, partNumber: number };
    return { header: blockOf(frame.header(page)), footer: blockOf(frame.footer(page)) };
  };
  return {
    kind: 'section',
    width,
    // A strip of paper as long as its content is cut into pages of the usual shape.
    height: continuous ? width * Math.SQRT2 : height,
    margins: { top, right, bottom, left },
    ...bands(3),
    ...(frame.own.first ? { first: bands(1) } : {}),
    ...(frame.own.even ? { even: bands(2) } : {}),
  };
};

const blockOf = (block: Block | null): ContentBlock | null => block && contentOf(block, { depth: 0, keepNext: false });
