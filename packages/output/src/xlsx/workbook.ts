import type { Archive } from '../archive.ts';
import { Relations } from '../office/relations.ts';
import { attributeText } from './text.ts';

const HEAD = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const PACKAGE = 'http://schemas.openxmlformats.org/package/2006/relationships';
const TYPE = 'application/vnd.openxmlformats-officedocument.spreadsheetml';

/** A sheet as the workbook lists it. */
export interface SheetEntry {
  name: string;
  /** Number of its table; null when it has none. */
  table: number | null;
  /** What it refers to besides. */
  relations?: Relations;
}

const drawingPart = (number: number): string =>
  `<Override PartName="/xl/drawings/drawing${number}.xml" ContentType="application/vnd.openxmlformats-officedocument.drawing+xml"/>`;

interface Workbook {
  sheets: readonly SheetEntry[];
  formats: { xml(): string };
  title: string;
  /** Names that it gives to ranges, as elements. */
  names?: string;
  /** How many parts with pictures it has. */
  drawings?: number;
}

/** Puts the parts of a workbook into its archive that come behind its sheets and tables. */
export const addWorkbook = async (
  archive: Archive,
  { sheets, formats, title, names = '', drawings = 0 }: Workbook,
): Promise<void> => {
  const tables = sheets.flatMap(({ table }) => (table === null ? [] : [table]));
  for (const [i, { table, relations = new Relations() }] of sheets.entries()) {
    if (table !== null) relations.id('table', `../tables/table${table}.xml`);
    if (!relations.isEmpty) await archive.add(`xl/worksheets/_rels/sheet${i + 1}.xml.rels`, relations.xml());
  }
  await archive.add('xl/styles.xml', formats.xml());
  const listed = sheets.map(
    ({ name }, i) => `<sheet name="${attributeText(name)}" sheetId="${i + 1}" r:id="rId${i + 1}"/>`,
  );
  await archive.add(
    'xl/workbook.xml',
    `${HEAD}<workbook xmlns="${MAIN}" xmlns:r="${OFFICE}"><sheets>${listed.join('')}</sheets>${names === '' ? '' : `<definedNames>${names}</definedNames>`}<calcPr calcId="0" fullCalcOnLoad="1"/></workbook>`,
  );
  const links = sheets.map(
    (_, i) => `<Relationship Id="rId${i + 1}" Type="${OFFICE}/worksheet" Target="worksheets/sheet${i + 1}.xml"/>`,
  );
  await archive.add(
    'xl/_rels/workbook.xml.rels',
    `${HEAD}<Relationships xmlns="${PACKAGE}">${links.join('')}<Relationship Id="rId${sheets.length + 1}" Type="${OFFICE}/styles" Target="styles.xml"/></Relationships>`,
  );
  await archive.add(
    'docProps/core.xml',
    `${HEAD}<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>${attributeText(title)}</dc:title></cp:coreProperties>`,
  );
  await archive.add(
    '_rels/.rels',
    `${HEAD}<Relationships xmlns="${PACKAGE}"><Relationship Id="rId1" Type="${OFFICE}/officeDocument" Target="xl/workbook.xml"/><Relationship Id="rId2" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties" Target="docProps/core.xml"/></Relationships>`,
  );
  const part = (path: string, type: string): string =>
    `<Override PartName="/${path}" ContentType="${TYPE}.${type}+xml"/>`;
  const parts = [
    part('xl/workbook.xml', 'sheet.main'),
    part('xl/styles.xml', 'styles'),
    ...sheets.map((_, i) => part(`xl/worksheets/sheet${i + 1}.xml`, 'worksheet')),
    ...tables.map((table) => part(`xl/tables/table${table}.xml`, 'table')),
    ...Array.from({ length: drawings }, (_, i) => drawingPart(i + 1)),
  ];
  await archive.add(
    '[Content_Types].xml',
    `${HEAD}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="png" ContentType="image/png"/><Default Extension="jpeg" ContentType="image/jpeg"/><Default Extension="svg" ContentType="image/svg+xml"/>${parts.join('')}<Override PartName="/docProps/core.xml" ContentType="application/vnd.openxmlformats-package.core-properties+xml"/></Types>`,
  );
};

/** The head of a sheet. `columns`: widths in characters; `frozen`: how many rows stay in view. */
export const sheetHead = (columns: readonly number[], frozen: number): string => {
  const widths = columns
    .map((width, i) => `<col min="${i + 1}" max="${i + 1}" width="${width}" customWidth="1"/>`)
    .join('');
  const pane =
    frozen > 0 ? `<pane ySplit="${frozen}" topLeftCell="A${frozen + 1}" activePane="bottomLeft" state="frozen"/>` : '';
  return `${HEAD}<worksheet xmlns="${MAIN}" xmlns:r="${OFFICE}"><sheetPr><outlinePr summaryBelow="0"/></sheetPr><sheetViews><sheetView workbookViewId="0">${pane}</sheetView></sheetViews><sheetFormatPr defaultRowHeight="15"/>${widths ? `<cols>${widths}</cols>` : ''}<sheetData>`;
};

/** A table over the rows of a sheet, with its filter. `columns`: the captions in its first row, each there once. */
export const tableXml = (number: number, last: string, rows: number, columns: readonly string[]): string => {
  const range = `A1:${last}${rows + 1}`;
  const listed = columns.map(
    (name, i) => `<tableColumn id="${i + 1}" name="${attributeText(name).replaceAll('&#10;', '_x000a_')}"/>`,
  );
  return `${HEAD}<table xmlns="${MAIN}" id="${number}" name="Rows${number}" displayName="Rows${number}" ref="${range}" totalsRowShown="0"><autoFilter ref="${range}"/><tableColumns count="${columns.length}">${listed.join('')}</tableColumns><tableStyleInfo name="TableStyleLight1" showFirstColumn="0" showLastColumn="0" showRowStripes="1" showColumnStripes="0"/></table>`;
};
