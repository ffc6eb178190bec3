import type { Writable } from 'node:stream';
import { type OutlineMark, type Page, pageToSvg } from '@gaveta/core/internal';
import type { PagesRun } from '../output.ts';
import { PagePictures } from '../page-pictures.ts';
import { wholePages } from '../pages.ts';
import { TextSink } from '../text-sink.ts';
import { escapeAttribute, escapeXml } from '../xml/escape.ts';
import { anchorId } from './anchors.ts';
import type { PagedOptions } from './options.ts';
import { UsedFonts } from './web-fonts.ts';

const STYLE = `*{box-sizing:border-box}
body{margin:0;background:#ece6d8;color:#1f2a2e;font:13px/1.5 "Source Sans 3",system-ui,sans-serif;display:flex;align-items:flex-start}
main{flex:1;min-width:0;padding:18px;order:1}
section{position:relative;margin:0 auto 18px;background:#fff;max-width:100%;box-shadow:0 1px 0 #cfc6b1,0 8px 24px #5a4d2c1f}
section>svg{display:block;width:100%;height:auto}
section>a{position:absolute;left:0}
nav{position:sticky;top:0;max-height:100vh;overflow:auto;width:240px;flex:none;padding:18px 6px 18px 18px;order:0}
nav ol{list-style:none;margin:0;padding:0}
nav a{display:flex;gap:8px;padding:2px 6px;border-radius:4px;color:inherit;text-decoration:none}
nav a:hover{background:#dcebe3}
nav span{flex:1;min-width:0;overflow:hidden;text-overflow:ellipsis;white-space:nowrap}
@media(max-width:800px){body{display:block}nav{position:static;width:auto;max-height:none}main{padding:8px}}
@media print{body{display:block;background:#fff}nav{display:none}main{padding:0}section{margin:0;box-shadow:none;max-width:none;break-after:page}section:last-of-type{break-after:auto}}
`;

/** What only the viewer can follow leads nowhere in a file; places in the report lead there. */
const linked = (svg: string): string =>
  svg.replace(/<a href="#" data-link="([^"]*)">/g, (_, written: string) => {
    const to = JSON.parse(
      written.replaceAll('&quot;', '"').replaceAll('&lt;', '<').replaceAll('&gt;', '>').replaceAll('&amp;', '&'),
    ) as {
      anchor?: string;
    };
    return to.anchor === undefined ? '<a>' : `<a href="#${escapeAttribute(anchorId(to.anchor))}">`;
  });

interface Heading extends Pick<OutlineMark, 'level' | 'title'> {
  id: string;
  page: number;
}

/** What an HTML file shows of one page: nothing in it can be opened, closed or pressed. */
const shown = (page: Page): Page => ({
  ...page,
  marks: page.marks.filter(({ kind }) => kind !== 'fold' && kind !== 'region'),
});

/** Pages in one HTML file, with their fonts and pictures, links and outline; it prints to the same pages. */
export const writePaged = async (run: PagesRun<PagedOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const { title, language, book, options } = run;
  const pictures = new PagePictures(run.pictures);
  const fonts = new UsedFonts();
  const text = new TextSink(sink, signal);
  const headings: Heading[] = [];
  const papers = new Map<string, string>();
  await text.write(
    `<!doctype html>\n<html lang="${escapeAttribute(language)}"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>${escapeXml(title)}</title><style>${STYLE}</style></head><body><main>\n`,
  );
  for await (const page of wholePages(run, options, signal)) {
    fonts.add(page);
    const paper = `${page.width}pt ${page.height}pt`;
    const name = papers.get(paper) ?? `p${papers.size}`;
    papers.set(paper, name);
    const places: string[] = [];
    for (const mark of page.marks) {
      const top = (y: number): string => `${((y / page.height) * 100).toFixed(3)}%`;
      if (mark.kind === 'anchor')
        places.push(`<a id="${escapeAttribute(anchorId(mark.name))}" style="top:${top(mark.y)}"></a>`);
      if (mark.kind !== 'outline') continue;
      const id = `h-${headings.length + 1}`;
      headings.push({ level: mark.level, title: mark.title, id, page: page.number });
      places.push(`<a id="${id}" style="top:${top(mark.y)}"></a>`);
    }
    const svg = linked(pageToSvg(shown(page), await pictures.of(page)));
    await text.write(
      `<section style="page:${name};width:${page.width}pt" aria-label="${page.number}">${svg}${places.join('')}</section>\n`,
    );
  }
  await text.write('</main>\n');
  if (options.outline && headings.length > 0) await text.write(outlineOf(headings));
  await text.write('<style>');
  for (const [paper, name] of papers) await text.write(`@page ${name}{size:${paper};margin:0}`);
  for await (const rule of fonts.rules(book)) await text.write(rule);
  await text.write('</style></body></html>\n');
  await text.end();
};

const outlineOf = (headings: readonly Heading[]): string =>
  `<nav><ol>${headings
    .map(
      ({ level, title, id, page }) =>
        `<li style="padding-left:${(level - 1) * 12}px"><a href="#${id}"><span>${escapeXml(title)}</span>${page}</a></li>`,
    )
    .join('')}</ol></nav>\n`;
