import type { WireRow } from '@gaveta/core/internal';
import { plainWanted, type ReportConnection, type ReportDatabase, type RowStream } from '../connection/connection.ts';
import type { RegisteredModel, RowScope } from '../model/define.ts';
import type { Bench } from '../staging/workbench.ts';
import type { Calls } from './calls.ts';
import { type PlainConnection, type PlainModel, type PlainScope, type RowCalls, WORKBENCH } from './job.ts';

/** Connections as a report's thread has them: all that is asked of them goes to the thread that they are in. */
export const connectionsOver = (
  rows: Calls<RowCalls>,
  connections: readonly PlainConnection[],
): Map<string, ReportConnection> =>
  new Map(
    connections.map(({ name, kind, reader }): [string, ReportConnection] => [
      name,
      kind === 'database'
        ? databaseOver(rows, name, reader)
        : {
            kind,
            async *read(entity, { fields, parameters }) {
              const wanted = fields.map(plainWanted);
              const stream = await rows.read(name, entity, { fields: wanted, parameters: { ...parameters } });
              yield* streamOver(rows, stream);
            },
          },
    ]),
  );

const databaseOver = (rows: Calls<RowCalls>, name: string, reader: string[] | null): ReportDatabase => ({
  kind: 'database',
  ...(reader ? { reader } : {}),
  textOrder: () => rows.textOrder(name),
  open: async (queries, { byHand = false } = {}) =>
    (await rows.open(name, queries, byHand)).map((stream) => streamOver(rows, stream)),
});

/** While one batch is being worked on, the next is on its way. */
const streamOver = (rows: Calls<RowCalls>, stream: number): RowStream => {
  const close = (): Promise<void> => rows.end(stream);
  return {
    async *[Symbol.asyncIterator](): AsyncGenerator<WireRow[]> {
      let next = rows.next(stream);
      try {
        for (;;) {
          const batch = await next;
          if (batch === null) return;
          next = rows.next(stream);
          // Whoever stops reading does not hear it fail.
          next.catch(() => {});
          yield batch;
        }
      } finally {
        await close();
      }
    },
    close,
  };
};

export const benchOver = (rows: Calls<RowCalls>): Bench => ({
  connection: databaseOver(rows, WORKBENCH, null),
  make: (columns, _signal, apart = false) =>
    rows.make(
      columns.map(({ name, type }) => ({ name, type })),
      apart,
    ),
  copy: (table, csv) => rows.copy(table, csv),
  ready: (table) => rows.ready(table),
  drop: (tables) => rows.drop(tables),
});

/** Models with the row scopes that their host's thread worked out. */
export const modelsOver = (
  rows: Calls<RowCalls>,
  models: readonly PlainModel[],
  scopes: ReadonlyMap<string, ReadonlyMap<string, PlainScope>>,
): Map<string, RegisteredModel> =>
  new Map(
    models.map(({ model, connection, tables }) => {
      const { name } = model;
      const scopeOf = (entity: string) => (): RowScope => {
        const found = scopes.get(name)?.get(entity) ?? 'nothing';
        if (typeof found === 'object' && 'failed' in found) throw new Error(found.failed);
        return found;
      };
      const registered: RegisteredModel = {
        model,
        connection,
        tables: new Map([...tables].map(([entity, table]) => [entity, { ...table, scope: scopeOf(entity) }])),
        unfitClaim: (entity, claim, wanted) => void rows.unfitClaim(name, entity, claim, wanted).catch(() => {}),
        inLanguage: () => model,
      };
      return [name, registered];
    }),
  );
