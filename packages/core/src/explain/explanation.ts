import type { TotalScope } from '../data/level.ts';
import type { CheckedType } from '../formula/checked.ts';
import type { TotalName } from '../formula/functions/index.ts';
import type { WireValue } from '../value/value.ts';

/** Which value is asked about: of an item, in the instance of a band that a region of a page names. */
export interface AskedValue {
  item: string;
  /** As a region names it; null for a band of the page. */
  band: string | null;
  /** The row behind it and those around, as a region names them; null for a band of the page. */
  rows: string | null;
  /** Of an item that groups rows: one cell of it, from 0; null for all of them. */
  cell: number | null;
  /** The 1-based page that it stands on. */
  page: number;
}

/** One of the rows around a value: of which drawer, and what it is called. */
export interface RowAround {
  drawer: string;
  /** What the report shows of it first; its key where it shows nothing. */
  name: string;
}

/** A condition that cuts the rows of a drawer, or how many of them are shown. */
export type RowsCut =
  | { kind: 'filter'; drawer: string; formula: string }
  | { kind: 'first'; drawer: string; count: number }
  /** A step of the query that the rows come from. */
  | { kind: 'keep'; query: string; formula: string }
  | { kind: 'query'; query: string };

export interface ExplainedField {
  label: string;
  /** Of which rows it is a field. */
  drawer: string;
  text: string;
}

export interface ListedRow {
  /** One for each column, as the report would show it. */
  texts: string[];
  /** Names the row and those around it, as regions of pages do. */
  rows: string;
}

/** A total that a value is made of, with the rows that it counts. */
export interface ExplainedTotal {
  name: TotalName | 'RANK' | 'RUNNING';
  /** What is counted of each row: a formula with the labels of fields in the place of their names. */
  of: string;
  /** Of which rows. */
  drawer: string;
  scope: {
    kind: TotalScope['kind'];
    drawer: string;
    /** The group’s name; empty for other kinds. */
    group: string;
    /** Of which rows the row around is; null where there is none. */
    outer: string | null;
  };
  /** What it comes to, as the value is shown, and the same over the rows of the list. */
  text: string;
  listText: string;
  /** Both are equal: false where rows have changed since the report was run. */
  isSame: boolean;
  /** How many rows it counts, and how many of them have something to count. */
  count: number;
  filled: number;
  columns: { label: string; isNumber: boolean }[];
  /** The first of them, in their order in the report. */
  list: ListedRow[];
}

export interface ExplainedFormula {
  /** As it is written in the report. */
  source: string;
  text: string;
  type: CheckedType;
  /** The value itself; of an error it is null. */
  value: WireValue;
  /** Places of the totals that it reads, in {@link Explanation.totals}. */
  totals: number[];
  fields: ExplainedField[];
}

/** A group that a cell stands for. */
export interface ExplainedGroup {
  label: string;
  text: string;
}

/** Where a value comes from. */
export interface Explanation {
  formulas: ExplainedFormula[];
  totals: ExplainedTotal[];
  around: RowAround[];
  /** Of a cell: the groups that it stands for. */
  groups: ExplainedGroup[];
  cuts: RowsCut[];
  /** The report that the value stands in, and the drawers whose rows it is made of, by name. */
  report: string;
  drawers: string[];
  /** Names of the parameters that have a say in it. */
  parameters: string[];
}
