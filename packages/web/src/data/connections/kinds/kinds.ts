import type { ConnectionKind } from '../draft.ts';
import { fileRoom } from './file.tsx';
import { httpRoom } from './http.tsx';
import type { ConnectionRoom } from './kind.ts';
import { postgresRoom } from './postgres.tsx';

const CONNECTION_ROOMS: { readonly [K in ConnectionKind]: ConnectionRoom<K> } = {
  file: fileRoom,
  postgres: postgresRoom,
  http: httpRoom,
};

/** In the order in which they are offered. */
export const CONNECTION_KINDS = Object.keys(CONNECTION_ROOMS) as ConnectionKind[];

/** Records are by kind: a connection's room is that of its own kind. */
export const connectionRoom = (kind: ConnectionKind): ConnectionRoom =>
  CONNECTION_ROOMS[kind] as unknown as ConnectionRoom;
