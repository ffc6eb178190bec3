import type {
  AlongSettings,
  Chart,
  ChartCell,
  ChartMeasure,
  ChartPanel,
  ChartPlace,
  ChartSplit,
} from '../../chart/chart.ts';
import { CHART_KINDS } from '../../chart/kinds.ts';
import type { ItemOf, RowGroup } from '../../definition/schema.ts';
import type { Compiled, EvaluationContext } from '../../formula/functions/context.ts';
import { numberOf, type PreparedFigure, placeOf, sayingOf } from '../../layout/figure.ts';
import type { LinkTarget } from '../../page/page.ts';
import { type Problem, problem } from '../../problems/problem.ts';
import { type CellAsk, CellContext, type CellTable, GroupNode, type PreparedSummary } from '../../shape/summary.ts';
import { type FormatSettings, formatValue } from '../../text/format.ts';
import { blankWord } from '../../text/report-words.ts';
import { type TextOrder, textOrderOf } from '../../text/text-order.ts';
import { type DataType, FormulaError, identityOf, type Value } from '../../value/value.ts';
import { type ChartGroup, chartGroups } from './groups.ts';
import { groupsOf, SPREAD_KEY } from './plan.ts';
import { chartSettings, unexpectedIn } from './settings.ts';

type ChartItem = ItemOf<'chart'>;

/** Past so many places one beside the other, nobody can tell them apart; past the second number they are not drawn. */
const MANY_PLACES = 200;
export const MOST_PLACES = 5_000;
const MANY_SLICES = 60;
const MOST_SERIES = 100;
const MOST_PANELS = 100;

/** A chart, or the reason why it cannot be drawn, with what is to be told of it. */
export interface ChartData {
  chart: Chart | Problem;
  problems: Problem[];
}

/** A place that finds its label when it is asked for it: of a hundred thousand few say what they are. */
class LazyPlace implements ChartPlace {
  private known: string | null = null;

  constructor(
    private readonly reader: ChartReader,
    private readonly group: ChartGroup,
    readonly at: number | null,
    readonly isOthers: boolean,
  ) {}

  get label(): string {
    this.known ??= this.reader.placeLabel(this.group);
    return this.known;
  }
}

/** A cell that writes its values when it is asked for them. */
class LazyCell implements ChartCell {
  private known: string[] | null = null;

  constructor(
    private readonly reader: ChartReader,
    private readonly found: readonly Value[],
    readonly values: readonly (number | null)[],
    readonly colors: readonly (string | null)[] | undefined,
    readonly link: LinkTarget | null,
  ) {}

  get texts(): readonly string[] {
    this.known ??= this.found.map((value, i) => this.reader.valueText(value, i));
    return this.known;
  }
}

/** Reads the groups of a summary as a chart. */
export class ChartReader {
  private readonly cell: CellContext;
  private readonly problems: Problem[] = [];
  private readonly format: FormatSettings;
  private readonly texts: TextOrder;
  private readonly groups: ReturnType<typeof groupsOf>;
  /** What is worked out of each cell. */
  private readonly measured: readonly { evaluate: Compiled | null; highlights: { when: Compiled; color: string }[] }[];

  constructor(
    private readonly item: ChartItem,
    private readonly figure: PreparedFigure,
    private readonly summary: PreparedSummary,
    private readonly table: CellTable,
    context: EvaluationContext,
    private readonly asks: CellAsk | null = null,
  ) {
    this.cell = new CellContext(context, summary, table.empty());
    const { language, timeZone } = context.report;
    this.format = { language, timeZone };
    this.texts = textOrderOf(language);
    this.groups = groupsOf(item);
    this.measured = item.measures.map(({ highlights = [] }, i) => ({
      evaluate: figure.formula(`measures/${i}`),
      highlights: highlights.flatMap(({ color }, h) => {
        const when = figure.formula(`measures/${i}/highlights/${h}/when`);
        return when ? [{ when, color }] : [];
      }),
    }));
  }

  read(): ChartData {
    const { item, problems, figure, table, cell } = this;
    const places = this.places();
    const tooMany = this.tooManyPlaces(places.length);
    if (tooMany) return { chart: tooMany, problems };
    const panels = this.panels();
    const splits = this.splits(panels);
    for (const [code, count, limit] of [
      ['too-many-series', splits.length, MOST_SERIES],
      ['too-many-panels', panels.length, MOST_PANELS],
    ] as const)
      if (count > limit) {
        const found = problem(code, { item: item.id }, { count, limit });
        return { chart: found, problems: [found] };
      }
    const kind = this.alongKind();
    // Lines, zones and scales stand over all rows of the chart.
    cell.at(table.down, table.across);
    const settings = chartSettings(item, kind, (path) => figure.number(path, cell.context));
    const chart: Chart = {
      settings,
      saying: sayingOf(this.format, kind === 'days'),
      places: places.map((place) => this.place(place)),
      splits: splits.map(({ value, others }): ChartSplit => {
        const label = this.groups.split ? this.label(value, others, this.groups.split, 'split') : '';
        return { label, color: this.colorOf(label), ...(others === null ? {} : { isOthers: true }) };
      }),
      measures: this.measures(),
      panels: panels.map(
        (panel, p): ChartPanel => ({
          title: this.groups.panels ? this.label(panel.value, panel.others, this.groups.panels, 'panels') : '',
          cells: splits.map(({ nodes }, s) =>
            places.map((place, i) => this.cellOf(place, nodes[p]!, (p * splits.length + s) * places.length + i)),
          ),
        }),
      ),
    };
    return { chart, problems: [...problems, ...unexpectedIn(item, chart)] };
  }

  /**
   * The values of its groups, along, by panel and split, and the exact numbers behind each that has rows. Of a chart that shows how
   * values are spread: each value, and how many rows have it.
   */
  *rows(): Generator<Value[]> {
    const { figure, cell, measured } = this;
    const places = this.places();
    const panels = this.panels();
    const splits = this.splits(panels);
    const { along, split } = this.groups;
    for (const place of places)
      for (const [p, panel] of panels.entries())
        for (const { nodes, value } of splits) {
          const across = nodes[p];
          if (!across || !place.node.cells.has(across.id)) continue;
          const start = along ? [place.value] : [];
          const end = [...(this.groups.panels ? [panel.value] : []), ...(split ? [value] : [])];
          for (const node of this.isSpread ? place.node.inner : [place.node]) {
            if (!node.cells.has(across.id)) continue;
            cell.at(node, across);
            yield this.isSpread
              ? [...start, node.value, ...end, figure.formula('spread')?.(cell.context) ?? null]
              : [...start, ...end, ...measured.map(({ evaluate }) => evaluate?.(cell.context) ?? null)];
          }
        }
  }

  private get isSpread(): boolean {
    return this.groups.isSpread;
  }

  private places(): ChartGroup[] {
    const { table, cell, texts, figure } = this;
    const { along } = this.groups;
    if (!along) return [{ node: table.down, value: null, others: null }];
    const ordering = { cell, texts, at: (node: GroupNode) => cell.at(node, table.across) };
    const merge = (target: GroupNode, nodes: readonly GroupNode[]): void => this.mergePlaces(target, nodes);
    return chartGroups(table, table.down, table.down.inner, along, figure.formula('along/order'), ordering, merge);
  }

  /** Where places have the values of rows inside, those of one that stands for several are all of theirs. */
  private mergePlaces(target: GroupNode, nodes: readonly GroupNode[]): void {
    this.table.mergeDown(target, nodes);
    if (this.isSpread) target.inner.push(...nodes.flatMap(({ inner }) => inner));
  }

  /** What to draw, when places stand beside one another and there are too many of them. */
  private tooManyPlaces(count: number): Problem | null {
    const { item } = this;
    if (this.alongKind() !== 'categories') return null;
    const isRound = item.type === 'pie' || item.type === 'ring';
    const many = isRound ? MANY_SLICES : MANY_PLACES;
    // Dots do not stand beside one another.
    if (count <= many || item.type === 'scatter' || item.type === 'bubble') return null;
    const isTooMany = count > MOST_PLACES;
    const found = problem(
      'too-many-places',
      { item: item.id },
      { count, limit: isTooMany ? MOST_PLACES : many },
      isTooMany ? 'error' : 'warning',
    );
    this.problems.push(found);
    return isTooMany ? found : null;
  }

  private panels(): ChartGroup[] {
    const { table, cell, texts, figure } = this;
    const { panels } = this.groups;
    if (!panels) return [{ node: table.across, value: null, others: null }];
    const ordering = { cell, texts, at: (node: GroupNode) => cell.at(table.down, node) };
    // What is left over is left out: it would be a panel unlike the others.
    const { others: _, ...group } = panels;
    return chartGroups(
      table,
      table.across,
      table.across.inner,
      group,
      figure.formula('panels/order'),
      ordering,
      () => {},
    );
  }

  /** The values of the split over all panels, each with its nodes by panel; null where a panel has none of it. */
  private splits(panels: readonly ChartGroup[]): (ChartGroup & { nodes: (GroupNode | null)[] })[] {
    const { table, cell, texts, figure } = this;
    const { split } = this.groups;
    if (!split) return [{ node: table.across, value: null, others: null, nodes: panels.map(({ node }) => node) }];
    const inside = panels.map(({ node }) => new Map(node.inner.map((inner) => [identityOf(inner.value), inner])));
    const depth = panels[0] ? panels[0].node.depth + 1 : 1;
    // One node over all panels for each value, so that they are in the same order in each.
    const whole = new Map<string, GroupNode>();
    const parts = new Map<GroupNode, (GroupNode | null)[]>();
    for (const [p, nodes] of inside.entries())
      for (const [key, node] of nodes) {
        let one = whole.get(key);
        if (!one) {
          one = panels.length === 1 ? node : new GroupNode(table.nextId(), node.value, table.across, depth);
          whole.set(key, one);
          parts.set(
            one,
            panels.map(() => null),
          );
        }
        parts.get(one)![p] = node;
      }
    if (panels.length > 1)
      for (const [one, nodes] of parts)
        table.mergeAcross(
          one,
          nodes.filter((node) => node !== null),
        );
    const ordering = { cell, texts, at: (node: GroupNode) => cell.at(table.down, node) };
    const merge = (target: GroupNode, nodes: readonly GroupNode[]): void => {
      table.mergeAcross(target, nodes);
      const own = panels.map((panel, p) => {
        const inner = nodes.flatMap((node) => parts.get(node)?.[p] ?? []);
        if (panels.length === 1) return target;
        const node = new GroupNode(table.nextId(), target.value, panel.node, depth);
        table.mergeAcross(node, inner);
        return node;
      });
      parts.set(target, own);
    };
    const groups = chartGroups(
      table,
      table.across,
      [...whole.values()],
      split,
      figure.formula('split/order'),
      ordering,
      merge,
    );
    return groups.map((group) => ({ ...group, nodes: parts.get(group.node) ?? panels.map(() => null) }));
  }

  private label(value: Value, others: string | null, group: RowGroup, name: 'along' | 'split' | 'panels'): string {
    if (others !== null) return others;
    if (value === null || value === '') return blankWord(this.format.language);
    return formatValue(value, this.formatOf(group, name), this.format);
  }

  /** Number format of the labels of a group. */
  private formatOf({ format }: RowGroup, name: 'along' | 'split' | 'panels'): string {
    if (format) return format;
    return this.summary.summary.keys[this.keyAt(name)]?.format ?? '';
  }

  private keyAt(name: 'along' | 'split' | 'panels'): number {
    const { keys } = this.summary.summary;
    return keys.findIndex((key) => key.name === this.groups[name]?.name);
  }

  private place(group: ChartGroup): ChartPlace {
    if (!this.groups.along) return { at: null, label: '' };
    const { value, others } = group;
    return new LazyPlace(this, group, others === null ? placeOf(value) : null, others !== null);
  }

  placeLabel({ value, others }: ChartGroup): string {
    return this.label(value, others, this.groups.along!, 'along');
  }

  /** What a measure says of a value. */
  valueText(value: Value, measure: number): string {
    if (value instanceof FormulaError) return value.code;
    return formatValue(value, this.figure.format(`measures/${measure}`), this.format);
  }

  private colorOf(label: string): string | null {
    return this.item.colors?.find((one) => one.label === label)?.color ?? null;
  }

  private measures(): ChartMeasure[] {
    const { item, figure } = this;
    const { roles } = CHART_KINDS[item.type];
    const shown = roles[0] === 'value' ? item.measures : item.measures.slice(0, roles.length);
    return shown.map(({ caption, formula, color, drawnAs, second }, i) => ({
      caption: caption ?? formula,
      drawnAs: item.type === 'column' ? (drawnAs ?? null) : null,
      isSecond: second ?? false,
      color: color ?? null,
      format: this.isSpread
        ? (this.summary.summary.keys.find(({ name }) => name === SPREAD_KEY)?.format ?? '')
        : figure.format(`measures/${i}`),
    }));
  }

  private cellOf({ node }: ChartGroup, across: GroupNode | null, number: number): ChartCell | null {
    if (!across || !node.cells.has(across.id)) return null;
    const { cell } = this;
    this.asks?.(this.item.id, number, node, across);
    if (this.isSpread) {
      const spread = this.spreadOf(node, across);
      cell.at(node, across);
      return { values: [], texts: [], spread, link: this.linkHere(number) };
    }
    cell.at(node, across);
    const found: Value[] = [];
    const values: (number | null)[] = [];
    let colors: (string | null)[] | undefined;
    for (const [i, { evaluate, highlights }] of this.measured.entries()) {
      const value = evaluate?.(cell.context) ?? null;
      found.push(value);
      values.push(numberOf(value));
      for (const { when, color } of highlights) {
        if (when(cell.context) !== true) continue;
        colors ??= this.measured.map(() => null);
        colors[i] = color;
      }
    }
    return new LazyCell(this, found, values, colors, this.linkHere(number));
  }

  /** Where a click on the cell leads that is current: to the rows behind it where the report says nothing else. */
  private linkHere(number: number): LinkTarget {
    const { item, figure, cell } = this;
    return item.onPress ? figure.target(item.onPress, 'onPress', cell.context) : { cell: number };
  }

  private spreadOf(node: GroupNode, across: GroupNode): [number, number][] {
    const counts = new Map<number, number>();
    for (const inner of node.inner) {
      const value = numberOf(inner.value);
      if (value === null || !inner.cells.has(across.id)) continue;
      this.cell.at(inner, across);
      const times = this.figure.number('spread', this.cell.context) ?? 0;
      if (times > 0) counts.set(value, (counts.get(value) ?? 0) + times);
    }
    return [...counts].sort(([a], [b]) => a - b);
  }

  /** The kind of the axis, by the values along it. */
  private alongKind(): AlongSettings['kind'] {
    const { item } = this;
    const { isStretched = false } = CHART_KINDS[item.type];
    const key = this.summary.summary.keys[this.keyAt('along')];
    if (!isStretched || !key || item.axis?.kind === 'categories') return 'categories';
    const kinds: Partial<Record<DataType, AlongSettings['kind']>> = {
      number: 'numbers',
      date: 'days',
      datetime: 'time',
    };
    return kinds[key.type] ?? 'categories';
  }
}
