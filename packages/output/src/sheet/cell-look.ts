import type { DataType, PieceEdge, PieceSide, RunLook, TextContent } from '@gaveta/core/internal';

/** How a cell of a sheet looks. */
export interface CellLook {
  font: RunLook;
  align: TextContent['align'];
  stands: TextContent['stands'];
  wraps: boolean;
  /** Degrees, clockwise. */
  turn: number;
  /** From the edge of its column that it stands at, in points. */
  indent: number;
  /** Number-format code; empty for none. */
  format: string;
  type: DataType;
  fill?: string;
  edges: Readonly<Partial<Record<PieceSide, PieceEdge>>>;
}

/** Things of which most are the same, each once, by their place. */
export class Interned<T> {
  readonly all: T[] = [];
  private readonly places = new Map<string, number>();
  /** Objects that come again as they are need no second look. */
  private readonly known = new WeakMap<object, number>();

  of(one: T): number {
    const isObject = typeof one === 'object' && one !== null;
    const known = isObject ? this.known.get(one) : undefined;
    if (known !== undefined) return known;
    const key = typeof one === 'string' ? one : JSON.stringify(one);
    let place = this.places.get(key);
    if (place === undefined) {
      place = this.all.push(one) - 1;
      this.places.set(key, place);
    }
    if (isObject) this.known.set(one, place);
    return place;
  }
}
