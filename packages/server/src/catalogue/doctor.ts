import { type DataType, findEntity, nearest } from '@gaveta/core/internal';
import type { Connection, DatabaseConnection, FoundTable } from '../connection/connection.ts';
import type { RegisteredModel, TableBinding } from '../model/define.ts';
import { scopeFormula } from '../sql/scoped-tables.ts';

/** Something in the models or connections that will not work, and the line that mends it. */
export interface Finding {
  /** Where in the options or the model, as `cumeeira.entities.hut.fields.beds`. */
  place: string;
  said: string;
}

/** Types that are read from a column of another: days from moments, and texts from anything. */
const fits = (field: DataType, column: DataType): boolean =>
  field === column ||
  field === 'text' ||
  ((field === 'date' || field === 'datetime') && (column === 'date' || column === 'datetime'));

const nearTo = (name: string, names: readonly string[], line: (near: string) => string): string => {
  const near = nearest(name, names);
  return near === null || near === undefined ? `There are: ${names.slice(0, 30).join(', ')}.` : line(near);
};

/** What does not fit between an entity and the table behind it. */
const entityFindings = (
  model: RegisteredModel,
  entity: string,
  { source, columns }: TableBinding,
  found: readonly FoundTable[],
): Finding[] => {
  const at = `${model.model.name}.entities.${entity}`;
  const isFunction = source.kind === 'function';
  const table = source.kind === 'function' ? source.name : source.table;
  const offered = found.filter(({ kind }) => (kind === 'function') === isFunction);
  const there =
    offered.find(({ schema, name }) => table === `${schema}.${name}`) ??
    offered.find(({ schema, name }) => table === name && schema === 'public') ??
    offered.find(({ name }) => table === name);
  if (!there) {
    const names = offered.map(({ schema, name }) => (schema === 'public' ? name : `${schema}.${name}`));
    const what = isFunction ? 'function that returns rows' : 'table or view';
    const mend = nearTo(table, names, (near) =>
      isFunction ? `Write function: { name: '${near}' }.` : `Write table: '${near}'.`,
    );
    return [{ place: at, said: `the connection “${model.connection}” shows no ${what} “${table}”. ${mend}` }];
  }
  const names = there.columns.map(({ name }) => name);
  const missing = (column: string, place: string, line: (near: string) => string): Finding[] =>
    names.includes(column)
      ? []
      : [{ place, said: `“${table}” has no column “${column}”. ${nearTo(column, names, line)}` }];
  if (source.kind === 'readings')
    return [
      ...missing(source.nameColumn, `${at}.readings.name`, (near) => `Write name: '${near}'.`),
      ...missing(source.valueColumn, `${at}.readings.value`, (near) => `Write value: '${near}'.`),
    ];
  const { fields } = model.model.entities.find(({ name }) => name === entity)!;
  return [...columns].flatMap(([field, column]) => {
    const place = `${at}.fields.${field}`;
    const inTable = there.columns.find(({ name }) => name === column);
    if (!inTable) return missing(column, place, (near) => `Write column: '${near}'.`);
    const type = fields.find(({ name }) => name === field)?.type ?? inTable.type;
    if (fits(type, inTable.type)) return [];
    return [
      {
        place,
        said: `the column “${column}” is of type ${inTable.type}, and the field of type ${type}. Write type: '${inTable.type}'.`,
      },
    ];
  });
};

const databaseFindings = async (
  name: string,
  connection: DatabaseConnection,
  models: readonly RegisteredModel[],
): Promise<Finding[]> => {
  let found: FoundTable[];
  try {
    found = await connection.tables();
  } catch (error) {
    return [{ place: `connections.${name}`, said: error instanceof Error ? error.message : String(error) }];
  }
  const findings = models.flatMap((model) =>
    [...model.tables].flatMap(([entity, binding]) => entityFindings(model, entity, binding, found)),
  );
  const { reader } = connection;
  if (reader) {
    await connection.describe({ text: 'select 1', values: [], before: reader }).catch((error: unknown) => {
      const said = error instanceof Error ? error.message : String(error);
      const mend = 'Create it: create role … nologin; grant select on all tables in schema public to …;';
      findings.push({ place: `connections.${name}.readerRole`, said: `${said}. ${mend}` });
    });
  }
  return findings;
};

/** Scopes are asked as nobody asks: one that breaks for a caller without claims is told, since it may for others. */
const scopeFindings = (model: RegisteredModel): Finding[] =>
  [...model.tables].flatMap(([entity, { scope }]) => {
    const place = `${model.model.name}.entities.${entity}.scope`;
    try {
      const rows = scope({});
      if (typeof rows === 'object') scopeFormula(model, findEntity(model.model, entity)!, rows.keep);
      return [];
    } catch (error) {
      const said = error instanceof Error ? error.message : String(error);
      return [{ place, said: `for a caller without claims: ${said}` }];
    }
  });

/**
 * Holds models against what is behind them: connections, tables, columns, types, reader roles and scopes. Empty when everything
 * fits. A database that is away is a finding as well.
 */
export const examine = async (
  models: readonly RegisteredModel[],
  connections: Readonly<Record<string, Connection>>,
): Promise<Finding[]> => {
  const findings = models.flatMap(scopeFindings);
  for (const name of new Set(models.map((model) => model.connection))) {
    const own = models.filter((model) => model.connection === name);
    const connection = Object.hasOwn(connections, name) ? connections[name]! : null;
    if (!connection) {
      const names = own.map(({ model }) => `“${model.name}”`).join(', ');
      const said = `there is no connection of this name, and ${names} reads its rows from it. Add it: connections: { ${name}: postgresConnection({ … }) }, or rowsWithCall() where rows come with each call.`;
      findings.push({ place: `connections.${name}`, said });
    } else if (connection.kind === 'database') findings.push(...(await databaseFindings(name, connection, own)));
  }
  return findings;
};

/** A finding as a line of a log. */
export const findingLine = ({ place, said }: Finding): string => `${place}: ${said}`;
