import { LONGEST_PAGE, paperSize } from '../definition/schema.ts';
import type { ReportBand } from '../definition/walk.ts';
import type { PageValues } from '../formula/functions/context.ts';
import type { Block } from './block.ts';
import type { Paper } from './page-frame.ts';
import { POINTS, type PreparedBand, type PreparedPages } from './prepared.ts';

/** What lays the bands of a page out, and is told when one is complete. */
interface PageBands {
  band: (band: PreparedBand, page: PageValues) => Block | null;
  completed: () => void;
  hasRow: () => boolean;
}

/** The paper of pages with the bands on each of them: the first page and even ones may have their own. */
export const paperOf = (
  { page, bands }: PreparedPages,
  isMirrored: boolean,
  { band: lay, completed, hasRow }: PageBands,
): Paper => {
  const paper = paperSize(page);
  const { margins } = page;
  const block = (name: ReportBand, values: PageValues): Block | null => {
    const band = bands[name];
    return band ? lay(band, values) : null;
  };
  const kindOf = ({ number }: PageValues, first: ReportBand, even: ReportBand, other: ReportBand): ReportBand =>
    number === 1 && bands[first] ? first : number % 2 === 0 && bands[even] ? even : other;
  return {
    geometry: {
      width: paper.width * POINTS,
      height: (page.continuous ? LONGEST_PAGE : paper.height) * POINTS,
      top: margins.top * POINTS,
      bottom: margins.bottom * POINTS,
      left: (isMirrored ? margins.right : margins.left) * POINTS,
      right: (isMirrored ? margins.left : margins.right) * POINTS,
      continuous: page.continuous ?? false,
    },
    frame: {
      own: {
        first: Boolean(bands.firstPageHeader ?? bands.firstPageFooter),
        even: Boolean(bands.evenPageHeader ?? bands.evenPageFooter),
      },
      header: (values) => block(kindOf(values, 'firstPageHeader', 'evenPageHeader', 'pageHeader'), values),
      footer: (values) => block(kindOf(values, 'firstPageFooter', 'evenPageFooter', 'pageFooter'), values),
      background: (values) => block('pageBackground', values),
      overlay: (values) => block('pageOverlay', values),
      completed,
      hasRow,
    },
  };
};
