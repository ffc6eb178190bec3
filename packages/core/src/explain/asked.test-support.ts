import type { Page, RegionMark, TextMark } from '../page/page.ts';
import type { AskedValue } from './explanation.ts';

/** Texts that items show. */
export const textsOf = (page: Page): TextMark[] =>
  page.marks.filter((mark): mark is TextMark => mark.kind === 'text' && mark.item !== undefined);

/** How a viewer asks about a text: by the region that follows it. */
export const askedOf = ({ marks, number }: Page, mark: TextMark): AskedValue => {
  const region = marks
    .slice(marks.indexOf(mark))
    .find((one): one is RegionMark => one.kind === 'region' && one.y <= mark.y && one.y + one.height >= mark.y - 1);
  return {
    item: mark.item!,
    band: region?.band ?? null,
    rows: region?.rows ?? null,
    cell: mark.to && 'cell' in mark.to ? mark.to.cell : null,
    page: number,
  };
};

/** A number as it is shown, without what stands between its digits. */
export const shownNumber = (text: string): number =>
  text.endsWith('%') ? Number(text.slice(0, -1)) / 100 : Number(text.replaceAll(',', ''));
