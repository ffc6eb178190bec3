import { NO_PAGE, type PageValues } from '../formula/functions/context.ts';
import type { Mark, OutlineMark, Page, SlotMark } from '../page/page.ts';
import { type Block, type LateMark, shiftLaid } from './block.ts';
import { Flow } from './flow.ts';
import type { LateFill } from './late-fill.ts';
import { entryAnchor, type Outline } from './outline.ts';
import type { PageFrame, PageGeometry, Paper } from './page-frame.ts';

/** Pages since the numbering last started anew. */
interface Part {
  pages: number;
}

interface OpenPage {
  page: Page;
  part: Part;
  partNumber: number;
  footerHeight: number;
  late: LateMark[];
  /** What bands put on it before any row was current, which they may show; null where one was. */
  rowless: { header: Block | null; put: ReadonlySet<Mark | LateMark> } | null;
}

/** Fills real pages and hands each one over when it is complete. */
export class PageFlow extends Flow {
  private open: OpenPage | null = null;
  private number = 0;
  private part: Part = { pages: 0 };
  private bodyTop = 0;
  protected limit = 0;
  full: number;
  /** Completed pages that wait to be handed over. */
  readonly finished: Page[] = [];
  private geometry: PageGeometry;
  private frame: PageFrame;
  /** Whether the numbering of pages has started anew. */
  private hasParts = false;
  /** Whether anything of the flow stands on the open page. */
  private isUsed = false;
  private readonly late: { page: number; part: Part; partNumber: number; mark: LateMark }[] = [];

  constructor(
    { geometry, frame }: Paper,
    private readonly outline: Outline | null = null,
  ) {
    super();
    this.geometry = geometry;
    this.frame = frame;
    this.full = geometry.height - geometry.top - geometry.bottom;
    this.nextPage();
  }

  get pageNumber(): number {
    return this.number;
  }

  protected nextPage(): void {
    this.finishPage();
    this.isUsed = false;
    const { geometry } = this;
    const { number } = { number: ++this.number };
    this.part.pages++;
    const page: Page = { number, width: geometry.width, height: geometry.height, marks: [] };
    this.open = { page, part: this.part, partNumber: this.part.pages, footerHeight: 0, late: [], rowless: null };
    const values = this.values();
    const background = this.frame.background(values);
    const header = this.frame.header(values);
    const footer = this.frame.footer(values);
    this.open.footerHeight = footer?.height ?? 0;
    this.bodyTop = geometry.top + (header?.height ?? 0);
    this.limit = Math.max(20, geometry.height - geometry.bottom - this.open.footerHeight - this.bodyTop);
    this.full = this.limit;
    const put = this.putFrame(background, header);
    if (!this.frame.hasRow() && put.size > 0) this.open.rowless = { header, put };
  }

  // What is placed reaches its page later, when other rows may be current.
  override place(block: Block): void {
    this.seeRow();
    super.place(block);
  }

  override hold(block: Block): void {
    this.seeRow();
    super.hold(block);
  }

  private seeRow(): void {
    if (this.open?.rowless && this.frame.hasRow()) this.renewFrame();
  }

  /** Gives what was put on the page. */
  private putFrame(background: Block | null, header: Block | null): ReadonlySet<Mark | LateMark> {
    const { geometry } = this;
    const put = new Set<Mark | LateMark>();
    if (background) this.putOn(background, 0, 0, put);
    if (header) this.putOn(header, geometry.left, geometry.top, put);
    return put;
  }

  /** Builds the bands at the start of the page again once there is a row that they may show, where they are as high as they were. */
  private renewFrame(): void {
    const open = this.open!;
    const { header: before, put: old } = open.rowless!;
    open.rowless = null;
    const values = this.values();
    const header = this.frame.header(values);
    const isFixed = [...old].some(({ kind }) => kind === 'outline');
    if (isFixed || Math.abs((header?.height ?? 0) - (before?.height ?? 0)) > 0.01) return;
    const others = open.page.marks.filter((mark) => !old.has(mark));
    open.late = open.late.filter((mark) => !old.has(mark));
    for (let i = this.late.length - 1; i >= 0; i--) if (old.has(this.late[i]!.mark)) this.late.splice(i, 1);
    open.page.marks = [];
    this.putFrame(this.frame.background(values), header);
    open.page.marks.push(...others);
  }

  private values(): PageValues {
    const { open } = this;
    return open ? { ...NO_PAGE, number: open.page.number, partNumber: open.partNumber } : NO_PAGE;
  }

  protected put(block: Block, dy: number): void {
    this.isUsed = true;
    this.putOn(block, this.geometry.left, this.bodyTop + dy);
    for (const landing of block.landings ?? []) landing();
    for (const band of block.traced ?? []) band.page = this.number;
  }

  /** `put`: where what is put there is noted. */
  private putOn(block: Block, x: number, y: number, put: Set<Mark | LateMark> | null = null): void {
    const open = this.open!;
    const add = (mark: Mark): void => {
      open.page.marks.push(mark);
      put?.add(mark);
    };
    for (const mark of block.marks) {
      // Pages have marks alone.
      if (mark.kind === 'piece') continue;
      shiftLaid(mark, x, y);
      if (mark.kind === 'late') put?.add(mark);
      if (mark.kind === 'late' && mark.as !== 'artifact') add(slotFor(mark));
      if (mark.kind !== 'late') {
        add(mark);
        if (mark.kind === 'outline' && this.outline?.isKept) this.keep(mark, open);
      } else if (mark.needs === 'page') open.late.push(mark);
      else {
        this.late.push({ page: open.page.number, part: open.part, partNumber: open.partNumber, mark });
        open.page.late = true;
      }
    }
  }

  /** Keeps an entry of the outline, and gives its place a name that links lead to. */
  private keep({ x, y, level, title }: OutlineMark, { page, partNumber }: OpenPage): void {
    const { entries } = this.outline!;
    page.marks.push({ kind: 'anchor', x, y, name: entryAnchor(entries.length) });
    entries.push({ level, title, page: page.number, partNumber });
  }

  override turnTo({ geometry, frame }: Paper): void {
    this.settle();
    if (this.isUsed) this.finishPage();
    else this.dropPage();
    this.useNext({ geometry, frame });
    this.breakNow();
  }

  /** Pages after the open one are of this paper. */
  protected useNext({ geometry, frame }: Paper): void {
    this.geometry = geometry;
    this.frame = frame;
  }

  /** Room below the last thing on the last page, in points, where pages are as long as their content. */
  protected endWith(bottom: number): void {
    this.geometry = { ...this.geometry, bottom };
  }

  /** Takes a page back that nothing of the flow stands on. */
  private dropPage(): void {
    const { open } = this;
    if (!open) return;
    this.open = null;
    this.number--;
    open.part.pages--;
    while (this.late.at(-1)?.page === open.page.number) this.late.pop();
  }

  override restartPart(): void {
    const { open } = this;
    // A part that has only just begun goes on.
    if (!open || open.partNumber === 1) return;
    this.hasParts = true;
    open.part.pages--;
    this.part = { pages: 1 };
    open.part = this.part;
    open.partNumber = 1;
    // Those of the open page are the last ones.
    for (let i = this.late.length - 1; i >= 0 && this.late[i]!.page === open.page.number; i--) {
      const late = this.late[i]!;
      late.part = this.part;
      late.partNumber = 1;
    }
  }

  private finishPage(): void {
    const { open, geometry } = this;
    if (!open) return;
    if (geometry.continuous) open.page.height = this.bodyTop + this.y + open.footerHeight + geometry.bottom;
    const values = this.values();
    const footer = this.frame.footer(values);
    if (footer) this.putOn(footer, geometry.left, open.page.height - geometry.bottom - open.footerHeight);
    for (const mark of open.late.splice(0)) open.page.marks.push(...filledIn(mark, values));
    const overlay = this.frame.overlay(values);
    if (overlay) this.putOn(overlay, 0, 0);
    for (const mark of open.late) open.page.marks.push(...filledIn(mark, values));
    if (this.hasParts) open.page.partNumber = open.partNumber;
    this.finished.push(open.page);
    this.open = null;
    this.frame.completed();
  }

  /** Completes the last page. Gives the number of pages. */
  end(): number {
    this.settle();
    this.finishPage();
    return this.number;
  }

  get pages(): number {
    return this.number;
  }

  /** Marks that show the number of pages, page by page in order. Call after {@link end}. */
  *lateFills(): Iterable<LateFill> {
    let current: LateFill | null = null;
    for (const { page, part, partNumber, mark } of this.late) {
      if (current && current.page !== page) {
        yield current;
        current = null;
      }
      current ??= { page, marks: [] };
      const values = { ...NO_PAGE, number: page, count: this.number, partNumber, partCount: part.pages };
      current.marks.push(...filledIn(mark, values));
    }
    if (current) yield current;
  }
}

const slotFor = ({ x, y, height, item, as }: LateMark): SlotMark => ({
  kind: 'slot',
  x,
  y,
  width: 0,
  height,
  ...(item === undefined ? {} : { item }),
  ...(as === undefined ? {} : { as }),
});

const filledIn = (late: LateMark, page: PageValues): Mark[] => {
  const marks = late.make(page);
  for (const mark of marks) shiftLaid(mark, late.x, late.y);
  return marks;
};
