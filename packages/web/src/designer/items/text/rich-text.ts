import { type ItemOf, type Look, lookSchema, type TextPiece } from '@gaveta/core/internal';
import {
  type DOMOutputSpec,
  Fragment,
  type Mark,
  type MarkSpec,
  type Node,
  type ParseRule,
  Schema,
} from 'prosemirror-model';

export type Content = ItemOf<'text'>['content'];
type LookKey = keyof Look;

/** What a stretch of words may have of its own. */
export type WordLook = Pick<Look, 'bold' | 'italic' | 'underline' | 'strike' | 'color' | 'size' | 'font'>;
/** Ways of writing that are on or off. */
export type Flag = 'bold' | 'italic' | 'underline' | 'strike';

const LOOK_KEYS = Object.keys(lookSchema.shape) as LookKey[];

/** How a setting is drawn while the text is edited. `--pt` is the size of a point there. */
const CSS: { readonly [K in LookKey]?: (value: NonNullable<Look[K]>) => string } = {
  bold: (on) => `font-weight:${on ? 700 : 400}`,
  italic: (on) => `font-style:${on ? 'italic' : 'normal'}`,
  underline: (on) => (on ? 'text-decoration:underline' : ''),
  strike: (on) => (on ? 'text-decoration:line-through' : ''),
  color: (color) => `color:${color}`,
  background: (color) => `background:${color}`,
  size: (points) => `font-size:calc(var(--pt) * ${points})`,
  font: (name) => `font-family:'${name.replace(/[^\p{L}\p{N} -]/gu, '')}'`,
};

/** What other applications call the ways of writing, in what they put on the clipboard. */
const FOREIGN: Readonly<Record<Flag, readonly ParseRule[]>> = {
  bold: [
    { tag: 'b', getAttrs: (element) => element.style.fontWeight !== 'normal' && { value: true } },
    { tag: 'strong', attrs: { value: true } },
    { style: 'font-weight', getAttrs: (weight) => /^(bold|bolder|[6-9]00)$/.test(weight) && { value: true } },
  ],
  italic: [
    { tag: 'i', attrs: { value: true } },
    { tag: 'em', attrs: { value: true } },
    { style: 'font-style=italic', attrs: { value: true } },
  ],
  underline: [
    { tag: 'u', attrs: { value: true } },
    { style: 'text-decoration=underline', attrs: { value: true } },
    { style: 'text-decoration-line=underline', attrs: { value: true } },
  ],
  strike: [
    { tag: 's, strike, del', attrs: { value: true } },
    { style: 'text-decoration=line-through', attrs: { value: true } },
    { style: 'text-decoration-line=line-through', attrs: { value: true } },
  ],
};

/** The value that markup on the clipboard gives a setting; false when it gives none that may be. */
const givenValue = (key: LookKey, json: string | null): { value: unknown } | false => {
  try {
    const read = lookSchema.shape[key].safeParse((JSON.parse(json ?? '') as Look)[key]);
    return read.success && read.data !== undefined && { value: read.data };
  } catch {
    return false;
  }
};

/** One setting of a look. Words can have each once. */
const markOf = (key: LookKey): MarkSpec => ({
  attrs: { value: {} },
  toDOM: ({ attrs: { value } }): DOMOutputSpec => [
    'span',
    {
      'data-look': JSON.stringify({ [key]: value }),
      style: (CSS[key] as ((value: unknown) => string) | undefined)?.(value) ?? '',
    },
  ],
  parseDOM: [
    {
      tag: 'span[data-look]',
      consuming: false,
      getAttrs: (element) => givenValue(key, element.getAttribute('data-look')),
    },
    ...(Object.hasOwn(FOREIGN, key) ? FOREIGN[key as Flag] : []),
  ],
});

/** Text as it is edited: words, line breaks, and formulas, which are deleted and typed around but not taken apart. */
export const textSchema = new Schema({
  nodes: {
    doc: { content: 'inline*' },
    text: { group: 'inline' },
    break: {
      group: 'inline',
      inline: true,
      selectable: false,
      linebreakReplacement: true,
      leafText: () => '\n',
      toDOM: () => ['br'],
      parseDOM: [{ tag: 'br' }],
    },
    formula: {
      group: 'inline',
      inline: true,
      atom: true,
      attrs: { formula: {}, format: { default: null } },
      leafText: ({ attrs }) => String(attrs.formula),
      toDOM: ({ attrs: { formula, format } }) => [
        'span',
        {
          'data-formula': formula,
          ...(format ? { 'data-format': format } : {}),
          class: 'rounded-sm bg-pine-soft px-0.5 text-chip',
        },
        formula || '…',
      ],
      parseDOM: [
        {
          tag: 'span[data-formula]',
          getAttrs: ({ dataset: { formula = '', format } }) =>
            formula.length > 0 && formula.length <= 4000 && { formula, format: format?.slice(0, 200) || null },
        },
      ],
    },
  },
  marks: Object.fromEntries(LOOK_KEYS.map((key) => [key, markOf(key)])) as Record<LookKey, MarkSpec>,
});

export const marksOf = (look: Look | undefined): Mark[] =>
  Object.entries(look ?? {}).map(([key, value]) => textSchema.marks[key as LookKey].create({ value }));

const lookOfMarks = (marks: readonly Mark[]): Look =>
  Object.fromEntries(marks.map((mark) => [mark.type.name, mark.attrs.value as unknown]));

/** Words with their lines broken where they have one, in a look of their own. */
export const nodesOf = (words: string, marks: readonly Mark[] = []): Node[] =>
  words
    .split(/\r\n?|\n/)
    .flatMap((line, i) => [
      ...(i > 0 ? [textSchema.nodes.break.create(null, null, marks)] : []),
      ...(line === '' ? [] : [textSchema.text(line, marks)]),
    ]);

export const formulaNode = (formula: string, format: string | null, marks: readonly Mark[]): Node =>
  textSchema.nodes.formula.create({ formula, format }, null, marks);

const nodesOfPiece = (piece: TextPiece): Node[] => {
  if (typeof piece === 'string') return nodesOf(piece);
  if ('formula' in piece) return [formulaNode(piece.formula, piece.format ?? null, marksOf(piece.look))];
  return nodesOf(piece.text, marksOf(piece.look));
};

/** The text of an item as a document that is edited. */
export const docOf = (content: Content): Node =>
  textSchema.nodes.doc.create(null, Fragment.from(content.flatMap(nodesOfPiece)));

/** The text of an item again. A formula that was never written is left out. */
export const contentOf = (doc: Node): Content => {
  const content: Content = [];
  let last: { words: string; marks: readonly Mark[] } | null = null;
  const flush = (): void => {
    if (last) content.push(last.marks.length > 0 ? { text: last.words, look: lookOfMarks(last.marks) } : last.words);
    last = null;
  };
  doc.forEach((node) => {
    if (node.type === textSchema.nodes.formula) {
      const { formula, format } = node.attrs as { formula: string; format: string | null };
      if (formula === '') return;
      flush();
      const look = node.marks.length > 0 ? { look: lookOfMarks(node.marks) } : {};
      content.push({ formula, ...(format ? { format } : {}), ...look });
      return;
    }
    const words = node.isText ? node.text! : '\n';
    if (last && sameMarks(last.marks, node.marks)) last.words += words;
    else {
      flush();
      last = { words, marks: node.marks };
    }
  });
  flush();
  return content;
};

const sameMarks = (a: readonly Mark[], b: readonly Mark[]): boolean =>
  a.length === b.length && a.every((mark, i) => mark.eq(b[i]!));
