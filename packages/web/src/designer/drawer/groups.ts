import {
  type Band,
  type Drawer,
  dressed,
  type Edit,
  type Field,
  freeName,
  type Group,
  idMaker,
  type Report,
  roomOf,
} from '@gaveta/core';

/** A group by a field inside those that there are, with a heading that shows its value and a footer for totals. */
export const newGroup = (report: Report, drawer: Drawer, field: Field): Edit => {
  const name = freeName(`by_${field.name}`, new Set((drawer.groups ?? []).map((g) => g.name)));
  const isTime = field.type === 'date' || field.type === 'datetime';
  const header: Band = {
    height: 8,
    keepWith: 1,
    items: [
      {
        kind: 'field',
        id: idMaker(report)('field'),
        x: 0,
        y: 1.5,
        width: roomOf(report.page),
        height: 6,
        formula: name,
        ...(isTime ? { format: 'mmmm yyyy' } : {}),
        ...dressed(report, 'heading'),
      },
    ],
  };
  const group: Group = {
    name,
    by: field.name,
    ...(isTime ? { per: 'month' as const } : {}),
    header,
    footer: { height: 6, items: [] },
  };
  return { do: 'drawer', drawer: drawer.id, settings: { groups: [...(drawer.groups ?? []), group] } };
};
