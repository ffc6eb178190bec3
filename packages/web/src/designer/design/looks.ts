import { DEFAULT_LOOK, type Item, isWords, type Look, type Style, styleLook } from '@gaveta/core/internal';
import type { CSSProperties } from 'react';

const MM_PER_POINT = 25.4 / 72;

/** How many CSS pixels a point has, where a millimetre has `scale`. */
export const pixelsPerPoint = (scale: number): number => MM_PER_POINT * scale;

export const lookOf = (styles: Readonly<Record<string, Style>>, item: Item): Look =>
  isWords(item) ? { ...styleLook(styles, item.style), ...item.look } : {};

const STANDS = { top: 'flex-start', middle: 'center', bottom: 'flex-end' } as const;

/** Type on the board is never smaller, so that it can be read where the whole page is shown; in CSS pixels. */
const LEAST_TYPE = 9.5;

/** Size of the type on the board, in CSS pixels, and the height of a line as a multiple of it. */
const typeOf = (look: Look, scale: number): { size: number; line: number } => {
  const size = (look.size ?? DEFAULT_LOOK.size) * pixelsPerPoint(scale);
  const spacing = look.spacing ?? DEFAULT_LOOK.spacing;
  // What is drawn larger than it is has less room between its lines.
  return { size: Math.max(LEAST_TYPE, size), line: size < LEAST_TYPE ? Math.min(spacing, 1.1) : spacing };
};

/** Width of a character as a share of its size: rather too much than too little. */
const widthOf = (character: string): number => (character > '\u024f' ? 1.1 : 0.65);

/** What may stand out below its box and still not touch what is below, in CSS pixels. */
const SLACK = 3;

/**
 * Whether words surely have room in their item's box. Others are cut off; not all are, as each box that cuts something off costs
 * the browser time at every frame: 2 ms for a board of 300 items.
 */
export const hasRoom = (item: Item, words: string, look: Look, scale: number): boolean => {
  const { padding = 0, border } = look;
  if (border || item.share?.width !== undefined || typeof padding !== 'number') return false;
  const { size, line } = typeOf(look, scale);
  const lines = words.split('\n');
  const widest = Math.max(...lines.map((text) => [...text].reduce((sum, c) => sum + widthOf(c), 0)));
  return (
    widest * size <= (item.width - 2 * padding) * scale &&
    lines.length * size * line <= (item.height - 2 * padding) * scale + SLACK
  );
};

export const textLook = (look: Look, scale: number): CSSProperties => {
  const { size, line } = typeOf(look, scale);
  return {
    fontFamily: `'${look.font ?? 'Source Sans 3'}'`,
    fontSize: size,
    fontWeight: look.bold ? 700 : 400,
    fontStyle: look.italic ? 'italic' : 'normal',
    textDecoration:
      [look.underline && 'underline', look.strike && 'line-through'].filter(Boolean).join(' ') || undefined,
    opacity: look.opacity,
    color: look.color ?? DEFAULT_LOOK.color,
    background: look.background,
    textAlign: look.align ?? DEFAULT_LOOK.align,
    lineHeight: line,
  };
};

/** Background, border and padding of a text's box. */
export const frameLook = (look: Look, scale: number): CSSProperties => {
  const { padding = 0, border = {} } = look;
  const side = (name: 'top' | 'right' | 'bottom' | 'left'): string =>
    `${(typeof padding === 'number' ? padding : (padding[name] ?? 0)) * scale}px`;
  const edge = (name: 'top' | 'right' | 'bottom' | 'left'): string | undefined => {
    const e = border[name];
    return e && e.width > 0
      ? `${Math.max(1, e.width * scale)}px ${e.dash ?? 'solid'} ${e.color ?? DEFAULT_LOOK.color}`
      : undefined;
  };
  return {
    padding: `${side('top')} ${side('right')} ${side('bottom')} ${side('left')}`,
    borderTop: edge('top'),
    borderRight: edge('right'),
    borderBottom: edge('bottom'),
    borderLeft: edge('left'),
    borderRadius: look.radius ? look.radius * scale : undefined,
    display: 'flex',
    flexDirection: 'column',
    justifyContent: STANDS[look.stands ?? DEFAULT_LOOK.stands],
  };
};
