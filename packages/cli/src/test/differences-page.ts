import { createWriteStream } from 'node:fs';
import { rename } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import {
  type Difference,
  type FontBook,
  type Mark,
  type Page,
  pageToSvg,
  type RectangleMark,
} from '@gaveta/core/internal';
import { PagePictures } from '@gaveta/output/page-pictures';
import { withShapes } from '@gaveta/output/page-shapes';
import { differenceText } from './differences.ts';

/** Of one case, for the page that shows what differs. */
export interface ShownCase {
  id: string;
  /** What fails whatever is kept, and totals that differ, in words. */
  said: readonly string[];
  differences: readonly Difference[];
  before: readonly Page[];
  now: readonly Page[];
  pictures: ReadonlyMap<string, Uint8Array>;
}

/** Pages of a case that are drawn; of the others it is said that they differ. */
const MOST_PAGES = 30;

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign]!);

const KEPT = '#b3402e';
const NOW = '#1f5c4d';

/** A frame around what differs. */
const frame = (mark: Mark, stroke: string): RectangleMark => {
  const isText = mark.kind === 'text';
  const height = isText ? mark.size * 1.3 : 'height' in mark ? mark.height : 'y2' in mark ? mark.y2 - mark.y : 0;
  const width = 'width' in mark ? mark.width : 'x2' in mark ? mark.x2 - mark.x : 0;
  const y = isText ? mark.y - mark.size : mark.y;
  return { kind: 'rectangle', x: mark.x - 2, y: y - 2, width: width + 4, height: height + 4, stroke };
};

const framesOf = (differences: readonly Difference[], side: 'was' | 'is', color: string): RectangleMark[] =>
  differences.flatMap((one) => {
    const marks = (one as { was?: Mark | Mark[]; is?: Mark | Mark[] })[side];
    return marks === undefined || typeof marks === 'string' ? [] : [marks].flat().map((mark) => frame(mark, color));
  });

const HEAD = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>Differences from the accepted pages</title>
<style>
body{margin:0;padding:24px;background:#ece6d8;color:#1f2a2e;font:14px/1.45 system-ui,sans-serif}
h1{font-size:20px;margin:0 0 4px}h2{font-size:16px;margin:32px 0 8px}h3{font-size:13px;margin:16px 0 6px}
ul{margin:0 0 12px;padding-left:20px}nav a{color:#1f5c4d;margin-right:16px}
.pair{display:grid;grid-template-columns:1fr 1fr;gap:16px}.pair figure{margin:0}figcaption{color:#55605f;margin-bottom:4px}
svg{width:100%;height:auto;display:block;border:1px solid #d3cab5}
.none{border:1px dashed #b9ae95;padding:32px;text-align:center;color:#55605f}
@media (max-width:700px){.pair{grid-template-columns:1fr}}
</style></head><body>
`;

/** What pages of a case are drawn with. */
interface Drawing {
  book: FontBook;
  pictures: PagePictures;
}

const drawn = async (page: Page | undefined, frames: RectangleMark[], { book, pictures }: Drawing): Promise<string> => {
  if (!page) return '<div class="none">There is no such page.</div>';
  const shapes = withShapes({ ...page, marks: page.marks.filter(({ kind }) => kind !== 'link') }, book);
  return pageToSvg({ ...shapes, marks: [...shapes.marks, ...frames] }, await pictures.of(page));
};

const pair = async (number: number, one: ShownCase, drawing: Drawing): Promise<string> => {
  const differences = one.differences.filter(({ page }) => page === number);
  const page = (pages: readonly Page[]): Page | undefined => pages.find((found) => found.number === number);
  return `<h3>Page ${number}</h3><ul>${differences.map((found) => `<li>${escaped(differenceText(found))}</li>`).join('')}</ul>
<div class="pair">
<figure><figcaption>Accepted</figcaption>${await drawn(page(one.before), framesOf(differences, 'was', KEPT), drawing)}</figure>
<figure><figcaption>Now</figcaption>${await drawn(page(one.now), framesOf(differences, 'is', NOW), drawing)}</figure>
</div>
`;
};

/** Writes one HTML file that shows the cases that differ, with their pages side by side; it needs no other file. */
export const writeDifferences = async (file: string, cases: readonly ShownCase[], book: FontBook): Promise<void> => {
  const part = `${file}.part`;
  await pipeline(Readable.from(htmlOf(cases, book)), createWriteStream(part));
  await rename(part, file);
};

async function* htmlOf(cases: readonly ShownCase[], book: FontBook): AsyncGenerator<string> {
  yield HEAD;
  yield `<h1>Differences from the accepted pages</h1>
<p>${cases.length === 1 ? '1 case' : `${cases.length} cases`}. If they are intended, accept them: <code>gaveta test --accept</code>.</p>
<nav>${cases.map(({ id }) => `<a href="#${encodeURIComponent(id)}">${escaped(id)}</a>`).join('')}</nav>
`;
  for (const one of cases) {
    const drawing = { book, pictures: new PagePictures(async (hash) => one.pictures.get(hash) ?? null) };
    yield `<h2 id="${encodeURIComponent(one.id)}">${escaped(one.id)}</h2>`;
    if (one.said.length > 0) yield `<ul>${one.said.map((said) => `<li>${escaped(said)}</li>`).join('')}</ul>\n`;
    const numbers = [...new Set(one.differences.map(({ page }) => page))].sort((a, b) => a - b);
    for (const number of numbers.slice(0, MOST_PAGES)) yield await pair(number, one, drawing);
    const rest = numbers.length - MOST_PAGES;
    if (rest > 0) yield `<p>${rest === 1 ? 'One more page differs' : `${rest} more pages differ`}.</p>\n`;
  }
  yield '</body></html>\n';
}
