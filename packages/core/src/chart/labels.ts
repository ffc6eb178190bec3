import type { Box, Drawing } from './drawing.ts';
import type { ChartWriter, Put } from './writer.ts';

/** Most labels of values in one picture: nobody reads more, and each is held against all. */
const MOST = 600;

/** How a label is put, besides what it looks like. */
export interface PutLabel extends Put {
  /** May lie over what is drawn, as words inside a bar do. */
  over?: boolean;
  /** Has a light ground, so that what is drawn below does not run through it. */
  ground?: boolean;
}

/** Keeps labels inside a box, apart from one another, and off what is drawn. */
export class Labels {
  private readonly taken: Box[] = [];
  private readonly drawn: Box[] = [];

  constructor(
    private readonly box: Box,
    private readonly writer: ChartWriter,
    private readonly out: Drawing,
  ) {}

  /** Labels are not to lie over a shape. */
  avoid(shape: Box): void {
    if (this.drawn.length < MOST) this.drawn.push(shape);
  }

  private isFree({ x, y, width, height }: Box, over: boolean): boolean {
    const { box } = this;
    if (x < box.x || y < box.y || x + width > box.x + box.width || y + height > box.y + box.height) return false;
    const isApart = (other: Box): boolean =>
      x >= other.x + other.width || other.x >= x + width || y >= other.y + other.height || other.y >= y + height;
    return this.taken.every(isApart) && (over || this.drawn.every(isApart));
  }

  /** Writes words around the first of the places, by their middle, where nothing stands; gives whether there was one. */
  put(
    text: string,
    places: readonly (readonly [x: number, y: number])[],
    { over = false, ground = false, ...put }: PutLabel = {},
  ): boolean {
    if (text === '' || this.taken.length >= MOST) return false;
    const { writer, out } = this;
    const width = writer.width(text, put.bold) + 2;
    const height = writer.capHeight + 3;
    for (const [x, y] of places) {
      const box = { x: x - width / 2, y: y - height / 2, width, height };
      if (!this.isFree(box, over)) continue;
      this.taken.push(box);
      if (ground) out.rect(box, { fill: '#ffffff', opacity: 0.8 });
      out.words(writer, text, x, y + writer.capHeight / 2, { ...put, align: 'middle' });
      return true;
    }
    return false;
  }
}
