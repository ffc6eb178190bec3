import {
  compileFormula,
  decodeValue,
  type Entity,
  type Field,
  Moment,
  plainContext,
  type WireRow,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { RegisteredModel } from '../model/define.ts';
import { withClaims } from '../sql/claims.ts';
import { scopeFormula } from '../sql/scoped-tables.ts';

/** Rows of a source that is no database, cut to what the caller may see. */
export async function* withinScope(
  rows: AsyncIterable<WireRow[]>,
  model: RegisteredModel,
  entity: Entity,
  fields: readonly Field[],
  claims: Claims,
): AsyncGenerator<WireRow[]> {
  const scope = model.tables.get(entity.name)!.scope(claims);
  if (scope === 'nothing') return;
  if (scope === 'everything') {
    yield* rows;
    return;
  }
  const { formula, level } = scopeFormula(model, entity, scope.keep);
  const claimed = withClaims(formula, claims);
  if ('unfit' in claimed) {
    model.unfitClaim?.(entity.name, claimed.unfit.claim, claimed.unfit.wanted);
    return;
  }
  const columns = level.columns.map((c) => (c.kind === 'field' ? fields.findIndex((f) => f.name === c.path[0]) : -1));
  const holds = compileFormula(claimed.formula);
  const report = { name: '', timeZone: 'UTC', language: 'en', runAt: new Moment(0) };
  for await (const batch of rows) {
    yield batch.filter((wire) => {
      const row = [null, ...columns.map((at) => (at < 0 ? null : decodeValue(wire[at] ?? null, fields[at]!.type)))];
      return holds(plainContext(report, {}, row)) === true;
    });
  }
}
