import type { Group, Report } from '../definition/schema.ts';
import { type CalculatedInput, type ColumnInput, type DrawerState, EMPTY_DRAWER, type ReportState } from './asked.ts';
import type { ColumnTotal } from './totals.ts';
import type { ManyRelation, Path, Target } from './typed-model.ts';

/** How rows become a definition. */
export type Finish = (state: ReportState, entity: string, drawer: DrawerState) => Report;

/**
 * Rows of an entity, and what is shown of them. Every method gives new ones and leaves these as they are. `C` are fields that
 * the report calculates.
 */
export class BegunRows<S, E extends string, C extends string = never> {
  constructor(
    private readonly state: ReportState,
    private readonly entity: string,
    /** What was asked for so far. */
    readonly drawer: DrawerState,
    private readonly finish: Finish,
  ) {}

  private with(more: Partial<DrawerState>): BegunRows<S, E, C> {
    return new BegunRows(this.state, this.entity, { ...this.drawer, ...more }, this.finish);
  }

  /** Keeps the rows for which a formula holds, as `YEAR(arrival) = parameters.season`; several all have to. */
  keep(formula: string): BegunRows<S, E, C> {
    return this.with({ filters: [...this.drawer.filters, formula] });
  }

  /** Adds a field that a formula works out of the others of its row. */
  calculated<N extends string>(name: N, input: CalculatedInput): BegunRows<S, E, C | N> {
    const calculated = [...this.drawer.calculated, { name, ...input }];
    return new BegunRows(this.state, this.entity, { ...this.drawer, calculated }, this.finish);
  }

  /** Groups rows by a field, or by a stretch of time or numbers that it lies in; further groups stand inside. */
  group(field: Path<S, E> | C, options: Pick<Group, 'per' | 'width' | 'descending'> = {}): BegunRows<S, E, C> {
    return this.with({ groups: [...this.drawer.groups, { field, ...options }] });
  }

  /** Shows fields as columns, after those that are there. */
  columns(...fields: (Path<S, E> | C | ColumnInput<Path<S, E> | C>)[]): BegunRows<S, E, C> {
    const columns = fields.map((one): ColumnInput => (typeof one === 'string' ? { field: one } : one));
    return this.with({ columns: [...this.drawer.columns, ...columns] });
  }

  /** Adds columns up: for each group, and for all rows of the drawer. */
  total(...totals: ColumnTotal<Path<S, E> | C>[]): BegunRows<S, E, C> {
    return this.with({ totals: [...this.drawer.totals, ...totals] });
  }

  /** Sorts rows; by further fields where the ones before are equal. */
  sort(field: Path<S, E> | C, order: 'ascending' | 'descending' = 'ascending'): BegunRows<S, E, C> {
    const by = { by: field, ...(order === 'descending' ? { descending: true } : {}) };
    return this.with({ sort: [...this.drawer.sort, by] });
  }

  /** At most so many rows; of an inner drawer, for each row around it. */
  first(rows: number): BegunRows<S, E, C> {
    return this.with({ first: rows });
  }

  /** Shows, for each row, the rows that a relation leads to. */
  inner<R extends ManyRelation<S, E>>(
    relation: R,
    rows: (inner: BegunRows<S, Target<S, E, R>>) => BegunRows<S, Target<S, E, R>, string>,
  ): BegunRows<S, E, C> {
    const begun = new BegunRows<S, Target<S, E, R>>(this.state, this.entity, EMPTY_DRAWER, this.finish);
    return this.with({ inner: [...this.drawer.inner, { relation, drawer: rows(begun).drawer }] });
  }

  /** Leaves out rows that have none in their inner drawers. */
  onlyWithInner(): BegunRows<S, E, C> {
    return this.with({ onlyWithInner: true });
  }

  /**
   * The whole report, as plain JSON to be stored, rendered or changed further. Throws where it is wrong, with every problem and its
   * place.
   */
  definition(): Report {
    return this.finish(this.state, this.entity, this.drawer);
  }
}
