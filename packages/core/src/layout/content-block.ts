import type { ContentBlock, ContentLine, ContentPart } from '../content/content.ts';
import type { PieceEdge, RunLook, TextContent } from '../content/pieces.ts';
import type {
  AnchorMark,
  LineMark,
  LinkMark,
  OutlineMark,
  PictureMark,
  RectangleMark,
  TextMark,
} from '../page/page.ts';
import type { Block, LaidMark } from './block.ts';

/** Lengths that are taken for the same, in points. */
const NEAR = 1;

const NO_PADDING = { top: 0, right: 0, bottom: 0, left: 0 } as const;

/** Words that a band has as marks, as a notice does. */
const asPiece = ({ text, font, size, color }: TextMark): TextContent => {
  const slash = font.lastIndexOf('/');
  const face = font.slice(slash + 1);
  const look: RunLook = {
    family: font.slice(0, slash),
    size,
    bold: Number.parseInt(face, 10) >= 600,
    italic: face.endsWith('i'),
    underline: false,
    strike: false,
    color,
  };
  return {
    kind: 'text',
    runs: [{ text, look }],
    align: 'left',
    stands: 'top',
    padding: NO_PADDING,
    spacing: 1.2,
    wraps: true,
    turn: 0,
  };
};

const edgeOf = ({ stroke, thickness = 1, dash }: RectangleMark): { edge?: PieceEdge } =>
  stroke ? { edge: { width: thickness, color: stroke, isDashed: dash !== undefined } } : {};

const lineOf = ({ x, y, x2, y2, color, thickness, dash }: LineMark): ContentLine => ({
  x,
  y,
  x2,
  y2,
  width: thickness,
  color,
  isDashed: dash !== undefined,
});

/** A picture as far as it is seen. */
const pictureOf = ({ x, y, width, height, picture, alternative, window: seen }: PictureMark): ContentPart => {
  const content = { kind: 'picture' as const, picture, alternative };
  if (!seen) return { x, y, width, height, content };
  const crop = {
    left: seen.x / width,
    top: seen.y / height,
    right: (width - seen.x - seen.width) / width,
    bottom: (height - seen.y - seen.height) / height,
  };
  return { x: x + seen.x, y: y + seen.y, width: seen.width, height: seen.height, content: { ...content, crop } };
};

const covers = ({ x, y, width, height }: LinkMark, part: ContentPart): boolean => {
  const [middle, centre] = [part.x + part.width / 2, part.y + part.height / 2];
  return middle >= x - NEAR && middle <= x + width + NEAR && centre >= y - NEAR && centre <= y + height + NEAR;
};

const startsAt = ({ x, y }: AnchorMark | OutlineMark, part: ContentPart): boolean =>
  Math.abs(part.x - x) < NEAR && Math.abs(part.y - y) < NEAR;

/** What a laid-out block is made of, for documents that go on living. */
export const contentOf = (
  { height, marks, repeats = false }: Block,
  around: Pick<ContentBlock, 'depth' | 'keepNext'>,
): ContentBlock => {
  const block: ContentBlock = {
    kind: 'block',
    height,
    parts: [],
    fills: [],
    lines: [],
    bands: [],
    ...around,
    repeats,
    isCollapsed: false,
  };
  for (const mark of marks) add(mark, block);
  for (const mark of marks) {
    if (mark.kind === 'link') {
      for (const part of block.parts) if (covers(mark, part)) part.to ??= mark.to;
    } else if (mark.kind === 'anchor') {
      const named = block.parts.find((part) => startsAt(mark, part)) ?? block.parts[0];
      if (named) named.anchor ??= mark.name;
    } else if (mark.kind === 'outline') {
      const { level, title } = mark;
      const headed = block.parts.find((part) => startsAt(mark, part));
      if (headed) headed.heading = { level, title };
    }
  }
  return block;
};

const add = (mark: LaidMark, block: ContentBlock): void => {
  switch (mark.kind) {
    case 'piece': {
      const { x, y, width, height, piece, item } = mark;
      if (piece.kind === 'column') block.bands.push({ x, y, width, height, key: null });
      else block.parts.push({ x, y, width, height, content: piece, ...(item === undefined ? {} : { item }) });
      break;
    }
    case 'text': {
      const { x, y, width, size } = mark;
      block.parts.push({ x, y: y - size * 0.95, width, height: size * 1.22, content: asPiece(mark) });
      break;
    }
    case 'picture': {
      block.parts.push(pictureOf(mark));
      break;
    }
    case 'rectangle': {
      const { x, y, width, height, fill } = mark;
      block.fills.push({ x, y, width, height, ...(fill ? { fill } : {}), ...edgeOf(mark) });
      break;
    }
    case 'line':
      block.lines.push(lineOf(mark));
      break;
    case 'region': {
      const { x, y, width, height, band } = mark;
      block.bands.push({ x, y, width, height, key: band });
      break;
    }
    case 'fold':
      if (mark.isCollapsed) block.isCollapsed = true;
      break;
    case 'link':
    case 'anchor':
    case 'outline':
      // Said of the parts that they belong to.
      break;
    case 'figure':
    case 'shape':
    case 'path':
    case 'late':
    case 'slot':
      // Inside pieces, or of pages alone.
      break;
    default:
      mark satisfies never;
  }
};
