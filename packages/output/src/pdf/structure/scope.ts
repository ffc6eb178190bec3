import type { RegionMark } from '@gaveta/core/internal';
import type { Group } from './groups.ts';

/** The drawer that a band is of, by its id: bands are named `id/detail`. */
const drawerOf = ({ band }: RegionMark): string => band.slice(0, band.indexOf('/'));

const isUnder = (rows: string, path: string): boolean =>
  path === '' ? rows !== '' : rows.startsWith(path) && rows[path.length] === '/';

/** What rows a row of captions may stand over: those of its drawer and of drawers in it, or those of its own item. */
export class Scope {
  /** Kind of the drawer’s rows, as the first of them tells. */
  private kind: string | null = null;

  private constructor(
    private readonly item: string | null,
    private readonly drawer: string,
    /** The row around them. */
    private readonly path: string,
  ) {}

  /** Of captions: those of items with cells of their own are of that item. */
  static of(group: Group, region: RegionMark | null): Scope {
    const isOwn = group.part !== undefined || region === null;
    return new Scope(isOwn ? group.item : null, region ? drawerOf(region) : '', region?.rows ?? '');
  }

  get isOfItem(): boolean {
    return this.item !== null;
  }

  isSame({ item, drawer, path }: Scope): boolean {
    return this.item === item && (item !== null || (this.drawer === drawer && this.path === path));
  }

  /** Whether a group of a band may go on with the table; left out: any that is not an item’s own. */
  holds(group: Group | undefined, region: RegionMark | null): boolean {
    if (this.item !== null) return group?.item === this.item && group.part !== undefined;
    if (!region || group?.part !== undefined) return false;
    const { rows } = region;
    const isOwn = drawerOf(region) === this.drawer;
    if (rows === this.path) return isOwn;
    if (!isUnder(rows, this.path)) return false;
    const from = this.path === '' ? 0 : this.path.length + 1;
    const kind = rows.slice(from, rows.indexOf(':', from));
    if (isOwn) this.kind ??= kind;
    return this.kind === kind;
  }
}
