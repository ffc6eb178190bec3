import type { LaidPlace, RegionMark } from './marks/region.ts';
import type { SvgPage } from './svg.ts';

/** A region of a page that was laid out with places, as its SVG tells it. Lengths in points from the page's top left corner. */
export interface LaidRegion extends Pick<RegionMark, 'x' | 'y' | 'width' | 'height' | 'band' | 'rows'> {
  /** As of RegionPlaces. */
  items: Readonly<Record<string, LaidPlace>>;
  isPart: boolean;
  inside: string | null;
}

const SIGNS: Readonly<Record<string, string>> = { amp: '&', lt: '<', gt: '>', quot: '"', '#39': "'" };

const attributesOf = (element: string): Record<string, string> =>
  Object.fromEntries(
    [...element.matchAll(/([\w-]+)="([^"]*)"/g)].map(([, name, value]) => [
      name!,
      value!.replace(/&(amp|lt|gt|quot|#39);/g, (_, sign: string) => SIGNS[sign]!),
    ]),
  );

const placesIn = (written: string): Record<string, LaidPlace> =>
  Object.fromEntries(
    written
      .split(';')
      .filter((one) => one !== '')
      .map((one) => {
        const [id = '', ...lengths] = one.split(' ');
        const [x = 0, y = 0, width = 0, height = 0] = lengths.map(Number);
        return [id, [x, y, width, height]];
      }),
  );

/** The regions of a page in the order in which they were laid out. */
export const readRegions = ({ marks }: Pick<SvgPage, 'marks'>): LaidRegion[] =>
  marks
    .filter((mark) => mark.startsWith('<rect') && mark.includes(' data-band="'))
    .map((mark) => {
      const of = attributesOf(mark);
      const length = (name: string): number => Number(of[name] ?? 0);
      return {
        x: length('x'),
        y: length('y'),
        width: length('width'),
        height: length('height'),
        band: of['data-band'] ?? '',
        rows: of['data-rows'] ?? '',
        items: placesIn(of['data-places'] ?? ''),
        isPart: 'data-part' in of,
        inside: of['data-inside'] ?? null,
      };
    });

/** Width and height of a page in points. */
export const pageSize = ({ open }: Pick<SvgPage, 'open'>): { width: number; height: number } => {
  const [, width = 0, height = 0] = /viewBox="0 0 ([\d.]+) ([\d.]+)"/.exec(open)?.map(Number) ?? [];
  return { width, height };
};
