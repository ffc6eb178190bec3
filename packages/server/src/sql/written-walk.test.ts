import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { beforeAll, describe, expect, it } from 'vitest';
import { StatementError } from '../connection/connection.ts';
import { checkStatement, loadParser, PARTS, type Tree, walkStatement } from './written-check.ts';

beforeAll(loadParser);

interface NodeField {
  name: string;
  type: string;
  isMany: boolean;
}

/** Every kind of node that the parser knows, with the fields of each that may hold another. */
const kinds = ((): Map<string, NodeField[]> => {
  const file = createRequire(import.meta.url)
    .resolve('@pgsql/types')
    .replace(/index\.js$/, 'types.d.ts');
  const found = new Map<string, NodeField[]>();
  for (const [, kind, body] of readFileSync(file, 'utf8').matchAll(/export interface (\w+) \{([^}]*)\}/g)) {
    const fields = [...body!.matchAll(/^\s*(\w+)\?: (\w+)(\[\])?;/gm)].map(([, name, type, many]) => ({
      name: name!,
      type: type!,
      isMany: many !== undefined,
    }));
    found.set(kind!, fields);
  }
  return found;
})();

const FORBIDDEN = { FuncCall: { funcname: [{ String: { sval: 'pg_read_file' } }] } };

const refuses = (tree: Tree): boolean => {
  try {
    walkStatement(tree, '', new Set(['hut']));
    return false;
  } catch (error) {
    if (error instanceof StatementError) return true;
    throw error;
  }
};
const selecting = (value: unknown): Tree => ({ SelectStmt: { targetList: [{ ResTarget: { val: value } }] } });

describe('a statement', () => {
  it('of every kind of node that the parser knows is walked, or refused', () => {
    expect(kinds.size).toBeGreaterThan(250);
    for (const kind of kinds.keys()) if (!PARTS.has(kind)) expect(refuses(selecting({ [kind]: {} })), kind).toBe(true);
  });
  it('has nothing forbidden in any field of any node', () => {
    // Where a node may stand; everything may stand among the values that are selected.
    for (const kind of PARTS) {
      for (const { name, type, isMany } of kinds.get(kind) ?? []) {
        const holds = type === 'Node' ? FORBIDDEN : kinds.has(type) ? holding(type, 0) : null;
        if (!holds) continue;
        for (const value of [isMany ? [holds] : holds]) {
          const needed =
            kind === 'CommonTableExpr' && name !== 'ctequery'
              ? { ctename: 'x', ctequery: selecting({ A_Const: {} }) }
              : {};
          const node = { [kind]: { ...needed, [name]: value } };
          const tree: Tree =
            kind === 'SelectStmt'
              ? (node as Tree)
              : kind === 'CommonTableExpr'
                ? { SelectStmt: { withClause: { ctes: [node] }, targetList: [] } }
                : selecting(node);
          expect(refuses(tree), `${kind}.${name}`).toBe(true);
        }
      }
    }
  });
  it('is checked in what CYCLE marks rows with', () => {
    const text = `with recursive t(n) as (select 1 union all select n from t) cycle n set is_cycle to VALUE default 'x' using path select n from t`;
    expect(() => checkStatement(text.replace('VALUE', "'y'"), new Set())).not.toThrow();
    for (const value of ["pg_read_file('/etc/passwd')", '(select name from secrets)', "'x'::regclass"])
      expect(() => checkStatement(text.replace('VALUE', value), new Set())).toThrow();
  });
  it('nested without end is refused', () => {
    expect(() => checkStatement(`select ${'('.repeat(9000)}1${')'.repeat(9000)}`, new Set())).not.toThrow(RangeError);
    expect(() => checkStatement(`select ${'-'.repeat(1)}${' - '.repeat(20_000)}1`, new Set())).toThrow(StatementError);
  });
});

/** A node that stands bare in its place, with something forbidden in its first field that can hold it. */
const holding = (type: string, depth: number): unknown => {
  for (const field of kinds.get(type) ?? []) {
    if (field.type === 'Node') return { [field.name]: [FORBIDDEN] };
    if (kinds.has(field.type) && depth < 3) {
      const inner = holding(field.type, depth + 1);
      if (inner) return { [field.name]: inner };
    }
  }
  return null;
};
