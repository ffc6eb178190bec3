import { mix } from '../chart/colors.ts';
import type { Highlight } from '../definition/look.ts';
import type { ItemOf, PageSetup, Report, RowGroup } from '../definition/schema.ts';
import { paperSize, widthBetween } from '../definition/schema.ts';
import { reportFrame } from '../edit/guided.ts';
import { INDENT } from '../edit/guided-columns.ts';
import { idMaker } from '../edit/ids.ts';
import { itemWith } from '../edit/item-edit.ts';
import { STYLE_OF, THEMES, type Theme, themedItem } from '../edit/themes.ts';
import { writtenName } from '../formula/tokens.ts';
import type { Field } from '../model/model.ts';
import type { RecipeContext } from '../recipe/planned.ts';
import { pageWords, totalWord } from '../text/report-words.ts';
import { chartItem, chartOf } from './chart.ts';
import { rowFormula, shownFormat, totalOf } from './levels.ts';
import { renamed } from './names.ts';
import { BarSteps } from './report-bars.ts';
import {
  groupsOf,
  isAcrossDescending,
  type Sketch,
  type SketchAcross,
  type SketchColumn,
  type SketchGroup,
} from './schema.ts';
import { type SketchRows, sketchRows } from './steps.ts';

/** How the report of a sketch looks. */
export interface SketchReportOptions {
  page?: PageSetup | undefined;
  theme?: Theme | undefined;
}

/** Name of the query that a sketch's rows are, in its report. */
const ROWS = 'rows';
/** Between columns, in millimetres. */
const GAP = 2;
const LINE = 6;
/** Width of a bar, as a share of its cell, and its height in millimetres, which leaves no room for words. */
const BAR = 0.42;
const BAR_HEIGHT = 2.2;
const CHART_HEIGHT = 65;
/** Ground of every second row where the theme has none for it. */
const STRIPES = '#f3f1ea';
/** Of a column of numbers on screen, in CSS pixels. */
const USUAL_WIDTH = 120;
/** Least width of a column, in millimetres, where the paper is upright. */
const NARROW = 18;

/** The report that shows what a sketch does: the same lines with the same totals, on paper. */
export const sketchReport = (sketch: Sketch, context: RecipeContext, options: SketchReportOptions = {}): Report =>
  new SketchReport(sketch, sketchRows(sketch, context), options).make();

class SketchReport {
  private readonly frame: Report;
  private readonly idFor: ReturnType<typeof idMaker>;
  private readonly bars: BarSteps;
  /** Those that are seen. */
  private readonly columns: readonly SketchColumn[];
  /** Left edge and width of each column, in millimetres; the first is that of the groups where there are any. */
  private readonly places: { x: number; width: number }[];

  constructor(
    private readonly sketch: Sketch,
    private readonly rows: SketchRows,
    private readonly options: SketchReportOptions,
  ) {
    const { page, theme } = options;
    const { language, timeZone } = sketch;
    const frame = reportFrame(sketch.name, page, pageWords(language), theme);
    this.columns = sketch.columns.filter(({ hidden }) => !hidden);
    const hasGroups = sketch.groups.length > 0;
    const weights = [...(hasGroups ? [2] : []), ...this.columns.map((column) => this.weight(column))];
    const upright = widthBetween(frame.page);
    const isPortrait = paperSize(frame.page).width < paperSize(frame.page).height;
    const isWide = isPortrait && (sketch.across !== undefined || upright / weights.length < NARROW);
    const paper: PageSetup = isWide ? { ...frame.page, orientation: 'landscape' } : frame.page;
    this.frame = { ...frame, page: paper, language, timeZone };
    this.idFor = idMaker(this.frame);
    this.bars = new BarSteps([...rows.groups.values(), ...rows.columns.values()].map(({ name }) => name));
    const room = widthBetween(paper) - GAP * (weights.length - 1);
    const whole = weights.reduce((sum, weight) => sum + weight, 0) || 1;
    let x = 0;
    this.places = weights.map((weight) => {
      const width = Math.floor((room * weight * 10) / whole) / 10;
      const place = { x: Math.round(x * 10) / 10, width };
      x += width + GAP;
      return place;
    });
  }

  make(): Report {
    const { sketch, rows, frame } = this;
    const { steps, queries, groups } = rows;
    const { order } = sketch;
    const whole = (body: Report['body']): Report => ({
      ...frame,
      header: this.withChart(frame.header!),
      queries: [...queries, { name: ROWS, label: sketch.name, steps: [...steps, ...this.bars.steps] }],
      body,
    });
    if (sketch.across) return whole([this.crossed(sketch.across)]);
    const header = { height: LINE + 1, everyPage: true, items: this.captions() };
    const made = sketch.groups.flatMap((group, i): NonNullable<Report['body'][number]['groups']> => {
      const key = groups.get(group.name);
      if (!key) return [];
      const isLast = i === sketch.groups.length - 1;
      const value = {
        kind: 'field' as const,
        id: this.idFor('field'),
        x: this.places[0]!.x + i * INDENT,
        y: 0.5,
        width: this.places[0]!.width - i * INDENT,
        height: 5,
        formula: writtenName(group.name),
        ...(key.format ? { format: key.format } : {}),
        style: STYLE_OF.value,
        ...(isLast && !sketch.rows ? {} : { look: { bold: true } }),
      };
      return [
        {
          name: group.name,
          by: writtenName(key.name),
          ...this.groupOrder(group.name),
          header: { height: LINE, items: [value, ...this.totals(false, !isLast || sketch.rows, i + 1)] },
        },
      ];
    });
    const sort = order.flatMap(({ by, descending }) => {
      const column = rows.columns.get(by);
      return column ? [{ by: writtenName(column.name), ...(descending ? { descending: true } : {}) }] : [];
    });
    const stripes = sketch.stripes ? (this.options.theme?.alternate ?? STRIPES) : null;
    return whole([
      {
        id: ROWS,
        name: 'row',
        rows: { entity: ROWS },
        ...(stripes === null ? {} : { alternate: stripes }),
        ...(made.length > 0 ? { groups: made } : {}),
        ...(sketch.rows && sort.length > 0 ? { sort } : {}),
        header,
        ...(sketch.rows ? { detail: { height: LINE - 0.5, items: this.values() } } : {}),
        ...(this.hasEnd() ? { footer: { height: LINE + 1, items: this.end() } } : {}),
      },
    ]);
  }

  /** How a group is ordered: by itself, or by a column with totals. */
  private groupOrder(name: string): { order?: string; descending?: boolean } {
    const { order } = this.sketch;
    const own = order.find(({ by }) => by === name);
    const groups = new Set(groupsOf(this.sketch).map((group) => group.name));
    const by = order.find((entry) => !groups.has(entry.by) && this.total(entry.by, false) !== null);
    const ordered = own ?? by;
    return {
      ...(ordered && ordered !== own ? { order: this.total(ordered.by, false)! } : {}),
      ...(ordered?.descending ? { descending: true } : {}),
    };
  }

  /** The drawer of a sketch with a field across: a crosstab of all rows. */
  private crossed(across: SketchAcross): Report['body'][number] {
    const { sketch, frame, options } = this;
    const down = sketch.groups.flatMap((group) => {
      const key = this.rowGroup(group);
      return key ? [{ ...key, ...this.groupOrder(group.name), total: 'before' as const }] : [];
    });
    const over = this.rowGroup(across);
    const cells = this.columns.flatMap((column) => {
      const formula = this.total(column.name, false);
      if (formula === null) return [];
      const total = totalOf(column, false);
      return [
        {
          caption: this.captionOf(column),
          formula,
          ...this.formatOf(column, total),
          ...this.highlightsOf(column, formula),
        },
      ];
    });
    const item = itemWith(
      'crosstab',
      { id: this.idFor('crosstab'), x: 0, y: 0, width: widthBetween(frame.page), height: 30 },
      {
        down,
        across: over ? [{ ...over, ...(isAcrossDescending(sketch) ? { descending: true } : {}) }] : [],
        cells,
        labels: 'indented',
        totalDown: 'after',
        totalAcross: across.withoutTotal ? 'none' : 'after',
        totalCaption: totalWord(sketch.language),
        ...themedItem('crosstab', options.theme ?? THEMES[0]!),
      },
    );
    return { id: ROWS, name: 'row', rows: { entity: ROWS }, header: { height: 30, items: [item] } };
  }

  private captionOf({ name, label }: SketchColumn): string {
    return label ?? this.rows.columns.get(name)?.label ?? name;
  }

  /** The report's header with the chart below what stands there, where the sketch has one. */
  private withChart(header: NonNullable<Report['header']>): NonNullable<Report['header']> {
    const { sketch, options } = this;
    const shown = sketch.chart ? chartOf(sketch) : null;
    if (!shown) return header;
    const along = this.rowGroup(shown.along);
    const split = shown.split && this.rowGroup(shown.split);
    const measures = shown.measures.flatMap((column) => {
      const formula = this.total(column.name, false);
      if (formula === null) return [];
      return [{ formula, caption: this.captionOf(column), ...this.formatOf(column, totalOf(column, false)) }];
    });
    if (!along || measures.length === 0) return header;
    const [first] = sketch.order;
    const order = first && shown.along.per === undefined ? this.total(first.by, false) : null;
    const item = itemWith(
      'chart',
      { id: this.idFor('chart'), x: 0, y: header.height, width: widthBetween(this.frame.page), height: CHART_HEIGHT },
      {
        ...chartItem(shown),
        rows: { entity: ROWS },
        along: { ...along, ...(order === null ? {} : { order, ...(first!.descending ? { descending: true } : {}) }) },
        ...(split ? { split } : {}),
        measures,
        ...themedItem('chart', options.theme ?? THEMES[0]!),
      },
    );
    return { ...header, height: header.height + CHART_HEIGHT + 4, items: [...header.items, item] };
  }

  private rowGroup({ name, label }: SketchGroup): RowGroup | null {
    const key = this.rows.groups.get(name);
    if (!key) return null;
    const caption = label ?? key.label;
    return { name, by: writtenName(key.name), caption, ...(key.format ? { format: key.format } : {}) };
  }

  private field({ name }: SketchColumn): Field | undefined {
    return this.rows.columns.get(name);
  }

  private weight(column: SketchColumn): number {
    if (column.width !== undefined) return column.width / USUAL_WIDTH;
    const type = this.field(column)?.type;
    return type === 'text' ? 2 : type === 'datetime' ? 1.5 : 1;
  }

  /** Whether a column's values stand at its right. */
  private isNumber(column: SketchColumn): boolean {
    const type = this.field(column)?.type;
    if (type === undefined) return true;
    return this.sketch.rows ? type === 'number' : true;
  }

  private at(i: number): { x: number; width: number } {
    return this.places[i + (this.sketch.groups.length > 0 ? 1 : 0)]!;
  }

  private captions(): Report['body'][number]['header'] extends { items: infer I } | undefined ? I : never {
    const { columns } = this;
    const { groups } = this.sketch;
    const label = (name: string, own: string | undefined, field: Field | undefined): string =>
      own ?? field?.label ?? name;
    const caption = (words: string, { x, width }: { x: number; width: number }, isRight: boolean) => ({
      kind: 'text' as const,
      id: this.idFor('text'),
      ...{ x, y: 0.5, width, height: 5 },
      content: [words],
      style: STYLE_OF.caption,
      ...(isRight ? { look: { align: 'right' as const } } : {}),
    });
    const first = groups.map((g) => label(g.name, g.label, this.rows.groups.get(g.name))).join(' › ');
    const line = {
      kind: 'line' as const,
      id: this.idFor('line'),
      ...{ x: 0, y: LINE, width: widthBetween(this.frame.page), height: 0 },
    };
    return [
      ...(groups.length > 0 ? [caption(first, this.places[0]!, false)] : []),
      ...columns.map((column, i) =>
        caption(label(column.name, column.label, this.field(column)), this.at(i), this.isNumber(column)),
      ),
      line,
    ] as never;
  }

  /** The formula of a column on the lines of groups or at the end; null where it has none. */
  private total(name: string, isEnd: boolean, depth = 0): string | null {
    const column = this.sketch.columns.find((c) => c.name === name);
    if (!column || depth > this.sketch.columns.length) return null;
    if (column.ofLine !== undefined) return this.lineFormula(column.ofLine, isEnd, depth);
    const total = totalOf(column, isEnd);
    if (total === null) return null;
    const field = this.field(column);
    if (!field) return total === 'COUNT' && column.field === undefined ? 'COUNT(row)' : null;
    return `${total}(${writtenName(field.name)})`;
  }

  /** A formula of a line, with each column's total in the place of its name; null where one has none. */
  private lineFormula(source: string, isEnd: boolean, depth: number): string | null {
    let isWhole = true;
    const made = renamed(source, (path) => {
      const total = this.total(path, isEnd, depth + 1);
      if (total === null) isWhole = false;
      return total === null ? null : `(${total})`;
    });
    return isWhole ? made : null;
  }

  /** Other colours for numbers that are so, as a field of the report says it. */
  private highlightsOf({ highlights = [] }: SketchColumn, formula: string): { highlights?: Highlight[] } {
    if (highlights.length === 0) return {};
    return {
      highlights: highlights.map(({ is, to, color }) => ({
        when: `(${formula}) ${is === 'less' ? '<' : '>'} ${to}`,
        look: { color, bold: true },
      })),
    };
  }

  private formatOf(column: SketchColumn, total: SketchColumn['total'] | null): { format?: string } {
    const format = shownFormat(column, total ?? null, this.field(column));
    return format === undefined ? {} : { format };
  }

  /** `depth`: of the groups on whose lines they stand, from 1; 0 for the end, which has no bars. */
  private totals(isEnd: boolean, isBold: boolean, depth: number) {
    const keys = this.sketch.groups.slice(0, depth).flatMap(({ name }) => this.rows.groups.get(name)?.name ?? []);
    return this.columns.flatMap((column, i) => {
      const formula = this.total(column.name, isEnd);
      if (formula === null) return [];
      const bar =
        column.bars && depth > 0 && this.isNumber(column)
          ? [this.bar(i, 1.3, formula, this.bars.ofGroups(column.name, formula, keys))]
          : [];
      const look = { ...(isBold ? { bold: true } : {}), ...(this.isNumber(column) ? { align: 'right' as const } : {}) };
      return [
        ...bar,
        {
          kind: 'field' as const,
          id: this.idFor('field'),
          ...{ ...this.at(i), y: 0.5, height: 5 },
          formula,
          ...this.formatOf(column, totalOf(column, isEnd)),
          ...(isBold ? {} : this.highlightsOf(column, formula)),
          style: STYLE_OF.value,
          ...(Object.keys(look).length > 0 ? { look } : {}),
        },
      ];
    });
  }

  /** A bar at the start of a cell, as long as its number is among those of the longest one. */
  private bar(i: number, y: number, value: string, longest: string): ItemOf<'gauge'> {
    const { x, width } = this.at(i);
    const { palette } = this.options.theme ?? THEMES[0]!;
    return itemWith(
      'gauge',
      { id: this.idFor('gauge'), x, y, width: Math.round(width * BAR * 10) / 10, height: BAR_HEIGHT },
      { type: 'bar', value: `ABS(${value})`, from: '0', to: longest, color: mix(palette[0]!, '#ffffff', 0.75) },
    );
  }

  /** What a row shows. */
  private values() {
    return this.columns.flatMap((column, i) => {
      const field = this.field(column);
      const formula = field ? writtenName(field.name) : column.ofLine && rowFormula(column.ofLine, this.rows.columns);
      if (!formula) return [];
      const hasBar = column.bars && this.isNumber(column);
      return [
        ...(hasBar ? [this.bar(i, 1, formula, this.bars.ofRows(column.name, formula))] : []),
        {
          kind: 'field' as const,
          id: this.idFor('field'),
          ...{ ...this.at(i), y: 0.2, height: 5 },
          formula,
          ...this.formatOf(column, null),
          ...this.highlightsOf(column, formula),
          style: STYLE_OF.value,
          ...(this.isNumber(column) ? { look: { align: 'right' as const } } : {}),
        },
      ];
    });
  }

  private hasEnd(): boolean {
    return this.columns.some((column) => this.total(column.name, true) !== null);
  }

  private end() {
    const total = totalWord(this.sketch.language);
    const items = this.totals(true, true, 0);
    if (this.sketch.groups.length === 0) return items;
    const { x, width } = this.places[0]!;
    return [
      {
        kind: 'text' as const,
        id: this.idFor('text'),
        ...{ x, y: 0.5, width, height: 5 },
        content: [total],
        style: STYLE_OF.value,
        look: { bold: true },
      },
      ...items,
    ];
  }
}
