import type { PlannedCrosstab } from '../../data/planned.ts';
import type { ItemOf } from '../../definition/schema.ts';
import { compileFormula } from '../../formula/compile.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import type { Flow } from '../../layout/flow.ts';
import { noticeBlock } from '../../layout/notice.ts';
import type { Filling, PreparedCommon } from '../../layout/prepared.ts';
import {
  type PrepareItem,
  type Preparing,
  plainItem,
  preparedHighlight,
  preparedLink,
  shownBy,
} from '../../layout/preparing.ts';
import type { FlowHost } from '../../layout/run-shared.ts';
import { type Problem, problem, problemText } from '../../problems/problem.ts';
import { type FoldSign, foldKeyOf, prepareFold } from '../../shape/folds.ts';
import { CellContext, CellTable, type GroupNode, prepareSummary } from '../../shape/summary.ts';
import { type TextOrder, textOrderOf } from '../../text/text-order.ts';
import { FormulaError, identityOf } from '../../value/value.ts';
import { cellFormat } from './cell-format.ts';
import { type Grid, gridOf } from './grid.ts';
import type { PreparedCrosstab } from './prepared.ts';
import { Sheet } from './sheet.ts';
import { GridValues } from './values.ts';

/** Most columns of values that a crosstab may have. */
const MOST_COLUMNS = 2_000;
/** Room that a crosstab needs to start on a page: its headings and a row or two. Points. */
const LEAST_START = 60;

const WRONG = new FormulaError('#NAME?');

export const prepareCrosstab: PrepareItem<'crosstab'> = ({ item, crosstab }, common, preparing) => {
  // An empty one says on the board that it is, and nothing on the page.
  if (item.cells.length === 0) return plainItem(common, { item, shapes: {}, lay: () => {} });
  if (!crosstab) return preparing.broken(common);
  const prepared = preparedOf(item, crosstab, common, preparing);
  const { id, box, showIf } = common;
  return { id, box, showIf, least: LEAST_START, streams: true, begin: (run) => new CrosstabRuns(run, prepared) };
};

const preparedOf = (
  item: ItemOf<'crosstab'>,
  { summary, down, across, folds, cells }: PlannedCrosstab,
  common: PreparedCommon,
  preparing: Preparing,
): PreparedCrosstab => {
  const orders = (list: typeof down): (Compiled | null)[] => list.map((one) => one && compileFormula(one));
  const foldable = folds.map((fold) => fold && prepareFold(fold));
  return {
    item,
    common,
    preparing,
    summary: prepareSummary(summary, item.down.length),
    orders: { down: orders(down), across: orders(across) },
    folds: { down: foldable.slice(0, down.length), across: foldable.slice(down.length) },
    cells: cells.map(({ formula, highlights, link }, i) => {
      const cell = item.cells[i]!;
      return {
        cell,
        evaluate: shownBy(formula),
        format: 'formula' in formula ? cellFormat(cell, formula.format) : '',
        highlights: highlights.map(preparedHighlight),
        link: link && preparedLink({ to: 'report', ...link }),
      };
    }),
    formats: summary.keys.map((key) => key.format),
  };
};

/** Values of a group and those around it, outermost first, as they tell groups apart. */
const valuesTo = (node: GroupNode): string[] => (node.parent ? [...valuesTo(node.parent), identityOf(node.value)] : []);

/** The instances of a crosstab in one run of its report. */
class CrosstabRuns implements Filling {
  constructor(
    private readonly around: FlowHost,
    private readonly prepared: PreparedCrosstab,
  ) {}

  async fill(flow: Flow): Promise<void> {
    const { around, prepared } = this;
    const { item, common, preparing, summary, cells } = prepared;
    const table = await around.rows.cellsOf(summary);
    const notice = (words: string): void => flow.place(noticeBlock(words, common.box.width, preparing.book));
    if (table instanceof FormulaError) return notice(table.code);
    // What went wrong with rows has been told of by whoever reads them.
    if (!(table instanceof CellTable)) return notice(problemText(table));
    const { report } = preparing;
    const texts = textOrderOf(report.language);
    const cell = new CellContext(around.rows.context, summary, table.empty());
    const grid = this.grid(table, cell, texts);
    const count = grid.columns.length * (item.below ? 1 : cells.length);
    if (count > MOST_COLUMNS) {
      const found = problem('too-many-across', { item: item.id }, { count, limit: MOST_COLUMNS });
      this.tell(found);
      return notice(problemText(found));
    }
    const { isLiving, watch } = around.shared;
    const sheet = new Sheet(prepared, grid, cell, this.values(table, cell, grid), isLiving, watch?.asks);
    if (table.count === 0) sheet.nothing(flow);
    else await sheet.fill(flow, around.shared.deliver);
  }

  private grid(table: CellTable, cell: CellContext, texts: TextOrder): Grid {
    const { item, orders, folds } = this.prepared;
    const { rows, shared } = this.around;
    const own = rows.foldKey(item.id);
    const signs =
      (axis: 'down' | 'across') =>
      (node: GroupNode, group: number): FoldSign | null => {
        const fold = folds[axis][group];
        // What is closed in it has no rows that could be folded away.
        return fold
          ? shared.folds.sign(fold, () => foldKeyOf([own, axis, ...valuesTo(node)]), cell.context, false)
          : null;
      };
    const { down, across, totalDown = 'after', totalAcross = 'after', labels = 'indented' } = item;
    return gridOf(
      { table, cell, texts },
      {
        groups: down,
        orders: orders.down,
        whole: totalDown,
        sign: signs('down'),
        total: labels === 'indented' ? 'before' : 'after',
        hasHeadings: labels === 'indented',
      },
      {
        groups: across,
        orders: orders.across,
        whole: totalAcross,
        total: 'after',
        sign: signs('across'),
        hasHeadings: false,
      },
    );
  }

  private values(table: CellTable, cell: CellContext, grid: Grid): GridValues {
    const shown = this.prepared.cells.map(({ cell: { shows = 'value' }, evaluate }) => ({
      shows,
      evaluate: evaluate ?? (() => WRONG),
    }));
    return new GridValues(table, cell, grid, shown);
  }

  /** Tells of what is found in several instances once. */
  private tell(found: Problem): void {
    const { problems } = this.around.shared;
    if (!problems.some(({ code, place }) => code === found.code && place.item === found.place.item))
      problems.push(found);
  }

  close(): void {}
}
