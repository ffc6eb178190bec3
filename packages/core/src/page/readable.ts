import type { PictureAddress } from './marks/mark.ts';
import type { Mark, MarkOf } from './marks.ts';
import type { Page } from './page.ts';
import { markToSvg, svgOpening } from './svg.ts';

type Region = MarkOf<'region'>;
type Text = MarkOf<'text'>;

/** Marks of one instance of a band, in order; of no band those that follow the last one. */
interface BandMarks {
  marks: Mark[];
  region: Region | null;
}

const bandsOf = (marks: readonly Mark[]): BandMarks[] => {
  const bands: BandMarks[] = [];
  let open: Mark[] = [];
  for (const mark of marks) {
    open.push(mark);
    if (mark.kind !== 'region') continue;
    bands.push({ marks: open, region: mark });
    open = [];
  }
  if (open.length > 0) bands.push({ marks: open, region: null });
  return bands;
};

const isRead = (mark: Mark): mark is Text =>
  mark.kind === 'text' && mark.as !== 'artifact' && mark.as !== 'drawing' && mark.text.trim() !== '';

/** What lies in one cell: the texts of one item, or of one part or column of it. */
const cellOf = ({ item = '', part, column }: Text): string => `${item} ${part ?? ''} ${column ?? ''}`;

interface Row {
  band: BandMarks;
  cells: Set<string>;
  /** All that is read in it heads columns. */
  isCaptions: boolean;
  /** The item that has columns of its own, as a crosstab. */
  grid: string | null;
}

/** A band whose texts stand side by side as cells of a row; null for any other. */
const rowOf = (band: BandMarks): Row | null => {
  const texts = band.marks.filter(isRead);
  if (texts.some(({ as }) => as !== undefined && as !== 'header')) return null;
  if (band.marks.some(({ kind }) => kind === 'figure' || kind === 'picture' || kind === 'outline')) return null;
  const cells = new Set(texts.map(cellOf));
  if (cells.size < 2) return null;
  const [first] = texts;
  const grid = first?.column === undefined ? null : (first.item ?? null);
  return { band, cells, isCaptions: texts.every(({ as }) => as === 'header'), grid };
};

const isDetail = ({ band }: Row): boolean => band.region?.band.endsWith('/detail') ?? false;

/** Rows of one band stand below one another, and the first of them below captions. */
const isBelow = (row: Row, last: Row): boolean =>
  last.isCaptions || row.grid !== null || row.band.region?.band === last.band.region?.band;

/** Bands that make a table, from one that heads its columns on; each other band by itself. */
const tablesOf = (bands: readonly BandMarks[]): (BandMarks | Row[])[] => {
  const parts: (BandMarks | Row[])[] = [];
  let table: Row[] = [];
  const end = (): void => {
    const hasRows = table.some(({ isCaptions }) => !isCaptions);
    // On further pages captions are read no more.
    if (hasRows && table.length > 1) parts.push(table);
    else parts.push(...table.map(({ band }) => band));
    table = [];
  };
  for (const band of bands) {
    const row = rowOf(band);
    const last = table.at(-1);
    const goesOn = row && last && (!row.isCaptions || last.isCaptions) && row.grid === last.grid && isBelow(row, last);
    if (!row || (last && !goesOn)) end();
    const begins = row !== null && (row.isCaptions || row.grid !== null || isDetail(row));
    if (!row || (table.length === 0 && !begins)) parts.push(band);
    else table.push(row);
  }
  end();
  return parts;
};

const rowToSvg = ({ band, isCaptions }: Row, addressOf: PictureAddress): string => {
  let svg = '<g role="row">';
  let open: string | null = null;
  const close = (): void => {
    if (open !== null) svg += '</g>';
    open = null;
  };
  for (const mark of band.marks) {
    const made = markToSvg(mark, addressOf, 2);
    if (made === '') continue;
    if (isRead(mark)) {
      const cell = cellOf(mark);
      if (cell !== open) {
        close();
        const role = isCaptions ? 'columnheader' : mark.as === 'header' ? 'rowheader' : 'cell';
        svg += `<g role="${role}">`;
        open = cell;
      }
      svg += made;
    } else if (mark.kind === 'fold' || mark.kind === 'link') {
      // A row holds cells alone.
      close();
      svg += `<g role="cell">${made}</g>`;
    } else {
      close();
      svg += made;
    }
  }
  close();
  return `${svg}</g>`;
};

/** Level of a heading that is in no outline. */
const OTHER_LEVEL = 4;

/** Levels of headings by their items, below that of the report’s name. */
const levelsOf = (marks: readonly Mark[]): Map<string, number> => {
  const levels = new Map<string, number>();
  for (const mark of marks)
    if (mark.kind === 'outline' && mark.item) levels.set(mark.item, Math.min(6, mark.level + 1));
  return levels;
};

/**
 * One page as an SVG document that tells its structure to those who have it read: headings with their levels, and rows under
 * captions as tables, where they are seen.
 */
export const readablePage = (page: Page, addressOf: PictureAddress): string => {
  const levels = levelsOf(page.marks);
  const plain = (marks: readonly Mark[]): string =>
    marks.map((mark) => markToSvg(mark, addressOf, levels.get(mark.item ?? '') ?? OTHER_LEVEL)).join('');
  const parts = tablesOf(bandsOf(page.marks)).map((part) =>
    Array.isArray(part)
      ? `<g role="table">${part.map((row) => rowToSvg(row, addressOf)).join('')}</g>`
      : plain(part.marks),
  );
  return `${svgOpening(page)}${parts.join('')}</svg>`;
};
