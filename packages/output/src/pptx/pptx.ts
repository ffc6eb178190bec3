import type { Writable } from 'node:stream';
import type { Page } from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { Media } from '../office/media.ts';
import { HEAD, Relations } from '../office/relations.ts';
import type { PagesRun } from '../output.ts';
import { wholePages } from '../pages.ts';
import { escapeAttribute, escapeXml } from '../xml/escape.ts';
import { emu } from './look.ts';
import type { PptxOptions } from './options.ts';
import { regrouped } from './regroup.ts';
import { NAMES, Slides } from './slide.ts';

const TYPE = 'application/vnd.openxmlformats-officedocument.presentationml';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

/** Sides that slides may have, in points (ECMA-376 part 1, 19.7.10 ST_SlideSizeCoordinate). */
const SIDE = { least: 72, most: 4032 } as const;

const TREE =
  '<p:cSld><p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/></p:spTree></p:cSld>';

const MASTER = `${HEAD}<p:sldMaster ${NAMES}>${TREE}<p:clrMap bg1="lt1" tx1="dk1" bg2="lt2" tx2="dk2" accent1="accent1" accent2="accent2" accent3="accent3" accent4="accent4" accent5="accent5" accent6="accent6" hlink="hlink" folHlink="folHlink"/><p:sldLayoutIdLst><p:sldLayoutId id="2147483649" r:id="rId1"/></p:sldLayoutIdLst></p:sldMaster>`;

const LAYOUT = `${HEAD}<p:sldLayout ${NAMES} type="blank" preserve="1">${TREE}<p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sldLayout>`;

const COLORS = {
  dk1: '1F2A2E',
  lt1: 'FFFFFF',
  dk2: '55605F',
  lt2: 'FBF8F1',
  accent1: '1F5C4D',
  accent2: 'B98524',
  accent3: 'B3402E',
  accent4: '3F6F8F',
  accent5: '7A6A4F',
  accent6: '8A9A8F',
  hlink: '1F5C4D',
  folHlink: '55605F',
};

const themeXml = (font: string): string => {
  const colors = Object.entries(COLORS).map(([name, color]) => `<a:${name}><a:srgbClr val="${color}"/></a:${name}>`);
  const fonts = (kind: 'major' | 'minor'): string =>
    `<a:${kind}Font><a:latin typeface="${escapeAttribute(font)}"/><a:ea typeface=""/><a:cs typeface=""/></a:${kind}Font>`;
  const fill = '<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>';
  const line = `<a:ln w="9525">${fill}</a:ln>`;
  const effect = '<a:effectStyle><a:effectLst/></a:effectStyle>';
  const three = (one: string): string => one.repeat(3);
  return `${HEAD}<a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" name="Report"><a:themeElements><a:clrScheme name="Report">${colors.join('')}</a:clrScheme><a:fontScheme name="Report">${fonts('major')}${fonts('minor')}</a:fontScheme><a:fmtScheme name="Report"><a:fillStyleLst>${three(fill)}</a:fillStyleLst><a:lnStyleLst>${three(line)}</a:lnStyleLst><a:effectStyleLst>${three(effect)}</a:effectStyleLst><a:bgFillStyleLst>${three(fill)}</a:bgFillStyleLst></a:fmtScheme></a:themeElements></a:theme>`;
};

const coreXml = (title: string, author: string | undefined, language: string): string =>
  `${HEAD}<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>${escapeXml(title)}</dc:title>${author ? `<dc:creator>${escapeXml(author)}</dc:creator>` : ''}<dc:language>${escapeAttribute(language)}</dc:language></cp:coreProperties>`;

const typesXml = (slides: number): string => {
  const kinds = [
    ['rels', 'application/vnd.openxmlformats-package.relationships+xml'],
    ['xml', 'application/xml'],
    ['png', 'image/png'],
    ['jpeg', 'image/jpeg'],
    ['svg', 'image/svg+xml'],
  ];
  const part = (name: string, type: string): string => `<Override PartName="/ppt/${name}" ContentType="${type}"/>`;
  const parts = [
    part('presentation.xml', `${TYPE}.presentation.main+xml`),
    part('slideMasters/slideMaster1.xml', `${TYPE}.slideMaster+xml`),
    part('slideLayouts/slideLayout1.xml', `${TYPE}.slideLayout+xml`),
    part('theme/theme1.xml', 'application/vnd.openxmlformats-officedocument.theme+xml'),
    ...Array.from({ length: slides }, (_, i) => part(`slides/slide${i + 1}.xml`, `${TYPE}.slide+xml`)),
  ];
  const defaults = kinds.map(([extension, type]) => `<Default Extension="${extension}" ContentType="${type}"/>`);
  return `${HEAD}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">${defaults.join('')}${parts.join('')}<Override PartName="/docProps/core.xml" ContentType="application/vnd.openxmlformats-package.core-properties+xml"/></Types>`;
};

/** Pages as slides of a presentation, each written when it comes. */
export const writePptx = async (run: PagesRun<PptxOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const { title, language, book, pictures, options } = run;
  const archive = new Archive(sink);
  const slides = new Slides(new Media(archive, 'ppt/media', pictures, book), language, options.tables);
  const relations = new Relations();
  relations.id('slideMaster', 'slideMasters/slideMaster1.xml');
  relations.id('theme', 'theme/theme1.xml');
  let size: Pick<Page, 'width' | 'height'> = { width: 960, height: 540 };
  let ids = '';
  let count = 0;
  const pages = wholePages(run, options, signal);
  for await (const page of options.slides === 'groups' ? regrouped(pages) : pages) {
    signal.throwIfAborted();
    if (++count === 1) size = page;
    const name = `slide${count}.xml`;
    const { xml, relations: own } = await slides.of(page, size);
    own.id('slideLayout', '../slideLayouts/slideLayout1.xml');
    await archive.add(`ppt/slides/${name}`, xml);
    await archive.add(`ppt/slides/_rels/${name}.rels`, own.xml());
    ids += `<p:sldId id="${255 + count}" r:id="${relations.id('slide', `slides/${name}`)}"/>`;
  }
  const side = (points: number): number => emu(Math.min(SIDE.most, Math.max(SIDE.least, points)));
  await archive.add(
    'ppt/presentation.xml',
    `${HEAD}<p:presentation ${NAMES}><p:sldMasterIdLst><p:sldMasterId id="2147483648" r:id="rId1"/></p:sldMasterIdLst><p:sldIdLst>${ids}</p:sldIdLst><p:sldSz cx="${side(size.width)}" cy="${side(size.height)}"/><p:notesSz cx="6858000" cy="9144000"/></p:presentation>`,
  );
  await archive.add('ppt/_rels/presentation.xml.rels', relations.xml());
  const master = new Relations();
  master.id('slideLayout', '../slideLayouts/slideLayout1.xml');
  master.id('theme', '../theme/theme1.xml');
  await archive.add('ppt/slideMasters/slideMaster1.xml', MASTER);
  await archive.add('ppt/slideMasters/_rels/slideMaster1.xml.rels', master.xml());
  const layout = new Relations();
  layout.id('slideMaster', '../slideMasters/slideMaster1.xml');
  await archive.add('ppt/slideLayouts/slideLayout1.xml', LAYOUT);
  await archive.add('ppt/slideLayouts/_rels/slideLayout1.xml.rels', layout.xml());
  await archive.add('ppt/theme/theme1.xml', themeXml(book.byKey('').file.family));
  await archive.add('docProps/core.xml', coreXml(title, options.author || run.author, language));
  await archive.add(
    '_rels/.rels',
    `${HEAD}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${OFFICE}/officeDocument" Target="ppt/presentation.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties" Target="docProps/core.xml"/></Relationships>`,
  );
  await archive.add('[Content_Types].xml', typesXml(count));
  await archive.end();
};
