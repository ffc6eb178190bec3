import type { Writable } from 'node:stream';
import { DEFAULT_LOOK } from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import { HEAD, Relations } from '../office/relations.ts';
import type { ContentRun } from '../output.ts';
import { MOST_ROWS } from '../sheet/limits.ts';
import { collecting, type Pictured, rowsOfSheet } from '../sheet/open.ts';
import type { SheetPicture } from '../sheet/rows.ts';
import { LookFormats } from './look-formats.ts';
import type { XlsxOptions } from './seen-options.ts';
import { SeenSheet, type SeenWorkbook } from './seen-sheet.ts';
import { attributeText, SheetNames } from './text.ts';
import { addWorkbook, type SheetEntry } from './workbook.ts';

const EMU = 12_700;

const anchorXml = (
  picture: SheetPicture,
  pictured: Pictured,
  offset: number,
  number: number,
  relations: Relations,
): string => {
  const { column, row, dx, dy, width, height } = picture;
  const image = relations.id('image', `../media/${pictured.file}`);
  const vector = pictured.svg
    ? `<a:extLst><a:ext uri="{96DAC541-7B7A-43D3-8B79-37D633B846F1}"><asvg:svgBlip xmlns:asvg="http://schemas.microsoft.com/office/drawing/2016/SVG/main" r:embed="${relations.id('image', `../media/${pictured.svg}`)}"/></a:ext></a:extLst>`
    : '';
  const emu = (points: number): number => Math.max(0, Math.round(points * EMU));
  return `<xdr:oneCellAnchor><xdr:from><xdr:col>${column}</xdr:col><xdr:colOff>${emu(dx)}</xdr:colOff><xdr:row>${row - offset}</xdr:row><xdr:rowOff>${emu(dy)}</xdr:rowOff></xdr:from><xdr:ext cx="${emu(width)}" cy="${emu(height)}"/><xdr:pic><xdr:nvPicPr><xdr:cNvPr id="${number}" name="Picture ${number}" descr="${attributeText(pictured.alternative)}"/><xdr:cNvPicPr/></xdr:nvPicPr><xdr:blipFill><a:blip r:embed="${image}">${vector}</a:blip><a:stretch><a:fillRect/></a:stretch></xdr:blipFill><xdr:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="${emu(width)}" cy="${emu(height)}"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></xdr:spPr></xdr:pic><xdr:clientData/></xdr:oneCellAnchor>`;
};

/** A report as a workbook that looks like it. */
export const writeSeen = async (run: ContentRun<XlsxOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const { options, book, title, timeZone } = run;
  const archive = new Archive(sink);
  const { collector, pictured } = collecting(run, archive, 'xl/media');
  const sheets: SeenSheet[] = [];
  try {
    await run.content((event) => collector.take(event));
    await collector.end();
    const normal = {
      family: book.families[0]!,
      ...DEFAULT_LOOK,
      bold: false,
      italic: false,
      underline: false,
      strike: false,
    };
    const { family, size, bold, italic, underline, strike, color } = normal;
    const formats = new LookFormats({ family, size, bold, italic, underline, strike, color });
    const workbook: SeenWorkbook = { formats, fonts: collector.fonts, timeZone, places: new Map() };
    const names = new SheetNames();
    const drawings: { sheet: SeenSheet; pictures: SheetPicture[] }[] = [];
    for (const waiting of collector.sheets) {
      const rows = rowsOfSheet(waiting, collector, options);
      const open = async (offset: number): Promise<SeenSheet> => {
        const name = names.name(waiting.name ?? title);
        const opened = await SeenSheet.open(name, rows.columns, waiting.section, workbook, offset);
        sheets.push(opened);
        return opened;
      };
      let sheet = await open(0);
      const own = [sheet];
      for await (const row of rows.rows()) {
        signal.throwIfAborted();
        if (row.number - sheet.offset >= MOST_ROWS) {
          sheet = await open(row.number);
          own.push(sheet);
        }
        const told = sheet.row(row);
        if (told) await told;
      }
      for (const [i, one] of own.entries()) {
        const end = own[i + 1]?.offset ?? Number.POSITIVE_INFINITY;
        const pictures = rows.pictures.filter((placed) => placed.row >= one.offset && placed.row < end);
        if (pictures.length > 0) drawings.push({ sheet: one, pictures });
      }
    }
    for (const [i, { sheet, pictures }] of drawings.entries()) {
      const relations = new Relations();
      const anchors = pictures.map((placed, at) =>
        anchorXml(placed, pictured[placed.part]!, sheet.offset, at + 1, relations),
      );
      await archive.add(
        `xl/drawings/drawing${i + 1}.xml`,
        `${HEAD}<xdr:wsDr xmlns:xdr="http://schemas.openxmlformats.org/drawingml/2006/spreadsheetDrawing" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships">${anchors.join('')}</xdr:wsDr>`,
      );
      await archive.add(`xl/drawings/_rels/drawing${i + 1}.xml.rels`, relations.xml());
    }
    const entries: SheetEntry[] = [];
    for (const [i, sheet] of sheets.entries()) {
      const drawing = drawings.findIndex((one) => one.sheet === sheet);
      await sheet.into(archive, i + 1, drawing < 0 ? null : drawing + 1, signal);
      entries.push({ name: sheet.name, table: null, relations: sheet.relations });
    }
    const titles = sheets.map((sheet, i) => sheet.printTitles(i)).join('');
    await addWorkbook(archive, { sheets: entries, formats, title, names: titles, drawings: drawings.length });
    await archive.end();
  } finally {
    await collector.close();
    await Promise.all(sheets.map((sheet) => sheet.close()));
  }
};
