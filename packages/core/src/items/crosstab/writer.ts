import type { TextContent } from '../../content/pieces.ts';
import type { ItemOf, Look } from '../../definition/schema.ts';
import type { LaidMark } from '../../layout/block.ts';
import type { PreparedCommon } from '../../layout/prepared.ts';
import type { Preparing } from '../../layout/preparing.ts';
import { setWords } from '../words/lay.ts';
import { setLivingWords } from '../words/living.ts';
import { prepareText } from '../words/prepare.ts';
import type { PreparedText } from '../words/prepared.ts';

/** How a kind of text of a crosstab looks. */
export interface Dress {
  /** Tells one from another. */
  key: string;
  look: Look;
  /** Whether it wraps onto more lines where it is wider than its box; otherwise its type gets smaller. */
  wraps: boolean;
}

/** Writes words into boxes; what is the same for all boxes of one place and look is worked out once. Lengths in points. */
export class Writer {
  private readonly boxes = new Map<string, PreparedText>();
  /** Cells written since a row of them began. */
  private cells = 0;

  constructor(
    private readonly common: PreparedCommon,
    private readonly preparing: Preparing,
    private readonly rowHeight: number,
    private readonly isLiving: boolean,
  ) {}

  private box({ key, look, wraps }: Dress, x: number, width: number): PreparedText {
    const id = `${key} ${x} ${width}`;
    let box = this.boxes.get(id);
    if (!box) {
      const { common, preparing } = this;
      const place = { id: common.id, x: 0, y: 0, width: 0, height: 0 };
      // Backgrounds and borders are those of rows and cells, which may get higher.
      const { background: _, border: __, ...plain } = look;
      const item: ItemOf<'text'> = {
        kind: 'text',
        ...place,
        content: [],
        look: plain,
        ...(wraps ? {} : { fit: 'shrink', grow: false }),
      };
      const at = {
        ...common,
        box: { x, y: 0, width, height: this.rowHeight },
        showIf: null,
        link: null,
        anchor: null,
        settings: [],
      };
      box = prepareText({ common: at, item, pieces: [], indent: null, highlights: [], preparing }, []);
      this.boxes.set(id, box);
    }
    return box;
  }

  /** A row of cells begins, or several that stay together. */
  begin(): void {
    this.cells = 0;
  }

  /** Gives the height that the words take. `typed`: the value that they show, and the first column that they stand over. */
  write(
    words: string,
    dress: Dress,
    x: number,
    top: number,
    width: number,
    marks: LaidMark[],
    { column, ...typed }: Pick<TextContent, 'value' | 'format'> & { column?: number } = {},
  ): number {
    const box = this.box(dress, x, width);
    const { book } = this.preparing;
    if (this.isLiving) return setLivingWords(box, words, typed, top, book, marks);
    const first = marks.length;
    const height = setWords(box, words, top, book, marks);
    if (column === undefined) return height;
    const part = this.cells++;
    for (let i = first; i < marks.length; i++) {
      const mark = marks[i]!;
      if (mark.kind === 'text') Object.assign(mark, { part, column });
    }
    return height;
  }

  /** How wide the words are on one line, padding included. */
  width(words: string, dress: Dress): number {
    const { style, padding } = this.box(dress, 0, 0);
    return (style.font.width(words) * style.size) / 1000 + padding.left + padding.right;
  }
}
