import type { ItemOf, Look } from '../../definition/schema.ts';
import type { LaidMark } from '../../layout/block.ts';
import type { Flow } from '../../layout/flow.ts';
import type { OutlineEntry } from '../../layout/outline.ts';
import { entryAnchor } from '../../layout/outline.ts';
import { type Filling, POINTS, type PreparedCommon } from '../../layout/prepared.ts';
import { type PrepareItem, type Preparing, plainItem } from '../../layout/preparing.ts';
import { giveRole } from '../../layout/roles.ts';
import type { FlowHost } from '../../layout/run-shared.ts';
import type { LinkMark, Mark } from '../../page/page.ts';
import { formatValue } from '../../text/format.ts';
import { setWords } from '../words/lay.ts';
import { prepareText } from '../words/prepare.ts';
import type { PreparedText } from '../words/prepared.ts';

const BASE: Look = { size: 10, padding: { top: 0.6, bottom: 0.6 } };
const LINE_HEIGHT = 6;
const INDENT = 5;
const LEVELS = 3;
/** Room between a title, its dots and its number, in points. */
const GAP = 4;
/** Share of the width that a title takes at most. */
const MOST_TITLE = 0.86;

export const prepareContents: PrepareItem<'contents'> = ({ item, readsOutline }, common, preparing) => {
  const { id, box, showIf } = common;
  if (!readsOutline) return plainItem(common, { item, shapes: {}, lay: () => {} });
  const lines = new ContentsLines(item, common, preparing);
  const height = (item.lineHeight ?? LINE_HEIGHT) * POINTS;
  return { id, box, showIf, least: height * 2, streams: true, begin: (run) => new ContentsRuns(run, lines, height) };
};

/** The instances of a list of contents in one run. */
class ContentsRuns implements Filling {
  constructor(
    private readonly around: FlowHost,
    private readonly lines: ContentsLines,
    private readonly height: number,
  ) {}

  async fill(flow: Flow): Promise<void> {
    const { outline, deliver, isLiving } = this.around.shared;
    const { lines, height } = this;
    if (isLiving) {
      const { levels, box } = lines;
      flow.place({ height, marks: [{ kind: 'piece', ...box, y: 0, height, piece: { kind: 'contents', levels } }] });
      return;
    }
    for (const [at, index] of outline.expected(lines.levels).entries()) {
      const link: LinkMark = { ...lines.box, kind: 'link', y: 0, height, to: { anchor: entryAnchor(index) } };
      // What the line says is known when the last page is. Words that come then lie over the link, so that they bring it again.
      const make = (): Mark[] => {
        const words = lines.marks(outline.entries[index]);
        return words.length > 0 ? [...words, { ...link }] : [];
      };
      const { item } = lines.box;
      const line: LaidMark = { kind: 'late', x: 0, y: 0, height, item, as: 'entry', needs: 'count', make };
      const marks = [line, { ...link }];
      flow.place({ height, marks });
      if ((at & 127) === 127) await deliver();
    }
  }

  close(): void {}
}

/** Draws the lines of a list of contents. */
class ContentsLines {
  readonly levels: number;
  readonly box: { x: number; width: number; item: string };
  private readonly boxes = new Map<string, PreparedText>();

  constructor(
    private readonly item: ItemOf<'contents'>,
    private readonly common: PreparedCommon,
    private readonly preparing: Preparing,
  ) {
    this.levels = item.levels ?? LEVELS;
    this.box = { x: 0, width: common.box.width, item: item.id };
  }

  private text(level: number, x: number, width: number, align: 'left' | 'right'): PreparedText {
    const key = `${level === 1} ${x} ${width} ${align}`;
    let text = this.boxes.get(key);
    if (!text) {
      const { item, common, preparing } = this;
      const look: Look = { ...BASE, ...item.look, ...(level === 1 ? { bold: true, ...item.firstLook } : {}), align };
      const height = (item.lineHeight ?? LINE_HEIGHT) * POINTS;
      const at = { ...common, box: { x, y: 0, width, height }, showIf: null, link: null, anchor: null, settings: [] };
      const words: ItemOf<'text'> = {
        kind: 'text',
        id: item.id,
        x: 0,
        y: 0,
        width: 0,
        height: 0,
        content: [],
        look,
        fit: 'shrink',
        grow: false,
      };
      text = prepareText({ common: at, item: words, pieces: [], indent: null, highlights: [], preparing }, []);
      this.boxes.set(key, text);
    }
    return text;
  }

  /** One line; nothing where the entry is not there after all. */
  marks(entry: OutlineEntry | undefined): Mark[] {
    if (!entry) return [];
    const { item, preparing } = this;
    const { book, report } = preparing;
    const { width } = this.box;
    const number = formatValue(item.numbers === 'part' ? entry.partNumber : entry.page, '0', report);
    const x = (entry.level - 1) * (item.indent ?? INDENT) * POINTS;
    const marks: LaidMark[] = [];
    const room = Math.max(20, width * MOST_TITLE - x);
    const titled = this.text(entry.level, x, room, 'left');
    setWords(titled, entry.title, 0, book, marks);
    const numbered = this.text(entry.level, width * MOST_TITLE, width * (1 - MOST_TITLE), 'right');
    const [title] = marks.filter((mark) => mark.kind === 'text');
    setWords(numbered, number, 0, book, marks);
    const last = marks.filter((mark) => mark.kind === 'text').at(-1);
    if (item.leader !== 'none' && title && last && title !== last) {
      const { style } = numbered;
      const dot = (style.font.width(' .') * style.size) / 1000;
      const from = title.x + title.width + GAP;
      const to = last.x - GAP;
      const count = Math.floor((to - from) / dot);
      // Dots of all lines stand below one another: they are counted from the right.
      if (count > 2)
        marks.push({
          kind: 'text',
          x: to - count * dot,
          y: last.y,
          text: ' .'.repeat(count),
          font: style.font.key,
          size: style.size,
          color: style.color,
          width: count * dot,
          item: item.id,
          as: 'artifact',
        });
    }
    giveRole(marks, 'entry');
    return marks.filter((mark): mark is Mark => mark.kind !== 'late' && mark.kind !== 'piece');
  }
}
