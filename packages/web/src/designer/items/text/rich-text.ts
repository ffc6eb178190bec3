import type { ItemOf, Look, TextPiece } from '@gaveta/core/internal';

type Content = ItemOf<'text'>['content'];

/** What a stretch of words may have of its own. */
export type WordLook = Pick<Look, 'bold' | 'italic' | 'underline' | 'strike' | 'color' | 'size' | 'font'>;

const isEmpty = (look: WordLook): boolean => Object.keys(look).length === 0;

const hex = (color: string): string | undefined => {
  if (/^#[0-9a-f]{6}$/i.test(color)) return color.toLowerCase();
  const parts = /^rgba?\((\d+),\s*(\d+),\s*(\d+)/.exec(color);
  return parts
    ? `#${parts
        .slice(1, 4)
        .map((n) => Number(n).toString(16).padStart(2, '0'))
        .join('')}`
    : undefined;
};

/** What an element says about the words inside it. */
const lookOfElement = (element: HTMLElement): WordLook => {
  const look: WordLook = element.dataset.look ? (JSON.parse(element.dataset.look) as WordLook) : {};
  switch (element.tagName) {
    case 'B':
    case 'STRONG':
      look.bold = true;
      break;
    case 'I':
    case 'EM':
      look.italic = true;
      break;
    case 'U':
      look.underline = true;
      break;
    case 'S':
    case 'STRIKE':
      look.strike = true;
      break;
    case 'FONT': {
      const color = hex(element.getAttribute('color') ?? '');
      if (color) look.color = color;
      break;
    }
    default:
  }
  const { fontWeight, fontStyle, textDecorationLine, color } = element.style;
  if (element.dataset.look === undefined) {
    if (fontWeight) look.bold = fontWeight === 'bold' || Number(fontWeight) >= 600;
    if (fontStyle) look.italic = fontStyle === 'italic';
    if (textDecorationLine.includes('underline')) look.underline = true;
    const set = color && hex(color);
    if (set) look.color = set;
  }
  return look;
};

const sameLook = (a: WordLook | undefined, b: WordLook | undefined): boolean =>
  JSON.stringify(a ?? {}) === JSON.stringify(b ?? {});

/** Reads edited text back: words with what is said about them on the way down, and the formulas that chips carry. */
export const readContent = (root: HTMLElement): Content => {
  const content: Content = [];
  const words = (text: string, look: WordLook): void => {
    if (text === '') return;
    const last = content.at(-1);
    const own = isEmpty(look) ? undefined : look;
    if (typeof last === 'string' && !own) content[content.length - 1] = last + text;
    else if (last && typeof last !== 'string' && 'text' in last && own && sameLook(last.look, own)) last.text += text;
    else content.push(own ? { text, look: own } : text);
  };
  const visit = (node: Node, look: WordLook): void => {
    if (node.nodeType === Node.TEXT_NODE) {
      words((node.textContent ?? '').replace(/\u00a0/g, ' ').replace(/\u200b/g, ''), look);
      return;
    }
    if (!(node instanceof HTMLElement)) return;
    const inside = { ...look, ...lookOfElement(node) };
    if (node.dataset.formula !== undefined) {
      const { formula, format } = node.dataset;
      if (formula === '') return;
      content.push({ formula, ...(format ? { format } : {}), ...(isEmpty(inside) ? {} : { look: inside }) });
      return;
    }
    if (node.tagName === 'BR') {
      words('\n', look);
      return;
    }
    if ((node.tagName === 'DIV' || node.tagName === 'P') && content.length > 0) words('\n', look);
    for (const child of node.childNodes) visit(child, inside);
  };
  for (const child of root.childNodes) visit(child, {});
  // The browser keeps an empty line at the end of what is edited.
  const last = content.at(-1);
  if (last === '\n') content.pop();
  else if (typeof last === 'string' && last.endsWith('\n')) content[content.length - 1] = last.slice(0, -1);
  return content;
};

/** A formula inside text, which is deleted and typed around but not taken apart. */
export const chipFor = (piece: Extract<TextPiece, { formula: string }>, css: string): HTMLElement => {
  const chip = document.createElement('span');
  chip.dataset.formula = piece.formula;
  if (piece.format) chip.dataset.format = piece.format;
  if (piece.look) chip.dataset.look = JSON.stringify(piece.look);
  chip.contentEditable = 'false';
  chip.textContent = piece.formula;
  chip.className = 'rounded-sm bg-pine-soft px-0.5 text-chip';
  chip.style.cssText = css;
  return chip;
};

/** The text as it is edited. `css` draws a look. */
export const writeContent = (content: Content, css: (look: Look) => string): Node[] =>
  content.map((piece) => {
    if (typeof piece === 'string') return document.createTextNode(piece);
    if ('formula' in piece) return chipFor(piece, piece.look ? css(piece.look) : '');
    const span = document.createElement('span');
    if (piece.look) {
      span.dataset.look = JSON.stringify(piece.look);
      span.style.cssText = css(piece.look);
    }
    span.textContent = piece.text;
    return span;
  });
