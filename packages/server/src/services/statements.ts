import { type Report, readParameters } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { ConnectionError, StatementError } from '../connection/connection.ts';
import { constantNames } from '../rows/row-source.ts';
import { Bindings } from '../sql/expression.ts';
import { gatheredTables, writtenTables } from '../sql/plan-tables.ts';
import { readyStatement } from '../sql/written.ts';
import { loadParser } from '../sql/written-check.ts';
import type { Calls } from './call.ts';
import type { RecipeParts } from './looking.ts';

/** Statements that are written by hand, before they are kept. */
export const statementService = ({
  catalogue,
  limits,
  workbench,
  rights,
}: RecipeParts): Calls<'POST /sql/describe'> => ({
  'POST /sql/describe': async ({ caller, body: asked, signal }) => {
    const { session } = caller;
    const hidden = await rights.hidden(caller);
    const model = hidden.models.has(asked.model) ? undefined : catalogue.models.get(asked.model);
    if (!model) throw new ApiError('wrong-body', { detail: `There is no data model “${asked.model}”.` });
    const connection = catalogue.connections.get(model.connection);
    if (!connection) throw new ApiError('wrong-body', { detail: `The connection of “${asked.model}” is missing.` });
    const database = connection.kind === 'database' ? connection : workbench().connection;
    await loadParser();
    const bindings = new Bindings();
    const report = { name: '', language: 'en', timeZone: 'UTC', parameters: asked.parameters };
    const { values } = readParameters(report, asked.values, { use: 'design', host: session.parameters ?? {} });
    const names = constantNames({ report: report as unknown as Report }, values, bindings, null);
    let written: ((position: number) => number | null) | null = null;
    try {
      const tables =
        connection.kind === 'database' ? writtenTables(model, session.claims, bindings) : gatheredTables(model, null);
      const ready = readyStatement(asked.text, { tables, names });
      written = ready.written;
      const before = database.reader ?? [];
      const query = { text: ready.text, values: bindings.values, before };
      const options = { seconds: limits.previewSeconds, byHand: true, signal };
      return { columns: await database.describe(query, options), failure: null };
    } catch (error) {
      if (!(error instanceof StatementError) && !(error instanceof ConnectionError)) throw error;
      const at = error instanceof StatementError ? error.position : null;
      const position = at === null || written === null ? at : written(at);
      return { columns: null, failure: { detail: error.message, said: error.said, position } };
    }
  },
});
