export { type Claims, defineModel, type EntityInput, type FieldInput, type ModelInput, type RegisteredModel, type RelationInput, type RowScope } from './model/define.ts';
export { type Connection, ConnectionError, type RowStream, StatementError } from './connection/connection.ts';
export { pgliteConnection } from './connection/pglite.ts';
export { openRows } from './sql/row-source.ts';
export type { Query } from './sql/level-query.ts';
