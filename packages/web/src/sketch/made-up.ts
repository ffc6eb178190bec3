import { type Field, type Reached, reachedField, type Sketch, type WireValue } from '@gaveta/core/internal';
import { AcrossCells } from './across-cells.ts';
import type { TableLine } from './line-tree.ts';

/** How many made-up lines of a level there are. */
const GROUPS = 3;
const ROWS = 5;

/** A value of a type that is plainly none of the real ones. */
const madeUp = ({ type, label }: Pick<Field, 'type' | 'label'>, n: number): WireValue => {
  switch (type) {
    case 'number':
      return (n * 37 + 12) % 500;
    case 'boolean':
      return n % 2 === 0;
    case 'date':
      return `2000-${String((n % 12) + 1).padStart(2, '0')}-01`;
    case 'datetime':
      return `2000-01-${String((n % 28) + 1).padStart(2, '0')}T12:00:00Z`;
    case 'text':
    case 'picture':
      return `${label} ${n + 1}`;
    default:
      return type satisfies never;
  }
};

const NUMBER = { type: 'number', label: '' } as const;

/** What a sketch shows where its rows may not be asked for. */
export interface MadeUp {
  lines: TableLine[];
  across: AcrossCells;
}

/** Lines in the shape of a sketch, without asking anybody for its rows. */
export const madeUpLines = (sketch: Sketch, reach: readonly Reached[]): MadeUp => {
  const { groups, columns, rows, across } = sketch;
  const fieldOf = (path: string | undefined, name: string): Field => {
    const found = path === undefined ? null : reachedField(reach, path);
    return found
      ? { ...found.field, name, label: found.field.name === 'name' ? found.at.label : found.field.label }
      : { ...NUMBER, name };
  };
  const found: TableLine[] = [];
  let n = 0;
  const keys = groups.map((group) => fieldOf(group.field, group.name));
  const line = (kind: 'group' | 'row', depth: number, at: WireValue[], index: number): TableLine => {
    const shown = columns.map((column): Field => {
      const own = fieldOf(column.field, column.name);
      const isCount = kind === 'group' && column.total?.startsWith('COUNT');
      return column.inner || isCount ? { ...NUMBER, name: column.name } : own;
    });
    const isInner = kind === 'group' && (depth < groups.length - 1 || rows);
    return {
      ...{ kind, depth, at: at as TableLine['at'], index, isFoldable: false, isOpen: isInner },
      fields: kind === 'group' ? [...keys.slice(0, depth + 1), ...shown] : shown,
      values: [
        ...(kind === 'group' ? at : []),
        ...columns.map((column, i) =>
          kind === 'group' && column.total === undefined && column.ofLine === undefined ? null : madeUp(shown[i]!, n++),
        ),
      ],
    };
  };
  const walk = (depth: number, at: WireValue[]): void => {
    if (depth === groups.length) {
      if (rows) for (let i = 0; i < ROWS; i++) found.push(line('row', depth, at, i));
      return;
    }
    for (let i = 0; i < GROUPS; i++) {
      const own = [...at, madeUp(keys[depth]!, i)];
      found.push(line('group', depth, own, i));
      walk(depth + 1, own);
    }
  };
  walk(0, []);
  const cells = new AcrossCells(across?.name ?? null);
  if (across) {
    const over = fieldOf(across.field, across.name);
    const values = Array.from({ length: GROUPS }, (_, i) => madeUp(over, i));
    for (const { at } of [{ at: [] }, ...found])
      cells.put({
        fields: [...keys.slice(0, at.length), over, ...columns.map(({ name }) => ({ ...NUMBER, name }))],
        lines: values.map((value) => [...at, value, ...columns.map(() => madeUp(NUMBER, n++))]),
      });
  }
  return { lines: found, across: cells };
};
