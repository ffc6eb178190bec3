import type { FoundTable } from './connection.ts';
import { columnType } from './types.ts';

type Cell = string | number | boolean | null;
type Ask = (text: string) => Promise<Cell[][]>;

/** Schemas that belong to the database itself. */
const OWN = `n.nspname not in ('pg_catalog', 'information_schema') and n.nspname not like 'pg\\_%'`;

const COLUMNS = `
select c.oid::int, n.nspname, c.relname, c.relkind in ('v', 'm'), a.attname, coalesce(nullif(t.typbasetype, 0), t.oid)::int, not a.attnotnull,
  exists (select 1 from pg_index i where i.indrelid = c.oid and i.indisprimary and a.attnum = any(i.indkey)), col_description(c.oid, a.attnum),
  coalesce(b.typcategory, t.typcategory)::text
from pg_class c join pg_namespace n on n.oid = c.relnamespace join pg_attribute a on a.attrelid = c.oid join pg_type t on t.oid = a.atttypid left join pg_type b on b.oid = nullif(t.typbasetype, 0)
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
  array_to_string(array(select format_type(unnest(p.proargtypes), null)), chr(10)),
  coalesce((select string_agg(a.attname || chr(9) || a.atttypid::int || chr(9) || y.typcategory::text, chr(10) order by a.attnum) from pg_attribute a join pg_type y on y.oid = a.atttypid where a.attrelid = t.typrelid and a.attnum > 0 and not a.attisdropped),
    (select string_agg(p.proargnames[i] || chr(9) || p.proallargtypes[i]::int || chr(9) || y.typcategory::text, chr(10) order by i) from generate_subscripts(p.proallargtypes, 1) i join pg_type y on y.oid = p.proallargtypes[i] where p.proargmodes[i] = 't'))
from pg_proc p join pg_namespace n on n.oid = p.pronamespace join pg_type t on t.oid = p.prorettype
where p.proretset and p.prokind = 'f' and p.provolatile <> 'v' and ${OWN} and has_function_privilege(p.oid, 'execute')
order by n.nspname, p.proname`;

const lines = (cell: Cell | undefined): string[] => (cell ? String(cell).split('\n') : []);
const unquoted = (name: string): string => (name.startsWith('"') ? name.slice(1, -1).replace(/""/g, '"') : name);

/** Tables, views and functions that a PostgreSQL database shows to the one who asks. */
export const findTables = async (ask: Ask): Promise<FoundTable[]> => {
  const tables = new Map<number, FoundTable>();
  for (const [oid, schema, name, isView, column, type, nullable, isKey, comment, category] of await ask(COLUMNS)) {
    let table = tables.get(Number(oid));
    if (!table) {
      const kind = isView ? ('view' as const) : ('table' as const);
      table = { schema: String(schema), name: String(name), kind, columns: [], arguments: [], references: [] };
      tables.set(Number(oid), table);
    }
    table.columns.push({
      name: String(column),
      ...columnType(Number(type), String(category)),
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
  for (const table of tables.values()) await tellPictures(table, ask);
  const functions = (await ask(FUNCTIONS)).flatMap(([schema, name, names, types, written, columns]): FoundTable[] => {
    const given = lines(names);
    const kinds = types ? String(types).split(',') : [];
    if (given.length !== kinds.length || given.includes('') || !columns) return [];
    const own = lines(columns).map((line) => line.split('\t') as [string, string, string]);
    const said = lines(written);
    return [
      {
        schema: String(schema),
        name: String(name),
        kind: 'function',
        columns: own.map(([column, type, category]) => ({
          name: column,
          ...columnType(Number(type), category),
          nullable: true,
          isKey: false,
          comment: null,
        })),
        arguments: given.map((argument, i) => ({
          name: argument,
          type: columnType(Number(kinds[i]), '').type,
          written: said[i]!,
        })),
        references: [],
      },
    ];
  });
  return [...tables.values(), ...functions];
};

const quoted = (name: string): string => `"${name.replace(/"/g, '""')}"`;

/** How pictures begin, in hexadecimal digits: PNG, JPEG, GIF, WebP (within RIFF), and SVG as text. */
const PICTURE = /^(89504e47|ffd8ff|47494638|52494646.{8}57454250|3c3f786d6c|3c737667)/;

/** Bytes are pictures where the first that are there begin as one; otherwise they are shown by their digits. */
const tellPictures = async (table: FoundTable, ask: Ask): Promise<void> => {
  for (const column of table.columns) {
    if (column.type !== 'picture') continue;
    const [own, from] = [quoted(column.name), `${quoted(table.schema)}.${quoted(table.name)}`];
    const [first] = await ask(
      `select encode(substring(${own} from 1 for 12), 'hex') from ${from} where ${own} is not null limit 1`,
    ).catch(() => []);
    if (first && !PICTURE.test(String(first[0]))) Object.assign(column, { type: 'text', cast: 'bytes' });
  }
};
