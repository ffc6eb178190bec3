import { type Mark, markExtent, type Page, type RegionMark, shiftMark } from '@gaveta/core/internal';

/** The marks of a band where it stands, and of what flows after it. */
interface Block {
  region: RegionMark;
  marks: Mark[];
}

const bottomOf = ({ region, marks }: Block): number =>
  Math.max(region.y + region.height, ...marks.filter(({ kind }) => kind === 'text').map((mark) => markExtent(mark)[1]));

/** A page in its bands, and what stands on it besides: headers and footers of pages, what lies behind and over them. */
interface Parts {
  blocks: Block[];
  before: Mark[];
  after: Mark[];
}

/** Marks may stand out of their band by as much, in points. */
const ROUNDING = 1;

/** Free space at the edge of paper, in points, where nothing says where the page ends. */
const EDGE = 28;

const liesIn = (mark: Mark, { y, height }: RegionMark): boolean => {
  const [top, bottom] = markExtent(mark);
  return top >= y - ROUNDING && bottom <= y + height + ROUNDING;
};

const partsOf = ({ marks }: Page): Parts => {
  const regions = marks.filter((mark): mark is RegionMark => mark.kind === 'region');
  const parts: Parts = { blocks: regions.map((region) => ({ region, marks: [] })), before: [], after: [] };
  const { blocks } = parts;
  const last = marks.findLastIndex(({ kind }) => kind === 'region');
  // What flows on after the last band, as the rows of a crosstab do.
  const flowing = marks.slice(last + 1).filter((mark) => mark.kind === 'text' && mark.as !== 'artifact');
  const flowsTo = Math.max(0, ...flowing.map(({ y }) => y));
  const lastTop = blocks.at(-1)?.region.y ?? 0;
  let at = 0;
  for (const mark of marks) {
    // The marks of a band come before its region; those of bands of the page before the first and after the last.
    const block = blocks[at];
    if (mark.kind === 'region') at++;
    const isOwn = mark.kind === 'region' || at > 0 || (block && liesIn(mark, block.region));
    const isFlowing = !block && mark.y <= flowsTo && mark.y >= lastTop - ROUNDING;
    const owner = (isOwn && block) || (isFlowing && blocks.at(-1)) || blocks.find(({ region }) => liesIn(mark, region));
    if (owner) owner.marks.push(mark);
    else (at === 0 ? parts.before : parts.after).push(mark);
  }
  return parts;
};

/** Whether all that a band says was said before: captions that stand on every page again. */
const isAgain = ({ marks }: Block): boolean => {
  const texts = marks.filter((mark) => mark.kind === 'text');
  return texts.length > 0 && texts.every((mark) => mark.as === 'artifact');
};

/** Where bands have to end on a page. */
const endOf = ({ height }: Page, { blocks, before, after }: Parts): number => {
  const lowest = Math.max(0, ...blocks.map(bottomOf));
  const tops = [...before, ...after].flatMap((mark) => {
    const [top, bottom] = markExtent(mark);
    return top > height / 2 && bottom - top < height / 2 ? [top] : [];
  });
  return Math.max(lowest, Math.min(height - EDGE, ...tops));
};

/** A page that is being filled. */
class Filling {
  private readonly marks: Mark[];
  private readonly after: Mark[];
  private readonly end: number;
  bottom: number;
  isEmpty = true;

  /** What stands on every page is that of `page`. */
  constructor(
    private readonly page: Page,
    parts: Parts,
    readonly top: number,
  ) {
    this.marks = structuredClone(parts.before);
    this.after = structuredClone(parts.after);
    this.end = endOf(page, parts);
    this.bottom = top;
  }

  /** Whether it is paper of the same size. */
  isOn({ width, height }: Page): boolean {
    return this.page.width === width && this.page.height === height;
  }

  hasRoom(block: Block, shift: number): boolean {
    return bottomOf(block) + shift <= this.end + ROUNDING;
  }

  add(block: Block, shift: number): void {
    for (const mark of block.marks) shiftMark(mark, 0, shift);
    this.marks.push(...block.marks);
    this.bottom = Math.max(this.bottom, bottomOf(block));
    this.isEmpty = false;
  }

  done(number: number): Page {
    return { ...this.page, number, marks: [...this.marks, ...this.after] };
  }
}

/**
 * Pages on which each of the outermost groups begins anew, and goes on where the one before ended until there is no more room. What
 * stands on every page is that of the page with which a new one begins.
 */
export async function* regrouped(pages: AsyncIterable<Page>): AsyncGenerator<Page> {
  let filling: Filling | null = null;
  let number = 0;
  for await (const page of pages) {
    const parts = partsOf(page);
    const top = parts.blocks[0]?.region.y ?? 0;
    if (filling && !filling.isOn(page)) {
      yield filling.done(++number);
      filling = null;
    }
    // How far the bands of this page move on the one that is filled.
    let shift: number | null = null;
    for (const block of parts.blocks) {
      const { region } = block;
      const begins = region.begins === true && filling !== null && !filling.isEmpty;
      // On the same page as before they need not stand again.
      if (filling && !begins && shift === null && isAgain(block)) continue;
      shift ??= (filling?.bottom ?? top) - region.y;
      if (!filling || begins || !filling.hasRoom(block, shift)) {
        if (filling) yield filling.done(++number);
        filling = new Filling(page, parts, top);
        shift = top - region.y;
      }
      filling.add(block, shift);
    }
    if (parts.blocks.length > 0) continue;
    if (filling) yield filling.done(++number);
    filling = null;
    yield { ...page, number: ++number };
  }
  if (filling) yield filling.done(++number);
}
