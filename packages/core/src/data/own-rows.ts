import type { Drawer, OwnRows } from '../definition/schema.ts';

/** An item’s own rows as a drawer without bands; null when it has none. */
export const ownDrawer = (id: string, rows: OwnRows | undefined): Drawer | null => {
  if (!rows) return null;
  const { filter, sort, first, ...from } = rows;
  return {
    id,
    name: 'entity' in from ? from.entity : from.relation,
    rows: from,
    ...(filter ? { filter } : {}),
    ...(sort ? { sort } : {}),
    ...(first ? { first } : {}),
  };
};
