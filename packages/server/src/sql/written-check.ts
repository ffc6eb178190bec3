import { lateLibrary, type Phrase, phrase } from '@gaveta/core/internal';
import type { ParseResult } from 'libpg-query';
import { StatementError } from '../connection/connection.ts';

const parser = lateLibrary('the parser of statements', async () => {
  const library = await import('libpg-query');
  await library.loadModule();
  return library;
});

/** Must have come to an end before statements are checked. */
export const loadParser = parser.load;

const words = (text: string): Set<string> => new Set(text.split(/\s+/).filter(Boolean));

/** Functions that read nothing but what they are given. Everything else is refused, whatever it does. */
const FUNCTIONS = words(`
  abs ceil ceiling floor round trunc sign sqrt cbrt exp ln log log10 power pow mod div degrees radians pi sin cos tan asin
  acos atan atan2 cot sinh cosh tanh gcd lcm width_bucket greatest least random
  length char_length character_length octet_length bit_length lower upper initcap trim btrim ltrim rtrim lpad rpad left
  right substr substring strpos position overlay replace translate reverse repeat split_part concat concat_ws format
  starts_with ascii chr md5 regexp_replace regexp_match regexp_matches regexp_count regexp_like regexp_substr
  regexp_instr regexp_split_to_array regexp_split_to_table string_to_array string_to_table to_char to_number to_date
  to_timestamp unistr normalize quote_literal quote_ident quote_nullable like_escape similar_to_escape casefold
  now clock_timestamp statement_timestamp transaction_timestamp timeofday date_part date_trunc date_bin extract age
  make_date make_time make_timestamp make_timestamptz make_interval justify_days justify_hours justify_interval isfinite
  timezone date date_add date_subtract overlaps
  count sum avg min max every bool_and bool_or bit_and bit_or bit_xor string_agg array_agg json_agg jsonb_agg
  json_object_agg jsonb_object_agg any_value stddev stddev_pop stddev_samp variance var_pop var_samp corr covar_pop
  covar_samp regr_avgx regr_avgy regr_count regr_intercept regr_r2 regr_slope regr_sxx regr_sxy regr_syy mode
  percentile_cont percentile_disc grouping
  row_number rank dense_rank percent_rank cume_dist ntile lag lead first_value last_value nth_value
  array_length array_position array_positions array_append array_prepend array_cat array_remove array_replace
  array_to_string array_upper array_lower array_ndims array_sort array_reverse cardinality unnest generate_subscripts
  json_build_object jsonb_build_object json_build_array jsonb_build_array to_json to_jsonb row_to_json json_array_length
  jsonb_array_length json_extract_path json_extract_path_text jsonb_extract_path jsonb_extract_path_text json_typeof
  jsonb_typeof json_array_elements jsonb_array_elements json_array_elements_text jsonb_array_elements_text json_each
  jsonb_each json_each_text jsonb_each_text json_object_keys jsonb_object_keys jsonb_strip_nulls json_strip_nulls
  nullif coalesce num_nulls num_nonnulls generate_series bit_count lower_inc upper_inc isempty range_merge
  int4range int8range numrange daterange tsrange tstzrange encode decode sha256 hashtext cast xmlforest
`);

const TYPES = words(`
  int2 int4 int8 integer smallint bigint int numeric decimal float4 float8 real text varchar bpchar char name bool boolean
  date time timetz timestamp timestamptz interval uuid json jsonb bytea bit varbit int4range int8range numrange daterange
  tsrange tstzrange record
`);

/** Kinds of parts that a reading statement is made of. A kind that is not here is refused. */
export const PARTS = words(`
  SelectStmt ResTarget ColumnRef A_Star A_Const A_Expr A_ArrayExpr A_Indices A_Indirection BoolExpr BooleanTest NullTest
  CaseExpr CaseWhen CoalesceExpr MinMaxExpr CollateClause CommonTableExpr WithClause FuncCall GroupingSet GroupingFunc
  JoinExpr Alias List NamedArgExpr ParamRef RangeFunction RangeSubselect RangeVar RowExpr SetToDefault SortBy SQLValueFunction
  String Integer Float Boolean BitString SubLink TypeCast TypeName WindowDef RangeTableSample CTESearchClause CTECycleClause
`);

/** Values that a statement may ask of the session: the time, and nothing about who runs it. */
const SESSION_VALUES = /^SVFOP_(CURRENT_DATE|CURRENT_TIME|CURRENT_TIMESTAMP|LOCALTIME|LOCALTIMESTAMP)(_N)?$/;

export interface Tree {
  [key: string]: unknown;
}

export interface CheckedStatement {
  /** Tables that it names which none of its own WITH expressions makes. */
  tables: Set<string>;
}

/** Positions count bytes in the parser, characters here. */
const charactersBefore = (text: string, bytes: number): number =>
  Buffer.from(text, 'utf8').subarray(0, Math.max(0, bytes)).toString('utf8').length;

/**
 * Checks a statement that a person wrote: one statement, which only reads, from the tables given and no others, with
 * functions that do nothing but work out a value. Throws StatementError with the place otherwise.
 */
export const checkStatement = (text: string, allowed: ReadonlySet<string>): CheckedStatement => {
  const { parseSync, hasSqlDetails } = parser.get();
  let parsed: ParseResult;
  try {
    parsed = parseSync(text);
  } catch (error) {
    const position = hasSqlDetails(error) ? charactersBefore(text, error.sqlDetails!.cursorPosition) : null;
    throw new StatementError(error instanceof Error ? error.message : String(error), position);
  }
  const statements = parsed.stmts ?? [];
  if (statements.length === 0) throw new StatementError(phrase('statement-none'));
  if (statements.length > 1) {
    throw new StatementError(phrase('statement-one'), charactersBefore(text, statements[1]!.stmt_location ?? 0));
  }
  const statement = statements[0]!.stmt as Tree;
  const kind = Object.keys(statement)[0] ?? '';
  if (kind !== 'SelectStmt')
    throw new StatementError(phrase('statement-reads', { kind: kind.replace(/Stmt$/, '').toLowerCase() }), 0);
  return { tables: walkStatement(statement, text, allowed) };
};

/** Walks a reading statement as the parser gives it; gives the tables that it names. Throws StatementError. */
export const walkStatement = (statement: Tree, text: string, allowed: ReadonlySet<string>): Set<string> => {
  const tables = new Set<string>();
  try {
    new StatementWalk(text, allowed, tables).part('SelectStmt', statement.SelectStmt as Tree, new Set());
  } catch (error) {
    if (error instanceof RangeError) throw new StatementError(phrase('statement-deep'));
    throw error;
  }
  return tables;
};

class StatementWalk {
  constructor(
    private readonly text: string,
    private readonly allowed: ReadonlySet<string>,
    private readonly tables: Set<string>,
  ) {}

  /** `made`: names that WITH expressions around make. */
  part(kind: string, part: Tree, made: ReadonlySet<string>): void {
    if (!PARTS.has(kind)) this.refuse(phrase('sql-part', { part: said(kind) }), part);
    switch (kind) {
      case 'SelectStmt':
        this.select(part, made);
        return;
      case 'RangeVar':
        this.table(part, made);
        return;
      case 'FuncCall':
        this.called(part);
        break;
      case 'TypeName':
        this.typed(part);
        break;
      case 'A_Expr':
        this.operator(part);
        break;
      case 'SQLValueFunction':
        if (!SESSION_VALUES.test(String(part.op))) this.refuse(phrase('sql-session'), part);
        break;
      default:
        break;
    }
    this.children(part, made);
  }

  private select(part: Tree, around: ReadonlySet<string>): void {
    if (part.intoClause) this.refuse(phrase('sql-into'), part.intoClause as Tree);
    if (part.lockingClause) this.refuse(phrase('sql-locks'), part);
    const made = new Set(around);
    const { withClause, ...rest } = part as { withClause?: { recursive?: boolean; ctes?: Tree[] } } & Tree;
    for (const entry of withClause?.ctes ?? []) {
      const expression = entry.CommonTableExpr as (Tree & { ctename: string; ctequery: Tree }) | undefined;
      if (!expression?.ctequery) this.refuse(phrase('sql-with'), part);
      const name = expression.ctename;
      // Its own name stands for itself only where it is recursive; elsewhere for what is around.
      const inside = new Set(made);
      if (withClause?.recursive) inside.add(name);
      const query = Object.keys(expression.ctequery)[0] ?? '';
      if (query !== 'SelectStmt') this.refuse(phrase('sql-with'), expression);
      this.part(query, expression.ctequery[query] as Tree, inside);
      // What else it holds, as the values of CYCLE, is walked as everything is.
      const { ctequery: _, ...others } = expression;
      this.children(others, inside);
      made.add(name);
    }
    this.children(rest, made);
  }

  private table(part: Tree, made: ReadonlySet<string>): void {
    const name = String(part.relname);
    if (part.schemaname || part.catalogname) {
      const written = [part.catalogname, part.schemaname, name].filter(Boolean).join('.');
      this.refuse(phrase('sql-schema', { name, written }), part);
    }
    if (made.has(name)) return;
    if (!this.allowed.has(name)) {
      const list = [...this.allowed].sort();
      if (list.length === 0) this.refuse(phrase('sql-no-table', { name }), part);
      const names = `${list.slice(0, 20).join(', ')}${list.length > 20 ? ' …' : ''}`;
      this.refuse(phrase('sql-no-table-but', { name, names }), part);
    }
    this.tables.add(name);
  }

  /** A name with its schema, in parts. */
  private names(given: unknown, part: Tree): string[] {
    return (Array.isArray(given) ? given : []).map((name: Tree) => {
      const { sval } = (name.String ?? {}) as { sval?: unknown };
      return typeof sval === 'string' ? sval : this.refuse(phrase('sql-name'), part);
    });
  }

  private called(part: Tree): void {
    const names = this.names(part.funcname, part);
    const name = names.at(-1) ?? '';
    const schema = names.slice(0, -1);
    // What the parser itself puts for extract(…), position(…) and the like stands in pg_catalog.
    const isOwn = schema.length === 0 || (schema.length === 1 && schema[0] === 'pg_catalog');
    if (!isOwn || !FUNCTIONS.has(name)) this.refuse(phrase('sql-function', { name: names.join('.') }), part);
  }

  private typed(part: Tree): void {
    const names = this.names(part.names, part);
    const schema = names.slice(0, -1);
    const isOwn = schema.length === 0 || (schema.length === 1 && schema[0] === 'pg_catalog');
    if (!isOwn || !TYPES.has(names.at(-1) ?? '')) this.refuse(phrase('sql-type', { name: names.join('.') }), part);
  }

  /** Operators of a schema may be anybody's. */
  private operator(part: Tree): void {
    const names = (part.name as Tree[]) ?? [];
    if (names.length > 1) this.refuse(phrase('sql-operator'), part);
  }

  private children(part: Tree, made: ReadonlySet<string>): void {
    for (const [key, value] of Object.entries(part)) {
      if (Array.isArray(value)) for (const item of value) this.child(key, item, made);
      else this.child(key, value, made);
    }
  }

  private child(key: string, value: unknown, made: ReadonlySet<string>): void {
    if (typeof value !== 'object' || value === null) return;
    if (Array.isArray(value)) {
      for (const item of value) this.child(key, item, made);
      return;
    }
    const kinds = Object.keys(value);
    if (kinds.length === 0) return;
    const [kind] = kinds;
    // A part stands in an object that names its kind, with a capital letter; some places hold their only kind bare.
    if (kinds.length === 1 && kind && /^[A-Z]/.test(kind)) this.part(kind, (value as Tree)[kind] as Tree, made);
    else this.part(BARE[key] ?? key, value as Tree, made);
  }

  private refuse(words: Phrase, part: Tree): never {
    const at = typeof part.location === 'number' ? part.location : null;
    throw new StatementError(words, at === null ? null : charactersBefore(this.text, at));
  }
}

/** Kinds of parts that stand bare under a key. */
const BARE: Record<string, string> = {
  larg: 'SelectStmt',
  rarg: 'SelectStmt',
  alias: 'Alias',
  typeName: 'TypeName',
  over: 'WindowDef',
  withClause: 'WithClause',
  relation: 'RangeVar',
  search_clause: 'CTESearchClause',
  cycle_clause: 'CTECycleClause',
  ival: 'Integer',
  fval: 'Float',
  sval: 'String',
  boolval: 'Boolean',
  bsval: 'BitString',
  join_using_alias: 'Alias',
};

const said = (kind: string): string => {
  if (kind.startsWith('Xml')) return 'XML';
  if (kind.startsWith('Json')) return 'a JSON expression';
  return `“${kind}”`;
};
