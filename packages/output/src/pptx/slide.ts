import type {
  ContentPart,
  LineMark,
  Mark,
  Page,
  PathMark,
  PictureMark,
  RectangleMark,
  TextMark,
} from '@gaveta/core/internal';
import type { Media } from '../office/media.ts';
import { HEAD, Relations } from '../office/relations.ts';
import type { Group } from '../pdf/structure/groups.ts';
import { escapeAttribute } from '../xml/escape.ts';
import { emu, lineXml, type PlaceOnSlide, placeXml, solid } from './look.ts';
import { scaled, scaledPlace, scaleTo } from './scale.ts';
import { type SlideTable, SlideTables, textsOf } from './tables.ts';
import {
  ABOVE,
  bodyXml,
  boxHeight,
  linesOf,
  marginsXml,
  paragraphsXml,
  partsOf,
  ROOM,
  type TextLine,
  WIDER,
} from './words.ts';

export const NAMES =
  'xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main"';

const RECTANGLE = '<a:prstGeom prst="rect"><a:avLst/></a:prstGeom>';

/** Writes pages as slides, one at a time. */
export class Slides {
  private readonly tables: SlideTables;

  constructor(
    private readonly media: Media,
    private readonly language: string,
    hasTables: boolean,
  ) {
    this.tables = new SlideTables(hasTables);
  }

  /** `size`: of the slides. A page that is larger becomes as small as they are. */
  async of(page: Page, size: Pick<Page, 'width' | 'height'>): Promise<{ xml: string; relations: Relations }> {
    const scale = scaleTo(page, size);
    const marks = page.marks.map((mark) => scaled(mark, scale));
    const slide = new Slide(this.media, this.language, marks);
    await slide.drawn(page.marks, scale);
    const { tables, texts } = this.tables.of({ ...page, marks });
    for (const table of tables) slide.table(table);
    for (const group of texts) slide.text(group);
    return { xml: slide.xml(), relations: slide.relations };
  }
}

class Slide {
  readonly relations = new Relations();
  private shapes = '';
  private count = 1;

  constructor(
    private readonly media: Media,
    private readonly language: string,
    private readonly marks: readonly Mark[],
  ) {}

  private named(kind: string, description = ''): string {
    const id = ++this.count;
    return `<p:cNvPr id="${id}" name="${kind} ${id}"${description === '' ? '' : ` descr="${escapeAttribute(description)}"`}/>`;
  }

  /** Lines, boxes, pictures and charts, in their order. `original`: the marks before they became smaller by `scale`. */
  async drawn(original: readonly Mark[], scale: number): Promise<void> {
    for (let at = 0; at < original.length; at++) {
      const mark = isDrawn(original[at]!) ? original[at]! : this.marks[at]!;
      switch (mark.kind) {
        case 'rectangle':
          if (mark.as !== 'drawing') this.rectangle(mark);
          break;
        case 'line':
          if (mark.as !== 'drawing') this.line(mark);
          break;
        case 'picture':
          await this.picture(mark);
          break;
        case 'shape':
          await this.drawing(mark, [mark], mark.alternative, scale);
          break;
        case 'path':
          if (mark.as !== 'drawing') await this.drawing(mark, [mark], '', scale);
          break;
        case 'figure': {
          const parts: Mark[] = [];
          for (let next = at + 1; next < original.length && isPartOf(original[next]!, mark.item); next++)
            parts.push(original[next]!);
          await this.drawing(mark, parts, mark.alternative, scale);
          at += parts.length;
          break;
        }
        case 'text':
        case 'region':
        case 'link':
        case 'anchor':
        case 'outline':
        case 'fold':
        case 'slot':
          break;
        default:
          mark satisfies never;
      }
    }
  }

  private shape(place: string, geometry: string, paint: string): void {
    this.shapes += `<p:sp><p:nvSpPr>${this.named('Shape')}<p:cNvSpPr/><p:nvPr/></p:nvSpPr><p:spPr>${place}${geometry}${paint}</p:spPr></p:sp>`;
  }

  private rectangle(mark: RectangleMark): void {
    if (!mark.fill && !mark.stroke) return;
    const share = Math.min(
      50_000,
      Math.round(((mark.radius ?? 0) / Math.max(1, Math.min(mark.width, mark.height))) * 100_000),
    );
    const geometry = mark.radius
      ? `<a:prstGeom prst="roundRect"><a:avLst><a:gd name="adj" fmla="val ${share}"/></a:avLst></a:prstGeom>`
      : RECTANGLE;
    const fill = mark.fill ? solid(mark.fill, mark.opacity) : '<a:noFill/>';
    this.shape(placeXml(mark), geometry, `${fill}${lineXml(mark.stroke, mark)}`);
  }

  private line(mark: LineMark): void {
    const [x, y] = [Math.min(mark.x, mark.x2), Math.min(mark.y, mark.y2)];
    const box = { x, y, width: Math.abs(mark.x2 - mark.x), height: Math.abs(mark.y2 - mark.y) };
    const flips = (mark.x2 - mark.x) * (mark.y2 - mark.y) < 0 ? ' flipV="1"' : '';
    const geometry = '<a:prstGeom prst="line"><a:avLst/></a:prstGeom>';
    this.shape(placeXml(box, 'a:xfrm', flips), geometry, lineXml(mark.color, mark));
  }

  private async picture(mark: PictureMark): Promise<void> {
    const { picture, alternative, window } = mark;
    const part: ContentPart = { x: 0, y: 0, width: 0, height: 0, content: { kind: 'picture', picture, alternative } };
    await this.media.addPart(part);
    const share = (points: number, of: number): number => Math.max(0, Math.round((points / of) * 100_000));
    const cut = window
      ? `<a:srcRect l="${share(window.x, mark.width)}" t="${share(window.y, mark.height)}" r="${share(mark.width - window.x - window.width, mark.width)}" b="${share(mark.height - window.y - window.height, mark.height)}"/>`
      : '';
    const seen = window ? { ...window, x: mark.x + window.x, y: mark.y + window.y } : mark;
    this.image(part.content, seen, alternative, cut);
  }

  private async drawing(box: PlaceOnSlide, marks: readonly Mark[], alternative: string, scale: number): Promise<void> {
    if (box.width <= 0 || box.height <= 0) return;
    const own = marks.map((mark) => moved(mark, -box.x, -box.y));
    const content = { kind: 'drawing' as const, marks: own, alternative, table: [] };
    await this.media.addPart({ ...box, content });
    this.image(content, scaledPlace(box, scale), alternative, '');
  }

  private image(content: ContentPart['content'], place: PlaceOnSlide, alternative: string, cut: string): void {
    const found = this.media.of(content);
    if (!found) return;
    const id = this.relations.id('image', `../media/${found.file}`);
    const svg = found.svg
      ? `<a:extLst><a:ext uri="{96DAC541-7B7A-43D3-8B79-37D633B846F1}"><asvg:svgBlip xmlns:asvg="http://schemas.microsoft.com/office/drawing/2016/SVG/main" r:embed="${this.relations.id('image', `../media/${found.svg}`)}"/></a:ext></a:extLst>`
      : '';
    this.shapes += `<p:pic><p:nvPicPr>${this.named('Picture', alternative)}<p:cNvPicPr/><p:nvPr/></p:nvPicPr><p:blipFill><a:blip r:embed="${id}">${svg}</a:blip>${cut}<a:stretch><a:fillRect/></a:stretch></p:blipFill><p:spPr>${placeXml(place)}${RECTANGLE}</p:spPr></p:pic>`;
  }

  /** A text in a box of its own; one that is turned in one for each line. */
  text(group: Group): void {
    const texts = textsOf(group, this.marks);
    for (const mark of texts.filter(({ turn }) => turn)) this.turned(mark);
    const lines = linesOf(texts.filter(({ turn }) => !turn));
    if (lines.length === 0) return;
    const parts = lines.flatMap(partsOf);
    // What stands far apart keeps its place.
    if (parts.length > lines.length) for (const part of parts) this.lines([part]);
    else this.lines(lines);
  }

  private lines(lines: readonly TextLine[]): void {
    const x = Math.min(...lines.map(([first]) => first!.x));
    const right = Math.max(...lines.flatMap((line) => line.map((mark) => mark.x + mark.width)));
    const first = lines[0]![0]!;
    const box = { x, y: first.y - first.size * ABOVE, width: (right - x) * WIDER + ROOM, height: boxHeight(lines) };
    this.box(box, paragraphsXml(lines, this.language));
  }

  private box(place: PlaceOnSlide, paragraphs: string, turn = ''): void {
    this.shapes += `<p:sp><p:nvSpPr>${this.named('Text')}<p:cNvSpPr txBox="1"/><p:nvPr/></p:nvSpPr><p:spPr>${placeXml(place, 'a:xfrm', turn)}${RECTANGLE}<a:noFill/></p:spPr>${bodyXml(paragraphs, 'p:txBody', 'none')}</p:sp>`;
  }

  private turned(mark: TextMark): void {
    const angle = ((mark.turn ?? 0) * Math.PI) / 180;
    const [width, height] = [mark.width + ROOM, mark.size * 1.26];
    // Boxes are turned around their middle, texts around the left end of their baseline.
    const [dx, dy] = [width / 2, height / 2 - mark.size * ABOVE];
    const x = mark.x + dx * Math.cos(angle) - dy * Math.sin(angle) - width / 2;
    const y = mark.y + dx * Math.sin(angle) + dy * Math.cos(angle) - height / 2;
    const degrees = (((mark.turn ?? 0) % 360) + 360) % 360;
    this.box({ x, y, width, height }, paragraphsXml([[mark]], this.language), ` rot="${Math.round(degrees * 60_000)}"`);
  }

  table({ columns, rows }: SlideTable): void {
    const { edges, aligns } = columnsOf(columns.count, rows);
    const widths = edges.slice(1).map((edge, i) => edge - edges[i]!);
    const tops = [...rows.map(({ y }) => y), rows.at(-1)!.bottom];
    const xml = rows.map(({ cells, isHeader }, i) => {
      let row = '';
      let column = 0;
      const blank = (): string => cellXml('<a:p><a:endParaRPr sz="100"/></a:p>', 0);
      for (const { groups, start, span } of cells) {
        for (; column < start; column++) row += blank();
        const lines = linesOf(groups.flatMap((group) => textsOf(group, this.marks)));
        const left = lines.length > 0 ? Math.min(...lines.map(([first]) => first!.x)) - edges[start]! : 0;
        const align = span > 1 && isHeader ? 'ctr' : aligns[start]!;
        row += cellXml(paragraphsXml(lines, this.language, align), align === 'l' ? Math.max(0, left) : 0, span);
        for (let i = 1; i < span; i++) row += '<a:tc hMerge="1"><a:txBody><a:bodyPr/><a:p/></a:txBody><a:tcPr/></a:tc>';
        column = start + span;
      }
      for (; column < columns.count; column++) row += blank();
      return `<a:tr h="${emu(tops[i + 1]! - tops[i]!)}">${row}</a:tr>`;
    });
    const box = { x: edges[0]!, y: tops[0]!, width: edges.at(-1)! - edges[0]!, height: tops.at(-1)! - tops[0]! };
    const grid = widths.map((width) => `<a:gridCol w="${emu(width)}"/>`).join('');
    this.shapes += `<p:graphicFrame><p:nvGraphicFramePr>${this.named('Table')}<p:cNvGraphicFramePr/><p:nvPr/></p:nvGraphicFramePr>${placeXml(box, 'p:xfrm')}<a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/table"><a:tbl><a:tblPr firstRow="1"/><a:tblGrid>${grid}</a:tblGrid>${xml.join('')}</a:tbl></a:graphicData></a:graphic></p:graphicFrame>`;
  }

  xml(): string {
    return `${HEAD}<p:sld ${NAMES}><p:cSld><p:spTree><p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>${this.shapes}</p:spTree></p:cSld><p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sld>`;
  }
}

const NO_LINES = ['lnL', 'lnR', 'lnT', 'lnB'].map((side) => `<a:${side} w="0"><a:noFill/></a:${side}>`).join('');

const cellXml = (paragraphs: string, left: number, span = 1): string =>
  `<a:tc${span > 1 ? ` gridSpan="${span}"` : ''}><a:txBody><a:bodyPr/><a:lstStyle/>${paragraphs}</a:txBody><a:tcPr${marginsXml(left)}>${NO_LINES}<a:noFill/></a:tcPr></a:tc>`;

/** Edges of the columns of a table, and at which side of them their texts stand. */
const columnsOf = (count: number, rows: SlideTable['rows']) => {
  const spans = Array.from({ length: count }, () => ({ lefts: [] as number[], rights: [] as number[] }));
  for (const { cells } of rows)
    for (const { groups, start, span } of cells) {
      if (span > 1) continue;
      spans[start]!.lefts.push(Math.min(...groups.map(({ x }) => x)));
      spans[start]!.rights.push(Math.max(...groups.map(({ x, width }) => x + width)));
    }
  const spread = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);
  const aligns = spans.map(({ lefts, rights }) =>
    spread(rights) < spread(lefts) - 0.5 ? ('r' as const) : ('l' as const),
  );
  const lefts = spans.map(({ lefts: all }) => (all.length > 0 ? Math.min(...all) : Number.NaN));
  const rights = spans.map(({ rights: all }) => (all.length > 0 ? Math.max(...all) : Number.NaN));
  const edges = [lefts.find((left) => !Number.isNaN(left)) ?? 0];
  for (let i = 1; i < count; i++) {
    const before = Math.max(edges.at(-1)!, ...rights.slice(0, i).filter((right) => !Number.isNaN(right)));
    const left = Number.isNaN(lefts[i]!) ? before : lefts[i]!;
    // Numbers end at their edge, and share the room before them with what stands there.
    const edge = aligns[i - 1] === 'r' ? Math.min(left, before) : aligns[i] === 'r' ? (before + left) / 2 : left;
    edges.push(Math.max(edges.at(-1)! + 1, edge));
  }
  edges.push(Math.max(edges.at(-1)! + 1, ...rights.filter((right) => !Number.isNaN(right))));
  // Another font may be wider; between columns there is room for it.
  const wider = (from: number, to: number): number => (to - from) * (WIDER - 1) + ROOM;
  const [first, second] = edges as [number, number];
  if (aligns[0] === 'r') edges[0] = first - wider(first, second);
  if (aligns.at(-1) === 'l') edges[count] = edges[count]! + wider(edges[count - 1]!, edges[count]!);
  return { edges, aligns };
};

/** Whether a mark becomes a picture. */
const isDrawn = ({ kind }: Mark): boolean => kind === 'shape' || kind === 'path' || kind === 'figure';

/** Whether a mark is of the drawing of a figure; switches lie over its legend. */
const isPartOf = (mark: Mark, item: string | undefined): boolean =>
  ('as' in mark && mark.as === 'drawing' && mark.item === item) || (mark.kind === 'fold' && mark.isSwitch === true);

const moved = (mark: Mark, dx: number, dy: number): Mark =>
  mark.kind === 'line'
    ? { ...mark, x: mark.x + dx, y: mark.y + dy, x2: mark.x2 + dx, y2: mark.y2 + dy }
    : ({ ...mark, x: mark.x + dx, y: mark.y + dy } as Exclude<Mark, LineMark> as PathMark);
