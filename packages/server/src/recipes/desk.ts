import {
  decodeValue,
  type Field,
  isWritten,
  type PlannedRecipe,
  phrase,
  type ReadParameters,
  type Report,
  RowProblem,
  shownFields,
  type WireRow,
} from '@gaveta/core/internal';
import type { ReportDatabase } from '../connection/connection.ts';
import { constantNames, MOST_STAGED, type SourceOptions } from '../rows/row-source.ts';
import { Bindings, type SqlNames } from '../sql/expression.ts';
import { identifier } from '../sql/identifiers.ts';
import { recipeTables } from '../sql/plan-tables.ts';
import { recipeSql } from '../sql/recipe-query.ts';
import { loadParser } from '../sql/written-check.ts';
import { recipeBases } from '../staging/bases.ts';
import { asRowProblem, connectionOf, hasLocalSteps, homeOf, RunStage, type StageContext } from '../staging/stage.ts';

export interface DeskOptions extends Omit<SourceOptions, 'parameters' | 'maxRows'> {
  /** What formulas and texts go by, and whose parameters they read. */
  report: Pick<Report, 'name' | 'language' | 'timeZone' | 'parameters'>;
  values: ReadParameters['values'];
  /** Milliseconds for which rows that were worked out serve what else is asked about them; never when left out. */
  sharedFor?: number;
}

/** What a statement gave, and what it took. */
export interface Answer {
  rows: WireRow[];
  milliseconds: number;
}

export interface FieldFacts {
  field: string;
  distinct: number;
  blanks: number;
  least: string | null;
  most: string | null;
}

/** How many rows there are, and what their columns hold. */
export interface Counted {
  count: number;
  facts: FieldFacts[];
}

/** What is selected of rows to know their columns, and how that is read. */
const factColumns = (
  shown: readonly Field[],
): { columns: string[]; read: (row: readonly WireRow[number][]) => FieldFacts[] } => {
  const fields = shown.filter((f) => f.type !== 'picture');
  const columns = fields.flatMap(({ name, type }) => {
    // What we take for a text may be of a type that cannot be told apart or put in order.
    const column = type === 'text' ? `${identifier(name)}::text` : identifier(name);
    const ends = type === 'boolean' ? ['null::text', 'null::text'] : [`min(${column})::text`, `max(${column})::text`];
    return [`count(distinct ${column})::int`, `count(*) filter (where ${column} is null)::int`, ...ends];
  });
  const textOf = (cell: WireRow[number] | undefined): string | null =>
    cell === null || cell === undefined ? null : String(cell);
  return {
    columns,
    read: (row) =>
      fields.map(({ name }, i) => ({
        field: name,
        distinct: Number(row[i * 4] ?? 0),
        blanks: Number(row[i * 4 + 1] ?? 0),
        least: textOf(row[i * 4 + 2]),
        most: textOf(row[i * 4 + 3]),
      })),
  };
};

/**
 * Recipes being looked at: their rows, counts and facts, asked one statement at a time in the database where the rows
 * are, or at the workbench when they lie apart. Close it when done.
 */
export class RecipeDesk {
  private readonly context: StageContext;
  private readonly stage: RunStage;
  private connection: ReportDatabase | null = null;
  private home = '';
  private byHand = false;
  private staged = false;
  private collation: string | null = null;

  private constructor(private readonly options: DeskOptions) {
    const { models, connections, claims, maxStaged = MOST_STAGED, workbench, signal, seconds = 60 } = options;
    this.context = {
      models,
      connections,
      claims,
      maxStaged,
      seconds,
      signal: signal ?? new AbortController().signal,
      workbench:
        workbench ??
        (() => {
          throw new RowProblem('query-failed', { detail: phrase('no-workbench') });
        }),
    };
    this.stage = new RunStage(this.context, options.sharedFor);
  }

  /** Finds where the recipes' rows are, and brings them together where they lie apart. Throws RowProblem. */
  static async open(recipes: readonly PlannedRecipe[], options: DeskOptions): Promise<RecipeDesk> {
    await loadParser();
    const desk = new RecipeDesk(options);
    try {
      await desk.prepare(recipes);
    } catch (error) {
      await desk.close();
      throw error;
    }
    return desk;
  }

  private async prepare(recipes: readonly PlannedRecipe[]): Promise<void> {
    const bases = recipes.flatMap((recipe) => [...recipeBases(recipe)]);
    for (const base of bases) {
      const name = connectionOf(base, this.context);
      if (!this.context.connections.has(name)) throw new RowProblem('unknown-connection', { name });
    }
    const home = recipes.some(hasLocalSteps) ? null : homeOf(bases, this.context);
    if (home === null) {
      const { report, values } = this.options;
      const settings = { parameters: values, names: (bindings: Bindings) => this.names(bindings), report };
      for (const recipe of recipes) await this.stage.settle(recipe, settings);
      const { stands } = this.stage;
      await this.stage.copy(
        recipes.flatMap((recipe) => [...recipeBases(recipe, stands)]),
        settings,
      );
      this.connection = this.context.workbench().connection;
      this.staged = true;
    } else {
      this.connection = this.context.connections.get(home) as ReportDatabase;
      this.home = home;
      this.byHand = bases.some((b) => b.kind === 'sql');
    }
    this.collation = await this.connection.textOrder();
  }

  private names(bindings: Bindings): Omit<SqlNames, 'field' | 'total'> {
    const { report, values } = this.options;
    return constantNames({ report: report as Report }, values, bindings, this.collation);
  }

  /** SQL of a recipe's steps; `isSorted`: false where the order of its rows is of no use, or given around it. */
  private sql(recipe: PlannedRecipe, bindings: Bindings, isSorted = false): { text: string; order: string[] } {
    const names = this.names(bindings);
    const tables = recipeTables({ ...this.context, staged: this.staged ? this.stage : null }, bindings, names);
    try {
      return recipeSql(recipe, tables, names, bindings, isSorted);
    } catch (error) {
      throw asRowProblem(error, this.home);
    }
  }

  /** Asks one statement. Throws RowProblem. */
  async ask(text: string, bindings: Bindings): Promise<Answer> {
    const { signal, seconds } = this.context;
    const connection = this.connection!;
    const from = performance.now();
    const before = this.byHand && connection.reader ? { before: connection.reader } : {};
    const query = { text, values: bindings.values, ...before };
    const [stream] = await connection.open([query], {
      ...{ signal, seconds, byHand: this.byHand },
      // What people wrote stays in a cursor, which nothing but a question can be.
      whole: !this.byHand,
    });
    const rows: WireRow[] = [];
    try {
      for await (const batch of stream!) rows.push(...batch);
    } catch (error) {
      throw asRowProblem(error, this.home);
    } finally {
      await stream!.close();
    }
    return { rows, milliseconds: performance.now() - from };
  }

  /** The first rows after a recipe's steps that have one of these values in a field. Wrong values are found nowhere. */
  async rowsAmong(
    recipe: PlannedRecipe,
    { name, type }: Pick<Field, 'name' | 'type'>,
    values: readonly WireRow[number][],
    most: number,
  ): Promise<Answer> {
    const bindings = new Bindings();
    const { text, order } = this.sql(recipe, bindings);
    const column = identifier(name);
    const said = values.flatMap((value) => (value === null ? [] : [bindings.bind(decodeValue(value, type), type)]));
    const any = [
      ...(said.length > 0 ? [`${column} in (${said.join(', ')})`] : []),
      ...(said.length < values.length ? [`${column} is null`] : []),
    ];
    const columns = shownFields(recipe.fields).map((f) => identifier(f.name));
    const ordered = order.length > 0 ? ` order by ${order.join(', ')}` : '';
    return this.ask(
      `select ${columns.join(', ')} from (\n${text}\n) rows where ${any.length > 0 ? any.join(' or ') : 'false'}${ordered} limit ${most}`,
      bindings,
    );
  }

  /**
   * The first rows after a recipe's steps, or those from a place on, always in one order, of the fields that may be seen. Of a statement that somebody wrote, which may
   * be slow, all that is asked of its rows comes with them; it is sent once.
   */
  async rows(
    recipe: PlannedRecipe,
    most: number,
    from?: number,
  ): Promise<Answer & { fields: Field[]; sql: string; values: unknown[]; counted: Counted | null }> {
    const bindings = new Bindings();
    const fields = shownFields(recipe.fields);
    const { text, order } = this.sql(recipe, bindings);
    const isStable = order.length > 0 || from !== undefined;
    const by = [...order, ...(recipe.key === null || !isStable ? [] : [identifier(recipe.key)])];
    const columns = fields.length > 0 ? fields.map((f) => identifier(f.name)) : ['1'];
    const ordered = by.length > 0 ? ` order by ${by.join(', ')}` : '';
    const shown = new Bindings();
    const sent = { fields, sql: this.sql(recipe, shown, true).text, values: [...shown.values] };
    const first = `select ${columns.join(', ')} from (\n${text}\n) rows${ordered} limit ${most}${from ? ` offset ${from}` : ''}`;
    if (from !== undefined || !isWritten(recipe))
      return { ...(await this.ask(first, bindings)), ...sent, counted: null };
    const asked = factColumns(fields);
    const whole = `with written as materialized (\n${text}\n), counted as (select ${['count(*)::int', ...asked.columns]
      .map((column, i) => `${column} as c${i}`)
      .join(', ')} from written)
select c.*, r.* from counted c left join (select true as is_row, ${columns.join(', ')} from written${ordered} limit ${most}) r on true`;
    const answer = await this.ask(whole, bindings);
    const width = asked.columns.length + 1;
    const [head = []] = answer.rows;
    const counted = { count: Number(head[0] ?? 0), facts: asked.read(head.slice(1, width)) };
    const rows = answer.rows.filter((row) => row[width] === true).map((row) => row.slice(width + 1));
    return { ...answer, rows, ...sent, counted };
  }

  async count(recipe: PlannedRecipe): Promise<{ count: number; milliseconds: number }> {
    const bindings = new Bindings();
    const { text } = this.sql(recipe, bindings);
    const { rows, milliseconds } = await this.ask(`select count(*)::int from (\n${text}\n) counted`, bindings);
    return { count: Number(rows[0]?.[0] ?? 0), milliseconds };
  }

  /** Of each field that may be seen: how many different values and blanks it has, and from where to where they go. */
  async facts(recipe: PlannedRecipe): Promise<FieldFacts[]> {
    const bindings = new Bindings();
    const { text } = this.sql(recipe, bindings);
    const { columns, read } = factColumns(shownFields(recipe.fields));
    if (columns.length === 0) return [];
    const { rows } = await this.ask(`select ${columns.join(', ')} from (\n${text}\n) facts`, bindings);
    return read(rows[0] ?? []);
  }

  /** The different values of a field with how many rows have each, the most frequent first. */
  async values(
    recipe: PlannedRecipe,
    field: string,
    search: string,
    most: number,
  ): Promise<{ value: string; count: number }[]> {
    const bindings = new Bindings();
    const { text } = this.sql(recipe, bindings);
    const column = identifier(field);
    const found =
      search === '' ? '' : ` and strpos(lower(${column}::text), lower(${bindings.bind(search, 'text')})) > 0`;
    const { rows } = await this.ask(
      `select ${column}::text, count(*)::int from (\n${text}\n) found where ${column} is not null${found} group by 1 order by 2 desc, 1 limit ${most}`,
      bindings,
    );
    return rows.map(([value, count]) => ({ value: String(value), count: Number(count) }));
  }

  /** How the values of a field are spread: numbers and dates counted in so many ranges of one width, from the least to the greatest. */
  async spread(
    recipe: PlannedRecipe,
    { name, type }: Pick<Field, 'name' | 'type'>,
    count: number,
  ): Promise<Omit<FieldFacts, 'field'> & { bins: number[] }> {
    const bindings = new Bindings();
    const { text } = this.sql(recipe, bindings);
    const column = type === 'text' ? `${identifier(name)}::text` : identifier(name);
    const isRanged = type === 'number' || type === 'date' || type === 'datetime';
    const place = type === 'number' ? 'v::float8' : 'extract(epoch from v)::float8';
    const { rows } = await this.ask(
      `with looked as materialized (select ${column} as v from (\n${text}\n) looked),
ends as (select count(distinct v)::int as many, count(*) filter (where v is null)::int as blanks, ${isRanged ? `min(v)::text as lowest, max(v)::text as highest, min(${place}) as lo, max(${place}) as hi` : 'null::text as lowest, null::text as highest, 0::float8 as lo, 0::float8 as hi'} from looked)
select e.*, ${isRanged ? `case when e.hi > e.lo then least(width_bucket(${place}, e.lo, e.hi, ${count}), ${count}) else 1 end` : '1'} as bin, count(v)::int from ends e left join looked on v is not null group by 1, 2, 3, 4, 5, 6, 7`,
      bindings,
    );
    const [first = []] = rows;
    const textOf = (cell: WireRow[number] | undefined): string | null => (cell == null ? null : String(cell));
    const most = rows.reduce((last, row) => Math.max(last, Number(row[6] ?? 0)), 0);
    const bins = isRanged && textOf(first[2]) !== null ? new Array<number>(most === 1 ? 1 : count).fill(0) : [];
    if (bins.length > 0) for (const row of rows) bins[Number(row[6]) - 1] = Number(row[7]);
    return {
      distinct: Number(first[0] ?? 0),
      blanks: Number(first[1] ?? 0),
      least: textOf(first[2]),
      most: textOf(first[3]),
      bins,
    };
  }

  /** How two recipes' rows fit together by pairs of fields: rows here without one there, and the other way round. */
  async fit(
    here: PlannedRecipe,
    there: PlannedRecipe,
    on: readonly { here: string; there: string }[],
  ): Promise<{ here: number; there: number; hereAlone: number; thereAlone: number }> {
    const bindings = new Bindings();
    const left = this.sql(here, bindings).text;
    const right = this.sql(there, bindings).text;
    const equal = on.map((pair) => `l.${identifier(pair.here)} = r.${identifier(pair.there)}`).join(' and ');
    const { rows } = await this.ask(
      `with l as materialized (\n${left}\n), r as materialized (\n${right}\n)
select (select count(*)::int from l), (select count(*)::int from r),
  (select count(*)::int from l where not exists (select 1 from r where ${equal})),
  (select count(*)::int from r where not exists (select 1 from l where ${equal}))`,
      bindings,
    );
    const [all, others, hereAlone, thereAlone] = (rows[0] ?? []).map(Number);
    return { here: all ?? 0, there: others ?? 0, hereAlone: hereAlone ?? 0, thereAlone: thereAlone ?? 0 };
  }

  close(): Promise<void> {
    return this.stage.close();
  }
}
