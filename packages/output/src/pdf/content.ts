import {
  FOLD_COLOR,
  foldLine,
  type Mark,
  type MarkKind,
  type MarkOf,
  type PathMark,
  pathSteps,
  type RectangleMark,
  type TextMark,
} from '@gaveta/core/internal';
import { type Face, SAID, saying } from './face.ts';
import { n } from './numbers.ts';
import type { MarkTags } from './structure/page-tags.ts';

/** What marks are drawn with that stands in the file once. */
export interface Ink {
  face(font: string): Face;
  /** Name of a picture among the resources; null when it cannot be drawn. */
  image(hash: string): string | null;
  /** Name of a graphics state with an opacity. */
  opacity(value: number): string;
  /** `#1f2a2e` as three numbers from 0 to 1. */
  rgb(color: string): string;
}

/** One content stream (ISO 32000-1, 7.8) while marks are drawn into it. */
class Pen {
  out = '';
  private inText = false;
  private font = '';
  private color = '';
  /** Where the text matrix stands. Steps from there are shorter to write than places, and quicker to compress. */
  private atX = 0;
  private atY = 0;

  constructor(
    readonly ink: Ink,
    /** Of the page, in points. */
    readonly height: number,
  ) {}

  /** Begins or ends a text object. */
  text(open: boolean): void {
    if (open === this.inText) return;
    this.out += open ? 'BT\n' : 'ET\n';
    this.inText = open;
    this.atX = 0;
    this.atY = 0;
  }

  paint(wanted: string): void {
    if (wanted === this.color) return;
    this.out += `${this.ink.rgb(wanted)} rg\n`;
    this.color = wanted;
  }

  use(face: Face, size: number): void {
    const wanted = `/${face.id} ${n(size)} Tf\n`;
    if (wanted === this.font) return;
    this.out += wanted;
    this.font = wanted;
  }

  /** Steps to a place from the one before. */
  step(x: number, y: number): string {
    const dx = n(x - this.atX);
    const dy = n(this.height - y - this.atY);
    this.atX += dx;
    this.atY += dy;
    return `${dx} ${dy} Td`;
  }

  /** What is drawn until {@link restore} has an opacity. */
  faded(opacity: number): void {
    this.text(false);
    this.out += `q ${this.ink.opacity(opacity)} gs\n`;
  }

  restore(): void {
    this.text(false);
    this.out += 'Q\n';
    // What was set inside no longer holds.
    this.font = '';
    this.color = '';
  }
}

const paintText = (mark: TextMark, pen: Pen, isSpaced = false): void => {
  pen.text(true);
  const face = pen.ink.face(mark.font);
  pen.use(face, mark.size);
  pen.paint(mark.color);
  if (mark.rtl) {
    pen.out += face.shaped(mark, pen.height);
    // Its glyphs were placed one by one.
    pen.text(false);
    return;
  }
  const shown = `<${face.encode(isSpaced ? `${mark.text} ` : mark.text)}> Tj\n`;
  const words = face.hasReplaced ? `${saying(mark.text)}${shown}${SAID}` : shown;
  if (mark.turn) {
    pen.out += `${turned(mark, pen.height)} Tm ${words}`;
    pen.text(false);
  } else pen.out += `${pen.step(mark.x, mark.y)} ${words}`;
};

/** Nothing of it is drawn. */
const unseen = (): void => {};

const PAINTERS: { readonly [K in MarkKind]: (mark: MarkOf<K>, pen: Pen, isSpaced?: boolean) => void } = {
  text: paintText,
  line: (mark, pen) => {
    pen.text(false);
    const { height, ink } = pen;
    const dash = mark.dash ? `[${mark.dash.map(n).join(' ')}] 0 d ` : '';
    pen.out += `q ${ink.rgb(mark.color)} RG ${n(mark.thickness)} w ${dash}${n(mark.x)} ${n(height - mark.y)} m ${n(mark.x2)} ${n(height - mark.y2)} l S Q\n`;
  },
  rectangle: (mark, pen) => {
    pen.text(false);
    const fill = mark.fill ? `${pen.ink.rgb(mark.fill)} rg ` : '';
    const stroke = mark.stroke ? strokeOf(mark, pen.ink.rgb(mark.stroke)) : '';
    if (!fill && !stroke) return;
    const path = rectanglePath(mark.x, pen.height - mark.y - mark.height, mark.width, mark.height, mark.radius ?? 0);
    pen.out += `q ${fill}${stroke}${path} ${fill && stroke ? 'B' : fill ? 'f' : 'S'} Q\n`;
  },
  picture: ({ x, y, width, height, picture, window }, pen) => {
    pen.text(false);
    const name = pen.ink.image(picture);
    if (!name) return;
    const cut = window
      ? `${n(x + window.x)} ${n(pen.height - y - window.y - window.height)} ${n(window.width)} ${n(window.height)} re W n `
      : '';
    pen.out += `q ${cut}${n(width)} 0 0 ${n(height)} ${n(x)} ${n(pen.height - y - height)} cm /${name} Do Q\n`;
  },
  shape: (mark, pen) => {
    pen.text(false);
    const scale = mark.scale.toFixed(5);
    const path = mark.polygons.map(
      (p) => `${p.reduce((d, v, i) => `${d}${n(v)} ${i % 2 === 0 ? '' : i === 1 ? 'm ' : 'l '}`, '')}h`,
    );
    pen.out += `q ${pen.ink.rgb(mark.color)} rg ${scale} 0 0 -${scale} ${n(mark.x)} ${n(pen.height - mark.y)} cm\n${path.join('\n')}\nf* Q\n`;
  },
  path: (mark, pen) => {
    const { fill, stroke, thickness = 1, dash } = mark;
    if (!fill && !stroke) return;
    pen.text(false);
    const { height, ink } = pen;
    const paint = `${fill ? `${ink.rgb(fill)} rg ` : ''}${stroke ? `1 j ${strokeOf({ thickness, dash }, ink.rgb(stroke))}` : ''}`;
    pen.out += `q ${paint}${coursePath(mark, height)} ${fill && stroke ? 'B' : fill ? 'f' : 'S'} Q\n`;
  },
  figure: unseen,
  region: unseen,
  link: unseen,
  anchor: unseen,
  outline: unseen,
  slot: unseen,
  // On paper nothing can be opened: what is closed says that there is more.
  fold: (mark, pen) => {
    if (!mark.isClosed || mark.isSwitch) return;
    pen.text(false);
    const corners = foldLine(mark).map(
      ([x, y]) => `${n(mark.x + x * mark.width)} ${n(pen.height - mark.y - y * mark.height)}`,
    );
    pen.out += `q ${pen.ink.rgb(FOLD_COLOR)} RG 1.3 w 1 J 1 j ${corners[0]} m ${corners[1]} l ${corners[2]} l S Q\n`;
  },
};

/** Whether a mark is drawn within one text object, among the texts around it. */
const isPlainText = (mark: Mark): boolean =>
  mark.kind === 'text' && !mark.rtl && !mark.turn && mark.opacity === undefined;

/** Begins and ends marked content (ISO 32000-1, 14.6), each wholly within a text object or wholly outside of them. */
class Tagging {
  private current: number | null | undefined;
  private isInText = false;

  constructor(
    private readonly pen: Pen,
    private readonly marks: readonly Mark[],
    private readonly tags: MarkTags,
  ) {}

  /** A mark is drawn next. */
  at(place: number): void {
    const tag = this.tags.of[place];
    if (tag === undefined || tag === this.current) return;
    this.end();
    this.isInText = tag !== null && this.isText(place, tag);
    this.pen.text(this.isInText);
    this.pen.out += tag === null ? '/Artifact BMC\n' : `/${this.tags.types[tag]}<</MCID ${tag}>>BDC\n`;
    this.current = tag;
  }

  /** Whether all that has a tag is plain text. */
  private isText(from: number, tag: number): boolean {
    const { of } = this.tags;
    for (let at = from; at < of.length && (of[at] === tag || of[at] === undefined); at++)
      if (of[at] === tag && !isPlainText(this.marks[at]!)) return false;
    return true;
  }

  end(): void {
    if (this.current === undefined) return;
    if (!this.isInText) this.pen.text(false);
    this.pen.out += 'EMC\n';
    this.current = undefined;
  }
}

/** The content stream of marks on a page that is `height` points high. `tags`: what they are, where the file is tagged. */
export const contentOf = (marks: readonly Mark[], height: number, ink: Ink, tags: MarkTags | null = null): string => {
  const pen = new Pen(ink, height);
  const tagging = tags && new Tagging(pen, marks, tags);
  for (let place = 0; place < marks.length; place++) {
    const mark = marks[place]!;
    tagging?.at(place);
    const opacity = 'opacity' in mark ? mark.opacity : undefined;
    if (opacity !== undefined) pen.faded(opacity);
    // Records are by kind: the mark is of the kind that its painter is looked up by.
    (PAINTERS[mark.kind] as (mark: Mark, pen: Pen, isSpaced?: boolean) => void)(mark, pen, tags?.spaced.has(place));
    if (opacity !== undefined) pen.restore();
  }
  tagging?.end();
  pen.text(false);
  return pen.out;
};

/** A text matrix around the left end of the baseline, clockwise. */
const turned = (mark: TextMark, pageHeight: number): string => {
  const angle = ((mark.turn ?? 0) * Math.PI) / 180;
  const [sin, cos] = [Math.sin(angle), Math.cos(angle)].map((v) => Math.round(v * 1e5) / 1e5) as [number, number];
  return `${cos} ${-sin} ${sin} ${cos} ${n(mark.x)} ${n(pageHeight - mark.y)}`;
};

const strokeOf = ({ thickness = 1, dash }: Pick<RectangleMark, 'thickness' | 'dash'>, color: string): string =>
  `${color} RG ${n(thickness)} w ${dash ? `[${dash.map(n).join(' ')}] 0 d ` : ''}`;

const OPERATORS: Readonly<Record<string, string>> = { M: 'm', L: 'l', C: 'c', Z: 'h' };

const coursePath = ({ x, y, path }: PathMark, height: number): string =>
  [...pathSteps(path)]
    .map(({ step, places }) =>
      [...places.map((place, i) => n(i % 2 === 0 ? x + place : height - y - place)), OPERATORS[step]].join(' '),
    )
    .join('\n');

/** Distance of a curve's handles that makes a quarter circle of radius 1. */
const HANDLE = 0.5523;

const rectanglePath = (x: number, y: number, w: number, h: number, radius: number): string => {
  const r = Math.min(radius, w / 2, h / 2);
  if (r <= 0) return `${n(x)} ${n(y)} ${n(w)} ${n(h)} re`;
  const k = r * (1 - HANDLE);
  const [right, top] = [x + w, y + h];
  return [
    `${n(x + r)} ${n(y)} m ${n(right - r)} ${n(y)} l`,
    `${n(right - k)} ${n(y)} ${n(right)} ${n(y + k)} ${n(right)} ${n(y + r)} c ${n(right)} ${n(top - r)} l`,
    `${n(right)} ${n(top - k)} ${n(right - k)} ${n(top)} ${n(right - r)} ${n(top)} c ${n(x + r)} ${n(top)} l`,
    `${n(x + k)} ${n(top)} ${n(x)} ${n(top - k)} ${n(x)} ${n(top - r)} c ${n(x)} ${n(y + r)} l`,
    `${n(x)} ${n(y + k)} ${n(x + k)} ${n(y)} ${n(x + r)} ${n(y)} c h`,
  ].join(' ');
};
