import type { PieceEdge, PieceMark, PieceSide, PieceSum, TextContent, TextRun } from '../../content/pieces.ts';
import { SIDES } from '../../definition/schema.ts';
import { type Checked, formulaKey, type PageValue, pageDependence } from '../../formula/checked.ts';
import type { EvaluationContext } from '../../formula/functions/context.ts';
import type { LaidMark } from '../../layout/block.ts';
import type { Box, LayingOut } from '../../layout/prepared.ts';
import { problem } from '../../problems/problem.ts';
import type { FontBook } from '../../text/fonts.ts';
import { hashOf } from '../../value/hash.ts';
import type { PreparedText, PreparedValue } from './prepared.ts';
import { type Said, sayValue } from './say.ts';
import { boxIn, heightIn, titleOf } from './set.ts';
import { sumOf } from './sums.ts';

type Typed = Pick<TextContent, 'value' | 'format' | 'source' | 'total' | 'sum'>;

/** A stretch of text with what a document makes of it. */
interface LivingText {
  said: Said;
  run: TextRun;
}

/** Adds a text as a piece of a document that goes on living; gives the height that it takes. */
export const layLiving = (item: PreparedText, top: number, indent: number, out: LayingOut): number => {
  const { marks, book } = out;
  const { texts, typed } = livingOf(item, out);
  if (texts.length > 0 && (item.formulas > 0 || item.depends !== 'none')) out.hasContent = true;
  const box = boxIn(item, 0, indent);
  const said = texts.map((text) => text.said);
  const height = heightIn(item, said, box, book);
  const isFramed = item.background !== null || item.border !== null;
  if (texts.length === 0 && (!isFramed || height === 0)) return height;
  const runs = texts.map(({ run }) => run);
  marks.push(pieceMark(item, runs, typed, { ...box, y: top, height }));
  if (item.outline !== null && runs.length > 0)
    marks.push({ kind: 'outline', x: box.x, y: top, level: item.outline, title: titleOf(runs), item: item.id });
  return height;
};

/** As `setWords` does. `typed`: the value that the words show. */
export const setLivingWords = (
  item: PreparedText,
  words: string,
  typed: Pick<TextContent, 'value' | 'format'>,
  top: number,
  book: FontBook,
  marks: LaidMark[],
): number => {
  if (words === '') return item.box.height;
  const { style, box } = item;
  const height = heightIn(item, [{ text: words, style }], box, book);
  marks.push(pieceMark(item, [{ text: words, look: style.run }], typed, { ...box, y: top, height }));
  return height;
};

/** What a text says, and the value that it is where it is nothing else. */
const livingOf = (item: PreparedText, out: LayingOut): { texts: LivingText[]; typed: Typed } => {
  const { context, limits, tell } = out;
  const pieces = item.depends === 'none' ? item.pieces : item.parted();
  const texts: LivingText[] = [];
  let typed: Typed = {};
  let left = limits.maxText;
  for (const { content, style } of pieces) {
    const { run: look } = style;
    const formula = typeof content === 'string' ? null : content.formula;
    const field = formula && fieldOf(formula);
    if (field) texts.push({ said: { text: '0', style }, run: { text: '', look, field } });
    // What else is known on its page alone has no place in a document that has no pages yet.
    if (field || (formula && pageDependence(formula) !== 'none')) continue;
    let text = '';
    if (typeof content === 'string') text = content;
    else {
      const value = content.evaluate(context);
      text = sayValue(value, content, context);
      if (pieces.length === 1) typed = { value, ...typeOf(content, context) };
    }
    if (text.length > left) {
      text = `${text.slice(0, left)}…`;
      tell(problem('text-too-long', { item: item.id }, { limit: limits.maxText }, 'warning'));
    }
    left = Math.max(0, left - text.length);
    if (text !== '') texts.push({ said: { text, style }, run: { text, look } });
  }
  return { texts, typed };
};

/** Which number of a page a formula is, and nothing else. */
const fieldOf = (formula: Checked): TextRun['field'] | null => {
  if (formula.kind === 'text') return fieldOf(formula.value);
  return formula.kind === 'page' ? PAGE_FIELDS[formula.value] : null;
};

const PAGE_FIELDS: Readonly<Record<PageValue, TextRun['field'] | null>> = {
  number: 'page',
  partNumber: 'page',
  count: 'pages',
  partCount: 'partPages',
  room: null,
};

const typeOf = ({ format, formula, total }: PreparedValue, { report }: EvaluationContext): Omit<Typed, 'value'> => ({
  format,
  ...(formula ? sourcesOf(formula, report.name) : {}),
  ...(total ? { total: { name: total.name, of: sourceOf(total.of, report.name) } } : {}),
});

const sources = new WeakMap<Checked, string>();

/** Tells a formula of a report from all others. */
const sourceOf = (formula: Checked, report: string): string => {
  let source = sources.get(formula);
  if (source === undefined) {
    source = hashOf(`${report} ${formulaKey(formula)}`);
    sources.set(formula, source);
  }
  return source;
};

interface Sources {
  source: string;
  sum?: PieceSum;
}

const known = new WeakMap<Checked, Sources>();

/** From which formula a value comes, and how it is worked out. */
const sourcesOf = (formula: Checked, report: string): Sources => {
  let found = known.get(formula);
  if (!found) {
    const sum = sumOf(formula, (part) => sourceOf(part, report));
    found = { source: sourceOf(formula, report), ...(sum ? { sum } : {}) };
    known.set(formula, found);
  }
  return found;
};

const borderOf = (border: NonNullable<PreparedText['border']>): NonNullable<TextContent['border']> => {
  const edges: Partial<Record<PieceSide, PieceEdge>> = {};
  for (const side of SIDES) {
    const edge = border[side];
    if (edge) edges[side] = { width: edge.width, color: edge.color, isDashed: edge.dash !== null };
  }
  return edges;
};

const pieceMark = (item: PreparedText, runs: readonly TextRun[], typed: Typed, box: Box): PieceMark => ({
  kind: 'piece',
  ...box,
  item: item.id,
  piece: {
    kind: 'text',
    runs,
    ...typed,
    align: item.align,
    stands: item.stands,
    padding: item.padding,
    spacing: item.spacing,
    wraps: !item.shrinksType && item.turn === 0,
    turn: item.turn,
    ...(item.background ? { background: item.background } : {}),
    ...(item.border ? { border: borderOf(item.border) } : {}),
    ...(item.styleName ? { style: item.styleName } : {}),
    ...(item.outline === null ? {} : { as: 'heading' as const }),
  },
});
