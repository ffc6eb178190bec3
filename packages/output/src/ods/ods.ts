import type { Writable } from 'node:stream';
import { type ContentSection, DEFAULT_LOOK } from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { Bookmarks } from '../document/text.ts';
import { words } from '../odt/body.ts';
import { manifestXml, metaXml, OASIS, pageLayoutXml } from '../odt/package.ts';
import { attributes, OwnStyles, textProperties } from '../odt/styles.ts';
import type { ContentRun } from '../output.ts';
import { PartText } from '../part-text.ts';
import { MOST_ROWS } from '../sheet/limits.ts';
import { collecting, rowsOfSheet } from '../sheet/open.ts';
import { SheetNames } from '../xlsx/text.ts';
import { NumberStyles } from './number-styles.ts';
import type { OdsOptions } from './options.ts';
import { OdsSheet, shapesXml, type Workbook } from './sheet.ts';

const HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n';
const NAMES = `xmlns:office="${OASIS}:office:1.0" xmlns:style="${OASIS}:style:1.0" xmlns:text="${OASIS}:text:1.0" xmlns:table="${OASIS}:table:1.0" xmlns:draw="${OASIS}:drawing:1.0" xmlns:fo="${OASIS}:xsl-fo-compatible:1.0" xmlns:svg="${OASIS}:svg-compatible:1.0" xmlns:number="${OASIS}:datastyle:1.0" xmlns:of="${OASIS}:of:1.2" xmlns:xlink="http://www.w3.org/1999/xlink" office:version="1.3"`;
const MIME = 'application/vnd.oasis.opendocument.spreadsheet';

/** The paper of sheets, with the texts of its bands at the left, in the middle and at the right. */
const pagesXml = (sections: readonly ContentSection[]): { layouts: string; masters: string } => {
  const more = { 'style:scale-to-X': '1', 'style:scale-to-Y': '0' };
  const layouts = sections.map((section, i) => {
    const has = { header: section.header !== null, footer: section.footer !== null };
    return pageLayoutXml(`L${i + 1}`, section, has, { more });
  });
  const masters = sections.map((section, i) => {
    const band = (name: 'header' | 'footer'): string => {
      const block = section[name];
      if (!block) return `<style:${name} style:display="false"/>`;
      const room = section.width - section.margins.left - section.margins.right;
      const places: Record<'left' | 'center' | 'right', string[]> = { left: [], center: [], right: [] };
      for (const { content, x, width } of block.parts) {
        if (content.kind !== 'text') continue;
        const said = content.runs.map(({ text, field }) =>
          field === 'page'
            ? '<text:page-number>1</text:page-number>'
            : field
              ? '<text:page-count>1</text:page-count>'
              : words(text),
        );
        const isRight = content.align === 'right' || x + width / 2 > room * 0.6;
        places[content.align === 'center' ? 'center' : isRight ? 'right' : 'left'].push(said.join(''));
      }
      const regions = (['left', 'center', 'right'] as const).map(
        (place) => `<style:region-${place}><text:p>${places[place].join(' ')}</text:p></style:region-${place}>`,
      );
      return `<style:${name}>${regions.join('')}</style:${name}>`;
    };
    return `<style:master-page style:name="Page${i + 1}" style:page-layout-name="L${i + 1}">${band('header')}${band('footer')}</style:master-page>`;
  });
  return { layouts: layouts.join(''), masters: masters.join('') };
};

/** The places that links lead to, by their names. */
const placesXml = ({ places }: Workbook): string => {
  if (places.size === 0) return '';
  const named = [...places].map(
    ([name, at]) =>
      `<table:named-range${attributes({ 'table:name': name, 'table:base-cell-address': at, 'table:cell-range-address': at })}/>`,
  );
  return `<table:named-expressions>${named.join('')}</table:named-expressions>`;
};

/** A report as a spreadsheet of OpenDocument that looks like it. */
export const writeOds = async (run: ContentRun<OdsOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const { options, book, title, timeZone } = run;
  const archive = new Archive(sink);
  const { collector, pictured } = collecting(run, archive, 'Pictures');
  const text = await PartText.open();
  try {
    await archive.add('mimetype', MIME, { stored: true });
    await run.content((event) => collector.take(event));
    await collector.end();
    const styles = new OwnStyles();
    const workbook: Workbook = {
      styles,
      numbers: new NumberStyles(),
      fonts: collector.fonts,
      timeZone,
      bookmarks: new Bookmarks(),
      places: new Map(),
    };
    const names = new SheetNames();
    const sections = [...new Set(collector.sheets.map(({ section }) => section))];
    const sheets: OdsSheet[] = [];
    const shapes: string[] = [];
    await text.write(`${HEAD}<office:document-content ${NAMES}>`);
    await text.leaveRoom();
    await text.write('<office:body><office:spreadsheet>');
    for (const waiting of collector.sheets) {
      const rows = rowsOfSheet(waiting, collector, options);
      const master = `Page${sections.indexOf(waiting.section) + 1}`;
      const style = styles.name(
        'table',
        '<style:table-properties table:display="true"/>',
        ` style:master-page-name="${master}"`,
      );
      const open = async (offset: number): Promise<OdsSheet> => {
        const opened = new OdsSheet(names.name(waiting.name ?? title), rows.columns, workbook, text, offset);
        sheets.push(opened);
        await opened.begin(style);
        return opened;
      };
      let sheet = await open(0);
      const first = sheets.length - 1;
      for await (const row of rows.rows()) {
        signal.throwIfAborted();
        if (row.number - sheet.offset >= MOST_ROWS) {
          await sheet.end();
          sheet = await open(row.number);
        }
        const told = sheet.row(row);
        if (told) await told;
      }
      await sheet.end();
      // Those of a sheet that goes on in others stand on the first.
      const placed = rows.pictures.map((one) => ({ ...one, ...pictured[one.part]! }));
      for (let i = first; i < sheets.length; i++) shapes.push(i === first ? shapesXml(placed, rows.columns) : '');
    }
    await text.write(`${placesXml(workbook)}</office:spreadsheet></office:body></office:document-content>`);
    const own = `<office:automatic-styles>${workbook.numbers.xml()}${styles.xml()}</office:automatic-styles>`;
    await text.into(archive, 'content.xml', [own, ...shapes], signal);
    const { size, color } = DEFAULT_LOOK;
    const normal = {
      family: book.families[0]!,
      size,
      bold: false,
      italic: false,
      underline: false,
      strike: false,
      color,
    };
    const { layouts, masters } = pagesXml(sections);
    await archive.add(
      'styles.xml',
      `${HEAD}<office:document-styles ${NAMES}><office:styles><style:default-style style:family="table-cell">${textProperties(normal)}</style:default-style></office:styles><office:automatic-styles>${layouts}</office:automatic-styles><office:master-styles>${masters}</office:master-styles></office:document-styles>`,
    );
    await archive.add(
      'settings.xml',
      `${HEAD}<office:document-settings xmlns:office="${OASIS}:office:1.0" xmlns:config="${OASIS}:config:1.0" office:version="1.3"><office:settings><config:config-item-set config:name="ooo:view-settings"><config:config-item-map-indexed config:name="Views"><config:config-item-map-entry><config:config-item-map-named config:name="Tables">${sheets.map((sheet) => sheet.settings()).join('')}</config:config-item-map-named></config:config-item-map-entry></config:config-item-map-indexed></config:config-item-set></office:settings></office:document-settings>`,
    );
    await archive.add('meta.xml', metaXml({ title, language: run.language }));
    await archive.add(
      'META-INF/manifest.xml',
      manifestXml(archive, MIME, ['content.xml', 'styles.xml', 'settings.xml', 'meta.xml']),
    );
    await archive.end();
  } finally {
    await collector.close();
    await text.close();
  }
};
