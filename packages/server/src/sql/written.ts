import { writtenParts } from '@gaveta/core/internal';
import { StatementError } from '../connection/connection.ts';
import type { SqlNames } from './expression.ts';
import { identifier } from './identifiers.ts';
import { checkStatement } from './written-check.ts';

/** A table that hand-written statements may name, cut to the caller's rows. */
export interface WrittenTable {
  sql: string;
  /** The rows are cut, so the statement may not reach behind that: errors and timing would tell of others. */
  isCut: boolean;
}

export interface WrittenContext {
  /** Tables by the name that statements call them. `make` adds its bindings only where it is used. */
  tables: ReadonlyMap<string, () => WrittenTable>;
  names: Pick<SqlNames, 'parameter'>;
}

/** A statement made ready to run, and the way back from its characters to those that were written. */
export interface ReadyStatement {
  text: string;
  /** 0-based; null outside of what was written. */
  written(position: number): number | null;
}

export const withoutEnd = (text: string): string => text.replace(/[\s;]+$/, '');

/**
 * A statement that a person wrote, checked, with its parameters bound, never pasted in, and over nothing but the tables
 * given. Throws StatementError, at a place in what was written.
 */
export const readyStatement = (source: string, context: WrittenContext): ReadyStatement => {
  const parts = writtenParts(withoutEnd(source));
  const check = place(parts.map((part) => ('text' in part ? part : { ...part, sql: '($1)' })));
  let tables: Set<string>;
  try {
    ({ tables } = checkStatement(check.text, new Set(context.tables.keys())));
  } catch (error) {
    if (error instanceof StatementError && error.position !== null)
      throw new StatementError(error.said, check.back(error.position));
    throw error;
  }
  const made = [...tables].map((name) => {
    const { sql, isCut } = context.tables.get(name)!();
    return `${identifier(name)} as ${isCut ? 'materialized ' : ''}(${sql})`;
  });
  const ready = place(
    parts.map((part) =>
      'text' in part ? part : { ...part, sql: `(${context.names.parameter(part.parameter, 'any').sql})` },
    ),
  );
  const before = made.length > 0 ? `with ${made.join(',\n')}\nselect * from (\n` : 'select * from (\n';
  return {
    text: `${before}${ready.text}\n) written`,
    written: (position) => {
      const within = position - before.length;
      return within < 0 || within > ready.text.length ? null : ready.back(within);
    },
  };
};

/** Parts put together, and the way back to where they stood. */
const place = (parts: readonly ({ text: string } | { parameter: string; at: number; sql: string })[]) => {
  let text = '';
  let source = 0;
  const starts: { at: number; source: number }[] = [];
  for (const part of parts) {
    starts.push({ at: text.length, source });
    if ('text' in part) {
      text += part.text;
      source += part.text.length;
    } else {
      text += part.sql;
      source += part.parameter.length + 1;
    }
  }
  const back = (position: number): number => {
    const i = starts.findLastIndex((s) => s.at <= position);
    const start = starts[i] ?? { at: 0, source: 0 };
    const part = parts[i];
    return part && 'text' in part ? start.source + position - start.at : start.source;
  };
  return { text, back };
};
