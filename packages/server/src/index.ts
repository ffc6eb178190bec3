export { type Right, type Session, signToken } from './access/session.ts';
export { type Connection, ConnectionError, type RowStream, StatementError } from './connection/connection.ts';
export { pgliteConnection } from './connection/pglite.ts';
export { createGaveta, type Gaveta, type GavetaOptions, type Limits } from './gaveta.ts';
export {
  type Claims,
  defineModel,
  type EntityInput,
  type FieldInput,
  type ModelInput,
  type RegisteredModel,
  type RelationInput,
  type RowScope,
} from './model/define.ts';
export type { Query } from './sql/level-query.ts';
export { type OpenRows, openRows } from './sql/row-source.ts';
export { openStore, type Store } from './store/store.ts';
