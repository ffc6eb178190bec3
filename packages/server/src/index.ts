// What a host adds of its own.
export { type AddedFunction, defineFunction, type OwnTheme } from '@gaveta/core/internal';
export type { Addition } from '@gaveta/output';
export type { Claims } from './access/claims.ts';
export { type Right, type Session, signToken } from './access/session.ts';
export { ApiError } from './base/api-error.ts';
export type { Limits } from './base/limits.ts';
export { examine, type Finding } from './catalogue/doctor.ts';
export {
  type Connection,
  ConnectionError,
  type DatabaseConnection,
  type RowStream,
  type RowsConnection,
  StatementError,
} from './connection/connection.ts';
export { embeddedConnection, type OpenPGlite, pgliteConnection } from './connection/pglite.ts';
export { type PostgresOptions, postgresConnection } from './connection/postgres.ts';
export type { Statement } from './connection/statement.ts';
export type { DeliveriesInCode } from './deliveries/in-code.ts';
export type {
  AddressOptions,
  DeliveryOptions,
  MailOptions,
  MailServer,
  People,
  Person,
} from './deliveries/options.ts';
export { createGaveta, type Gaveta } from './gaveta.ts';
export type { RequestHandler } from './http/web-address.ts';
export {
  defineModel,
  type EntityInput,
  type FieldInput,
  type ModelInput,
  type RegisteredModel,
  type RelationInput,
  type RowScope,
  type ShapeOf,
} from './model/define.ts';
export { drizzleTables, type EntityChanges, jsonSchemaFields, refineModel, zodFields } from './model/from-schema.ts';
export { introspectedModel } from './model/introspected.ts';
export { printModel } from './model/print.ts';
export type { GavetaOptions } from './options.ts';
export { type DeskOptions, RecipeDesk } from './recipes/desk.ts';
export { type OpenRows, openRows } from './rows/row-source.ts';
export {
  type Authorize,
  type EndedDelivery,
  type EndedRun,
  type Hooks,
  Refused,
  type ReportAction,
  type ReportToSave,
  type RunChanges,
  type RunToStart,
} from './services/gate.ts';
export type { ReportsInCode, RunInCode, RunOptions, RunsInCode } from './services/in-code.ts';
export type { FolderInCode, LibraryInCode } from './services/library-in-code.ts';
export type { JoinedReport, JoinOptions, Rendered, RenderOptions } from './services/render.ts';
export { type FileSourceOptions, fileSource } from './sources/file-source.ts';
export { type GivenRows, givenConnection, rowsWithCall } from './sources/given.ts';
export { type StreamedRow, type StreamRequest, streamConnection } from './sources/stream.ts';
export { Workbench } from './staging/workbench.ts';
export type { Grant, GrantTarget } from './store/grant-store.ts';
export type { SeenFolder } from './store/library-store.ts';
export { openStore, type Store } from './store/store.ts';
