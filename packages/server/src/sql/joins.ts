import {
  type CheckedType,
  checkFormula,
  type Drawer,
  type Entity,
  type Field,
  findEntity,
  Level,
  problem,
} from '@gaveta/core';
import type { Claims, RegisteredModel, TableBinding } from '../model/define.ts';
import { type Bindings, type Term, toSql } from './expression.ts';

export const quote = (name: string): string =>
  name
    .split('.')
    .map((part) => `"${part.replace(/"/g, '""')}"`)
    .join('.');

export const bindClaim = (bindings: Bindings, claims: Claims, name: string, wanted: CheckedType): Term => ({
  sql: bindings.bind(String(claims[name]), wanted === 'any' ? 'text' : wanted),
  solid: true,
  type: wanted,
});

/** A table with the joins that its columns along `one` relations need. Every table is cut to the caller's row scope. */
export class Joins {
  private readonly aliases = new Map<string, { alias: string; entity: Entity }>();
  private readonly clauses: string[] = [];

  constructor(
    private readonly model: RegisteredModel,
    private readonly claims: Claims,
    private readonly bindings: Bindings,
    private readonly entity: Entity,
    private readonly alias: string,
  ) {}

  from(): string {
    return `${scoped(this.model, this.entity, this.claims, this.bindings)} ${this.alias}`;
  }

  text(): string {
    return this.clauses.map((clause) => `\n  ${clause}`).join('');
  }

  own(field: string): string {
    return this.at(this.alias, this.entity, field);
  }

  column(path: readonly string[]): string {
    const steps = path.slice(0, -1);
    let { alias, entity } = { alias: this.alias, entity: this.entity };
    for (let i = 0; i < steps.length; i++) {
      const key = steps.slice(0, i + 1).join('.');
      const known = this.aliases.get(key);
      if (known) {
        ({ alias, entity } = known);
        continue;
      }
      const relation = entity.relations.find((r) => r.name === steps[i])!;
      const target = findEntity(this.model.model, relation.to)!;
      const next = `${this.alias}_j${this.aliases.size}`;
      const on = relation.on.map(
        (pair) => `${this.at(next, target, pair.there)} = ${this.at(alias, entity, pair.here)}`,
      );
      this.clauses.push(
        `left join ${scoped(this.model, target, this.claims, this.bindings)} ${next} on ${on.join(' and ')}`,
      );
      this.aliases.set(key, { alias: next, entity: target });
      ({ alias, entity } = { alias: next, entity: target });
    }
    return this.at(alias, entity, path.at(-1)!);
  }

  private at(alias: string, entity: Entity, field: string): string {
    return `${alias}.${quote(binding(this.model, entity).columns.get(field)!)}`;
  }
}

const binding = (model: RegisteredModel, entity: Entity): TableBinding => model.tables.get(entity.name)!;

/** An entity's table, cut to the rows that the caller may see. */
const scoped = (model: RegisteredModel, entity: Entity, claims: Claims, bindings: Bindings): string => {
  const { table, scope } = binding(model, entity);
  const rows = scope(claims);
  if (rows === 'everything') return quote(table);
  if (rows === 'nothing') return `(select * from ${quote(table)} where false)`;
  const missing = [...rows.keep.matchAll(/CLAIM\("([^"]+)"\)/g)].some((match) => claims[match[1]!] === undefined);
  if (missing) return `(select * from ${quote(table)} where false)`;
  const stub: Drawer = { id: 'scope', name: 'scope', rows: { entity: entity.name } };
  const level = new Level(0, stub, 'scope', entity, null, null);
  const result = checkFormula(rows.keep, {
    claims: true,
    name: (parts) => {
      const field = fieldAlong(model, entity, parts);
      if (!field)
        return problem('unknown-name', {}, { name: parts.join('.'), hint: `${entity.name} has no such field.` });
      return { kind: 'field', level: 0, column: level.column({ kind: 'field', path: parts, field }), type: field.type };
    },
    rows: () => problem('total-in-query'),
    previous: () => problem('total-in-query'),
    depth: () => problem('total-in-query'),
    isRowScope: () => false,
    suggestions: () => [],
  });
  if (!result.ok) {
    const words = result.problems.map((p) => `${p.code} ${JSON.stringify(p.data)}`).join(', ');
    throw new Error(`The row scope of ${entity.name} is wrong (${rows.keep}): ${words}`);
  }
  // The joins of a scope see whole tables: they only decide, they show nothing.
  const open: RegisteredModel = {
    ...model,
    tables: new Map([...model.tables].map(([k, t]) => [k, { ...t, scope: () => 'everything' as const }])),
  };
  const joins = new Joins(open, claims, bindings, entity, 's');
  const keep = toSql(
    result.formula,
    {
      field: (_, column) => {
        const found = level.columns[column - 1]!;
        return found.kind === 'field' ? joins.column(found.path) : 'null';
      },
      total: () => 'null',
      timeZone: 'UTC',
      collation: null,
      parameter: () => ({ sql: 'null', solid: false, type: 'any' }),
      claim: (name, wanted) => bindClaim(bindings, claims, name, wanted),
    },
    bindings,
  ).sql;
  return `(select s.* from ${quote(table)} s${joins.text()} where ${keep})`;
};

const fieldAlong = (model: RegisteredModel, entity: Entity, parts: string[]): Field | null => {
  let at: Entity | null = entity;
  for (const part of parts.slice(0, -1)) {
    const relation: Entity['relations'][number] | undefined = at?.relations.find(
      (r) => r.name === part && r.kind === 'one',
    );
    at = relation ? findEntity(model.model, relation.to) : null;
  }
  return at?.fields.find((f) => f.name === parts.at(-1)) ?? null;
};
