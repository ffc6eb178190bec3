/** Something with a place in its band. Points. */
interface Placed {
  box: { x: number; y: number; width: number; height: number };
}

/** What two edges may differ by and still be one. */
const EDGE = 0.01;

const bottomOf = ({ box }: Placed): number => box.y + box.height;
const byTop = <T extends Placed>(items: readonly T[]): T[] => [...items].sort((a, b) => a.box.y - b.box.y);

/** Items in rows from top to bottom: whatever stands lower than all of a row is in the next one. */
export const rowsOfItems = <T extends Placed>(items: readonly T[]): T[][] => {
  const rows: T[][] = [];
  for (const item of byTop(items)) {
    const row = rows.at(-1);
    if (row?.some((above) => bottomOf(above) > item.box.y + EDGE)) row.push(item);
    else rows.push([item]);
  }
  return rows;
};

/** Items of a row in columns: what stands right below another one follows it, what stands beside it does not. */
export const columnsOfItems = <T extends Placed>(items: readonly T[]): T[][] => {
  const columns: T[][] = [];
  for (const item of byTop(items)) {
    const above = columns
      .map((column) => ({ column, last: column.at(-1)! }))
      .filter(({ last }) => bottomOf(last) <= item.box.y + EDGE && overlap(last, item))
      .sort((a, b) => bottomOf(b.last) - bottomOf(a.last))[0];
    if (above) above.column.push(item);
    else columns.push([item]);
  }
  return columns;
};

const overlap = ({ box: a }: Placed, { box: b }: Placed): boolean =>
  a.x + EDGE < b.x + b.width && b.x + EDGE < a.x + a.width;
