import type { DataType } from '@gaveta/core/internal';
import type { FoundTable } from './connection.ts';
import { dataTypeOf } from './types.ts';

type Cell = string | number | boolean | null;
type Ask = (text: string) => Promise<Cell[][]>;

/** Schemas that belong to the database itself. */
const OWN = `n.nspname not in ('pg_catalog', 'information_schema') and n.nspname not like 'pg\\_%'`;

const COLUMNS = `
select c.oid::int, n.nspname, c.relname, c.relkind in ('v', 'm'), a.attname, coalesce(nullif(t.typbasetype, 0), t.oid)::int, not a.attnotnull,
  exists (select 1 from pg_index i where i.indrelid = c.oid and i.indisprimary and a.attnum = any(i.indkey)), col_description(c.oid, a.attnum)
from pg_class c join pg_namespace n on n.oid = c.relnamespace join pg_attribute a on a.attrelid = c.oid join pg_type t on t.oid = a.atttypid
where c.relkind in ('r', 'p', 'v', 'm', 'f') and ${OWN} and a.attnum > 0 and not a.attisdropped
  and has_table_privilege(c.oid, 'select')
order by n.nspname, c.relname, a.attnum`;

const KEYS = `
select k.conrelid::int, n.nspname || '.' || f.relname, k.conname,
  array_to_string(array(select quote_ident(a.attname) from unnest(k.conkey) with ordinality u(n, i) join pg_attribute a on a.attrelid = k.conrelid and a.attnum = u.n order by u.i), chr(10)),
  array_to_string(array(select quote_ident(a.attname) from unnest(k.confkey) with ordinality u(n, i) join pg_attribute a on a.attrelid = k.confrelid and a.attnum = u.n order by u.i), chr(10))
from pg_constraint k join pg_class f on f.oid = k.confrelid join pg_namespace n on n.oid = f.relnamespace
where k.contype = 'f' order by k.conname`;

/** Functions that return rows of a known type: a table's, or their own. Those with unnamed arguments cannot be asked for them. */
const FUNCTIONS = `
select n.nspname, p.proname,
  array_to_string(array(select coalesce(p.proargnames[i], '') from generate_subscripts(p.proargtypes, 1) s(j), lateral (select j + 1) x(i) order by i), chr(10)),
  array_to_string(array(select unnest(p.proargtypes)::int), ','),
  coalesce((select string_agg(a.attname || chr(9) || a.atttypid::int, chr(10) order by a.attnum) from pg_attribute a where a.attrelid = t.typrelid and a.attnum > 0 and not a.attisdropped),
    (select string_agg(p.proargnames[i] || chr(9) || p.proallargtypes[i]::int, chr(10) order by i) from generate_subscripts(p.proallargtypes, 1) i where p.proargmodes[i] = 't'))
from pg_proc p join pg_namespace n on n.oid = p.pronamespace join pg_type t on t.oid = p.prorettype
where p.proretset and p.prokind = 'f' and p.provolatile <> 'v' and ${OWN} and has_function_privilege(p.oid, 'execute')
order by n.nspname, p.proname`;

const lines = (cell: Cell | undefined): string[] => (cell ? String(cell).split('\n') : []);
const unquoted = (name: string): string => (name.startsWith('"') ? name.slice(1, -1).replace(/""/g, '"') : name);

/** Tables, views and functions that a PostgreSQL database shows to the one who asks. */
export const findTables = async (ask: Ask): Promise<FoundTable[]> => {
  const tables = new Map<number, FoundTable>();
  for (const [oid, schema, name, isView, column, type, nullable, isKey, comment] of await ask(COLUMNS)) {
    let table = tables.get(Number(oid));
    if (!table) {
      const kind = isView ? ('view' as const) : ('table' as const);
      table = { schema: String(schema), name: String(name), kind, columns: [], arguments: [], references: [] };
      tables.set(Number(oid), table);
    }
    table.columns.push({
      name: String(column),
      type: dataTypeOf(Number(type)),
      nullable: nullable === true,
      isKey: isKey === true,
      comment: comment === null ? null : String(comment),
    });
  }
  for (const [oid, to, , here, there] of await ask(KEYS)) {
    const others = lines(there).map(unquoted);
    const on = Object.fromEntries(lines(here).map((column, i) => [unquoted(column), others[i]!]));
    tables.get(Number(oid))?.references.push({ to: String(to), on });
  }
  const functions = (await ask(FUNCTIONS)).flatMap(([schema, name, names, types, columns]): FoundTable[] => {
    const given = lines(names);
    const kinds = types ? String(types).split(',') : [];
    if (given.length !== kinds.length || given.includes('') || !columns) return [];
    const own = lines(columns).map((line) => line.split('\t') as [string, string]);
    return [
      {
        schema: String(schema),
        name: String(name),
        kind: 'function',
        columns: own.map(([column, type]) => ({
          name: column,
          type: dataTypeOf(Number(type)),
          nullable: true,
          isKey: false,
          comment: null,
        })),
        arguments: given.map((argument, i) => ({ name: argument, type: dataTypeOf(Number(kinds[i])) as DataType })),
        references: [],
      },
    ];
  });
  return [...tables.values(), ...functions];
};
