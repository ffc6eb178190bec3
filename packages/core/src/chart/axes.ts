import { type AlongScale, bandScale, type Room, stretchScale } from './along-scale.ts';
import { LABEL_GAP, type LaidLabels, labelsBelow, labelsBeside } from './axis-labels.ts';
import type { Chart, ChartLine, ChartPanel, ChartZone, ScaleSettings } from './chart.ts';
import { mix } from './colors.ts';
import type { Box, Drawing } from './drawing.ts';
import { Labels } from './labels.ts';
import { panelGrid } from './panels.ts';
import { Plot } from './plot.ts';
import { type Extent, joined } from './series.ts';
import { dashOf } from './strokes.ts';
import { type ValueScale, valueScale } from './value-scale.ts';
import { type ChartWriter, labelOf } from './writer.ts';

/** What is drawn between two axes. */
export interface AxesKind {
  isFlipped?: boolean;
  /** How places stand: one beside the other, where they say, or where they say with room around or after each. */
  along: (chart: Chart) => 'bands' | 'stretch' | Room;
  /** Least and greatest value that the two scales must hold; null for one that is not needed. */
  extents: (chart: Chart, panel: ChartPanel) => readonly [Extent | null, Extent | null];
  /** Values along the axis, where its places are not those of the chart. */
  alongExtent?: (chart: Chart) => Extent | null;
  /** Number format of the ticks of the first scale, where it is not that of its values. */
  format?: (chart: Chart) => string | null;
  /** Whether the scale of values is a row of places as well: their labels, from its end. */
  rows?: (chart: Chart) => readonly string[];
  draw: (plot: Plot) => void;
}

const GRID = '#e3dccb';
const AXIS = '#6b7672';
const TITLE_GAP = 3;
/** Room for the outer halves of symbols and lines at the edge. */
const EDGE = 3.5;
/** An area between axes that is smaller than that, in points, is not drawn. */
const LEAST_PLOT = 6;
/** Most of a chart that labels of an axis may take. */
const MOST_DEPTH = 0.4;

interface Margins {
  left: number;
  right: number;
  bottom: number;
}

/** The two scales of values, and the places along the axis, of one size. */
interface Axes {
  along: AlongScale;
  scales: [ValueScale, ValueScale | null];
}

interface Sizes {
  width: number;
  height: number;
}

/** Number of ticks that suit an axis. */
const ticksFor = (length: number, isUpright: boolean, writer: ChartWriter): number =>
  Math.max(2, Math.min(10, Math.floor(length / (isUpright ? writer.lineHeight * 2 : writer.size * 5.5))));

class AxesDrawer {
  private readonly extents: readonly [Extent | null, Extent | null];
  private readonly isFlipped: boolean;

  constructor(
    private readonly kind: AxesKind,
    private readonly chart: Chart,
    private readonly writer: ChartWriter,
    private readonly out: Drawing,
    /** Without any words. */
    private readonly isBare = false,
  ) {
    this.isFlipped = kind.isFlipped ?? false;
    let [first, second]: [Extent | null, Extent | null] = [null, null];
    for (const panel of chart.panels) {
      const [a, b] = kind.extents(chart, panel);
      first = joined(first, a);
      second = joined(second, b);
    }
    this.extents = [this.withLines(first, false), second && this.withLines(second, true)];
  }

  private bare(): AxesDrawer {
    const { kind, chart, writer, out } = this;
    const settings = { ...chart.settings, labels: 'none' as const };
    return new AxesDrawer(kind, { ...chart, settings }, writer, out, true);
  }

  /** Reference lines and the inner ends of zones are seen, where a scale does not say its ends. */
  private withLines(extent: Extent | null, isSecond: boolean): Extent | null {
    const { lines, zones } = this.chart.settings;
    let all = extent;
    for (const line of lines) if (line.isSecond === isSecond) all = joined(all, [line.at, line.at]);
    for (const zone of zones) {
      if (zone.isSecond !== isSecond) continue;
      for (const end of [zone.from, zone.to]) if (end !== null) all = joined(all, [end, end]);
    }
    return all;
  }

  private axes({ width, height }: Sizes): Axes {
    const { chart, kind, writer, isFlipped } = this;
    const { settings, saying, places, measures } = chart;
    const [alongLength, valueLength] = isFlipped ? [height, width] : [width, height];
    const alongCount = ticksFor(alongLength, isFlipped, writer);
    const valueCount = ticksFor(valueLength, !isFlipped, writer);
    const how = kind.along(chart);
    const given = kind.alongExtent?.(chart);
    const ends = given?.map((at) => ({ at, label: '' }));
    const along =
      how === 'bands' && !ends
        ? bandScale(places, alongLength)
        : stretchScale(
            ends ?? places,
            alongLength,
            settings.along,
            alongCount,
            saying,
            how === 'around' || how === 'after' ? how : null,
          );
    const scaleOf = (second: 0 | 1): ValueScale => {
      const measure = measures.find(({ isSecond }) => isSecond === (second === 1)) ?? measures[0];
      const set = settings.scales[second];
      const own = second === 0 ? kind.format?.(chart) : null;
      return valueScale(this.extents[second], valueLength, set, own ?? measure?.format ?? '', valueCount, saying);
    };
    return { along, scales: [scaleOf(0), this.extents[1] ? scaleOf(1) : null] };
  }

  /** Labels of the axis of places, and of the two of values. */
  private labels(axes: Axes, size: Sizes, room: Box, { left, right }: Pick<Margins, 'left' | 'right'>) {
    const { chart, kind, writer, isFlipped } = this;
    const { along, scales } = chart.settings;
    const none: LaidLabels = { depth: 0, draw: () => {} };
    if (this.isBare) return { places: none, first: none, second: none };
    const below = { length: size.width, left, right, depth: room.height * MOST_DEPTH };
    const beside = { length: size.height, left: 0, right: 0, depth: room.width * MOST_DEPTH };
    const { isSequence } = axes.along;
    const rows = kind.rows?.(chart);
    const valueLabels = (scale: ValueScale | null, settings: ScaleSettings): LaidLabels => {
      if (!scale || settings.hidden) return none;
      if (rows) {
        const step = size.height / Math.max(1, rows.length);
        const labels = rows.map((label, i) => ({ at: (i + 0.5) * step, label }));
        return labelsBeside(labels, writer, { ...beside, isSequence: false });
      }
      if (isFlipped) return labelsBelow(scale.ticks, writer, { ...below, isSequence: true });
      const ticks = scale.ticks.map(({ at, label }) => ({ at: size.height - at, label }));
      return labelsBeside(ticks, writer, { ...beside, isSequence: true });
    };
    const places = along.hidden
      ? none
      : isFlipped
        ? labelsBeside(axes.along.labels, writer, { ...beside, isSequence })
        : labelsBelow(axes.along.labels, writer, { ...below, isSequence });
    return { places, first: valueLabels(axes.scales[0], scales[0]), second: valueLabels(axes.scales[1], scales[1]) };
  }

  /** Height of a title at an axis. */
  private titleDepth(title: string): number {
    return title === '' ? 0 : this.writer.lineHeight + TITLE_GAP;
  }

  draw(box: Box): void {
    const { chart, writer, isFlipped } = this;
    const { settings, panels } = chart;
    const [first, second] = settings.scales;
    const shape = panelGrid(panels.length, box, settings.panelColumns, writer);
    const grid = this.isBare ? { ...shape, heading: 0, gap: 1 } : shape;
    // Words at the ends of the axis reach past it.
    const top = this.isBare ? EDGE : writer.capHeight;
    let margins: Margins = { left: EDGE, right: EDGE, bottom: EDGE };
    let size: Sizes = { width: 0, height: 0 };
    const sized = (): Sizes => ({
      width: (box.width - margins.left - margins.right - grid.gap * (grid.columns - 1)) / grid.columns,
      height: (box.height - margins.bottom - (top + grid.heading) * grid.rows - grid.gap * (grid.rows - 1)) / grid.rows,
    });
    // Labels of one panel do not reach below the one beside it.
    const beyond = (): Pick<Margins, 'left' | 'right'> =>
      grid.columns === 1 ? margins : { left: grid.gap / 2 - 1, right: grid.gap / 2 - 1 };
    const titled = (title: string): number => (this.isBare ? 0 : this.titleDepth(title));
    // Labels need room, and how much there is says which labels fit: a few rounds are enough, since they only take more.
    for (let round = 0; round < 3; round++) {
      size = sized();
      const { places, first: one, second: two } = this.labels(this.axes(size), size, box, beyond());
      const [left, below] = isFlipped ? [places, one] : [one, places];
      const [leftTitle, belowTitle] = isFlipped
        ? [settings.along.title, first.title]
        : [first.title, settings.along.title];
      const beside = isFlipped || two.depth === 0 ? 0 : two.depth + titled(second.title) + 2;
      margins = {
        left: Math.max(margins.left, left.depth + titled(leftTitle)),
        right: Math.max(margins.right, beside),
        bottom: Math.max(margins.bottom, below.depth + titled(belowTitle) + (isFlipped ? two.depth : 0)),
      };
    }
    size = sized();
    if (size.width < LEAST_PLOT || size.height < LEAST_PLOT) {
      // No room for words: the shape of the numbers is worth more than them.
      if (!this.isBare) this.bare().draw(box);
      return;
    }
    const axes = this.axes(size);
    const labels = this.labels(axes, size, box, beyond());
    for (const [i, panel] of panels.entries()) {
      const [column, row] = [i % grid.columns, Math.floor(i / grid.columns)];
      const area: Box = {
        x: box.x + margins.left + column * (size.width + grid.gap),
        y: box.y + (row + 1) * (top + grid.heading) + row * (size.height + grid.gap),
        ...size,
      };
      if (grid.heading > 0) this.heading(panel.title, area, top);
      const isLowest = i + grid.columns >= panels.length;
      this.panel(
        panel,
        area,
        axes,
        labels,
        column === 0,
        isLowest,
        column === grid.columns - 1 || i === panels.length - 1,
      );
    }
    if (!this.isBare) this.titles(box, margins, size, grid.rows);
  }

  private heading(title: string, { x, y, width }: Box, top: number): void {
    const { writer, out } = this;
    const words = labelOf(title);
    const text = writer.shortened(words, width, true);
    const put = { bold: true, ...(text === words ? {} : { tip: words }) };
    out.words(writer, text, x, y - top - 2, put);
  }

  private titles(box: Box, margins: Margins, size: Sizes, rows: number): void {
    const { writer, out, isFlipped } = this;
    const { along, scales } = this.chart.settings;
    const [left, below] = isFlipped ? [along.title, scales[0].title] : [scales[0].title, along.title];
    const put = { align: 'middle' as const, color: AXIS };
    const length = rows === 1 ? size.height : box.height - margins.bottom;
    const middle = box.y + box.height - margins.bottom - length / 2;
    const across = box.width - margins.left - margins.right;
    const said = (title: string, room: number): string => writer.shortened(labelOf(title), room);
    if (left !== '') out.words(writer, said(left, length), box.x + writer.size, middle, { ...put, turn: -90 });
    if (below !== '')
      out.words(
        writer,
        said(below, across),
        box.x + margins.left + across / 2,
        box.y + box.height - writer.size * 0.25,
        put,
      );
    if (!isFlipped && scales[1].title !== '' && this.extents[1])
      out.words(writer, said(scales[1].title, length), box.x + box.width - writer.size * 0.3, middle, {
        ...put,
        turn: -90,
      });
  }

  private panel(
    panel: ChartPanel,
    area: Box,
    axes: Axes,
    labels: { places: LaidLabels; first: LaidLabels; second: LaidLabels },
    isFirst: boolean,
    isLowest: boolean,
    isLast: boolean,
  ): void {
    const { chart, writer, out, isFlipped } = this;
    const { settings } = chart;
    const placer = new Labels(area, writer, out);
    const plot = new Plot(chart, panel, area, isFlipped, axes.along, axes.scales, writer, placer, out);
    for (const zone of settings.zones) this.zone(plot, zone);
    const { x, y, width, height } = area;
    const across = (at: number): void =>
      isFlipped
        ? out.line(x + at, y, x + at, y + height, { stroke: GRID })
        : out.line(x, y + height - at, x + width, y + height - at, { stroke: GRID });
    if (settings.scales[0].grid && !this.kind.rows) for (const { at } of axes.scales[0].ticks) across(at);
    if (settings.along.grid)
      for (const at of axes.along.lines)
        isFlipped
          ? out.line(x, y + at, x + width, y + at, { stroke: GRID })
          : out.line(x + at, y, x + at, y + height, { stroke: GRID });
    this.kind.draw(plot);
    for (const line of settings.lines) this.reference(plot, line);
    // The axis along stands where values are 0, and where they begin if none is.
    const [scale] = axes.scales;
    const zero = this.kind.rows ? 0 : scale.within(scale.base);
    if (isFlipped) out.line(x + zero, y, x + zero, y + height, { stroke: AXIS, thickness: 0.7 });
    else out.line(x, y + height - zero, x + width, y + height - zero, { stroke: AXIS, thickness: 0.7 });
    const [left, below] = isFlipped ? [labels.places, labels.first] : [labels.first, labels.places];
    if (isFirst) left.draw(out, x, y);
    if (isLowest) below.draw(out, x, y + height);
    if (isLast && !isFlipped) {
      // Labels of the second scale stand at the right of it.
      labels.second.draw(out, x + width + labels.second.depth + LABEL_GAP, y);
    } else if (isLowest && isFlipped) labels.second.draw(out, x, y + height + below.depth);
  }

  private zone(plot: Plot, { from, to, color, caption, isSecond }: ChartZone): void {
    const scale = plot.scale(isSecond);
    const [low, high] = [from === null ? 0 : scale.within(from), to === null ? this.lengthOf(plot) : scale.within(to)];
    const length = plot.alongLength;
    const box = plot.bar(length / 2, length, low, high);
    if (!(box.width > 0 && box.height > 0)) return;
    plot.out.rect(box, { fill: mix(color, '#ffffff', 0.82), ...(caption ? { tip: caption } : {}) });
    if (box.height >= plot.writer.lineHeight) this.caption(plot, caption, box, mix(color, '#1f2a2e', 0.2));
  }

  private lengthOf({ box, isFlipped }: Plot): number {
    return isFlipped ? box.width : box.height;
  }

  /** The words of a zone, in its upper right corner. */
  private caption({ labels, writer }: Plot, caption: string, box: Box, color: string): void {
    const words = writer.shortened(labelOf(caption), box.width - 6);
    const half = writer.width(words) / 2 + 3;
    const middle = box.y + writer.capHeight / 2 + 3;
    labels.put(
      words,
      [
        [box.x + box.width - half, middle],
        [box.x + half, middle],
      ],
      { color, over: true },
    );
  }

  private reference(plot: Plot, { at, caption, color, dash, isSecond }: ChartLine): void {
    const scale = plot.scale(isSecond);
    const place = scale.of(at);
    if (!(place >= -0.01 && place <= this.lengthOf(plot) + 0.01)) return;
    const [x1, y1] = plot.point(0, place);
    const [x2, y2] = plot.point(plot.alongLength, place);
    const { out, writer, labels, box } = plot;
    const words = labelOf(caption);
    out.line(x1, y1, x2, y2, { stroke: color, thickness: 1, dash: dashOf(dash), ...(words ? { tip: words } : {}) });
    const text = writer.shortened(words, box.width - 6);
    const half = writer.width(text) / 2 + 2;
    const off = writer.capHeight / 2 + 3;
    const places: [number, number][] = this.isFlipped
      ? [
          [x1 + half + 2, box.y + off],
          [x1 - half - 2, box.y + off],
          [x1 + half + 2, box.y + box.height - off],
        ]
      : [
          [box.x + box.width - half, y1 - off],
          [box.x + half, y1 - off],
          [box.x + box.width - half, y1 + off],
          [box.x + half, y1 + off],
          [box.x + box.width / 2, y1 - off],
        ];
    labels.put(text, places, { color, over: true, ground: true });
  }
}

/** Draws a chart that has two axes, one panel beside and below the other. */
export const drawAxes = (kind: AxesKind, chart: Chart, box: Box, writer: ChartWriter, out: Drawing): void =>
  new AxesDrawer(kind, chart, writer, out).draw(box);
