import type { RegisteredModel } from './define.ts';

/** A data model as lines of text: what people see, and (in brackets) what stands behind it. */
export const printModel = ({ model, connection, tables }: RegisteredModel): string => {
  const lines = [`${model.name}: ${model.label}, over the connection “${connection}”`];
  for (const entity of model.entities) {
    const bound = tables.get(entity.name)!;
    const { source } = bound;
    const from =
      source.kind === 'table'
        ? `table ${source.table}`
        : source.kind === 'function'
          ? `function ${source.name}(${(entity.arguments ?? []).map((a) => `${a.name} ${a.type}`).join(', ')})`
          : `readings of ${source.table}, by ${source.nameColumn}`;
    lines.push('', `  ${entity.name}: ${entity.label} / ${entity.plural} (${from}; key ${entity.key})`);
    if (entity.description) lines.push(`    ${entity.description}`);
    for (const field of entity.fields) {
      const formula = bound.computed.get(field.name);
      const column = bound.columns.get(field.name);
      const notes = [
        field.hidden ? 'hidden' : '',
        formula === undefined ? '' : `= ${formula}`,
        column !== undefined && column !== field.name ? `column ${column}` : '',
        field.unit ?? '',
        field.currency ?? '',
        field.format ? `format ${field.format}` : '',
        field.choices ? field.choices.map((c) => `${c.value}: ${c.label}`).join(', ') : '',
      ].filter(Boolean);
      lines.push(
        `    ${field.name.padEnd(18)} ${field.type.padEnd(9)} ${field.label}${notes.length > 0 ? ` (${notes.join('; ')})` : ''}`,
      );
    }
    for (const relation of entity.relations) {
      const on = relation.on.map((pair) => `${pair.here} = ${pair.there}`).join(' and ');
      lines.push(`    ${relation.name.padEnd(18)} → ${relation.kind} ${relation.to} where ${on}`);
    }
    const scope = bound.scope({});
    if (scope !== 'everything')
      lines.push(`    rows without any claim: ${scope === 'nothing' ? 'none' : `those where ${scope.keep}`}`);
  }
  return lines.join('\n');
};
