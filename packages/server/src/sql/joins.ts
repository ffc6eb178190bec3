import { type Entity, findEntity, type Model, relationAt } from '@gaveta/core/internal';
import { identifier } from './identifiers.ts';

/** A table or column, with its schema where it has one: `crm.person`. */
export const quote = (name: string): string => name.split('.').map(identifier).join('.');

/** The tables that a statement reads: what stands after FROM for an entity, and the names of its columns there. */
export interface Tables {
  /** The entities and their relations. */
  model: Model;
  /** Begins with `lateral` when the rows depend on those of the statement around. */
  from(entity: Entity): string;
  column(entity: Entity, field: string): string;
}

/** A table with the joins that its columns along `one` relations need. */
export class Joins {
  private readonly aliases = new Map<string, { alias: string; entity: Entity }>();
  private readonly clauses: string[] = [];

  constructor(
    private readonly tables: Tables,
    private readonly entity: Entity,
    private readonly alias: string,
  ) {}

  from(): string {
    return `${this.tables.from(this.entity)} ${this.alias}`;
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
      const relation = relationAt(entity, steps[i]!)!;
      const target = findEntity(this.tables.model, relation.to)!;
      const next = `${this.alias}_j${this.aliases.size}`;
      const on = relation.on.map(
        (pair) => `${this.at(next, target, pair.there)} = ${this.at(alias, entity, pair.here)}`,
      );
      this.clauses.push(`left join ${this.tables.from(target)} ${next} on ${on.join(' and ')}`);
      this.aliases.set(key, { alias: next, entity: target });
      ({ alias, entity } = { alias: next, entity: target });
    }
    return this.at(alias, entity, path.at(-1)!);
  }

  private at(alias: string, entity: Entity, field: string): string {
    return `${alias}.${this.tables.column(entity, field)}`;
  }
}
