import type { Calculated, Group, PageSetup, Parameter, Sort } from '../definition/schema.ts';
import type { OwnTheme } from '../edit/own-themes.ts';
import type { Model } from '../model/model.ts';
import type { DataType } from '../value/value.ts';
import type { ColumnTotal } from './totals.ts';

/** What a report is made with; everything may be left out. */
export interface ReportSettings {
  /** BCP 47 tag; `en` when left out. */
  language?: string;
  /** IANA name; `UTC` when left out. */
  timeZone?: string;
  /** A4, upright, with margins of 15 mm when left out. */
  paper?: Partial<PageSetup>;
  /** One of Gaveta’s by its name, as `Pine`, or one of the house’s own. */
  theme?: string | OwnTheme;
  /** Words that the report itself shows, in its language; English when left out. */
  words?: Partial<ReportWords>;
}

export interface ReportWords {
  page: string;
  of: string;
  total: string;
}

/** A parameter without its name. */
export type ParameterInput = Omit<Parameter, 'name'>;

/** What all parts of a report that is being built share. */
export interface ReportState {
  name: string;
  model: Model;
  settings: ReportSettings;
  parameters: readonly Parameter[];
}

/** A column with more than its field. */
export interface ColumnInput<P extends string = string> {
  field: P;
  /** Its caption; the field's label when left out. */
  label?: string;
  /** Millimetres; columns without a width share the rest. */
  width?: number;
  /** Spreadsheet number-format code; that of the field when left out. */
  format?: string;
}

export interface CalculatedInput extends Pick<Calculated, 'formula' | 'format' | 'label'> {
  type: DataType;
}

/** What was asked for of a drawer, by the paths of its fields. */
export interface DrawerState {
  columns: readonly ColumnInput[];
  calculated: readonly ({ name: string } & CalculatedInput)[];
  groups: readonly ({ field: string } & Pick<Group, 'per' | 'width' | 'descending'>)[];
  totals: readonly ColumnTotal[];
  filters: readonly string[];
  sort: readonly Sort[];
  first?: number;
  onlyWithInner?: boolean;
  inner: readonly { relation: string; drawer: DrawerState }[];
}

export const EMPTY_DRAWER: DrawerState = {
  columns: [],
  calculated: [],
  groups: [],
  totals: [],
  filters: [],
  sort: [],
  inner: [],
};
