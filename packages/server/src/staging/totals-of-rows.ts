import {
  Accumulator,
  compileFormula,
  decodeValue,
  type EvaluationContext,
  type Field,
  type Operation,
  plainContext,
  textOrderOf,
  type Value,
  type WireRow,
} from '@gaveta/core/internal';

/** What formulas over rows go by besides these. */
export interface RowSettings {
  report: EvaluationContext['report'];
  parameters: Record<string, Value>;
}

/** The totals that a formula of one row reads, over all rows or those of its group. */
export class TotalsOfRows {
  private readonly groups = new Map<string, Accumulator[]>();
  /** Worked out once all rows have gone by. */
  private readonly results = new Map<string, Value[]>();
  private readonly places: number[];

  constructor(
    private readonly operation: Extract<Operation, { kind: 'add' }>,
    private readonly fields: readonly Field[],
    private readonly settings: RowSettings,
  ) {
    this.places = operation.per.map((field) => (field.kind === 'field' ? field.column - 1 : -1));
  }

  /** The rows, each of which is counted as it goes by. */
  async *of(rows: AsyncIterable<WireRow[]>): AsyncGenerator<WireRow[]> {
    const { totals } = this.operation;
    const formulas = totals.map(({ of }) => compileFormula(of));
    for await (const batch of rows) {
      for (const wire of batch) {
        const row = [null, ...this.fields.map((f, i) => decodeValue(wire[i] ?? null, f.type))];
        const context = plainContext(this.settings.report, this.settings.parameters, row);
        const group = this.groupOf(wire);
        for (const [slot, formula] of formulas.entries()) group[slot]!.add(formula(context));
      }
      yield batch;
    }
  }

  /** The totals that a row sees. */
  at(wire: WireRow): EvaluationContext['totals'] {
    const key = this.keyOf(wire);
    let results = this.results.get(key);
    if (!results) {
      results = (this.groups.get(key) ?? []).map((total) => total.result());
      this.results.set(key, results);
    }
    const values = results;
    return { value: (slot) => values[slot] ?? null };
  }

  private keyOf(wire: WireRow): string {
    return JSON.stringify(this.places.map((at) => wire[at] ?? null));
  }

  private groupOf(wire: WireRow): Accumulator[] {
    const key = this.keyOf(wire);
    let group = this.groups.get(key);
    if (!group) {
      group = this.operation.totals.map(
        ({ name }) => new Accumulator(name, textOrderOf(this.settings.report.language)),
      );
      this.groups.set(key, group);
    }
    return group;
  }
}
