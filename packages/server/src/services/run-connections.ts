import type { Report } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import type { Catalogue, Credentials } from '../catalogue/catalogue.ts';
import { ConnectionError } from '../connection/connection.ts';
import { type GivenRows, givenConnection } from '../sources/given.ts';
import type { ReportRows } from '../threads/row-server.ts';

/** The connections with rows that came with a call. Throws where they belong to no entity, or to one of a database. */
export const withGiven = (
  data: GivenRows,
  report: Report,
  connections: ReportRows['connections'],
  { models }: Catalogue,
): ReportRows['connections'] => {
  const registered = models.get(report.model ?? '');
  const wrong = (detail: string) => new ApiError('wrong-data', { detail });
  if (!registered) throw wrong('the report has no model whose entities could have them.');
  const entities = registered.model.entities.map(({ name }) => name);
  const unknown = Object.keys(data).find((name) => !entities.includes(name));
  if (unknown !== undefined)
    throw wrong(`the model “${registered.model.name}” has no entity “${unknown}”. It has: ${entities.join(', ')}.`);
  const usual = connections.get(registered.connection) ?? null;
  if (usual?.kind === 'database')
    throw wrong(
      `the rows of the model “${registered.model.name}” come from the database “${registered.connection}”. Rows can be given to models whose connection is no database, as rowsWithCall().`,
    );
  return new Map([...connections, [registered.connection, givenConnection(data, usual)]]);
};

/** The connections of a run, opened with what somebody gave to sign in. Throws where they are not let in. */
export const connectionsFor = (
  catalogue: Catalogue,
  credentials: Credentials,
): ReturnType<Catalogue['connectionsFor']> => {
  try {
    return catalogue.connectionsFor(credentials);
  } catch (error) {
    if (error instanceof ConnectionError) throw new ApiError('connection-not-usable', { detail: error.said });
    throw error;
  }
};
