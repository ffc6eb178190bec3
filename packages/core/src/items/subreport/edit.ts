import type { ItemEdit } from '../../edit/item-edit.ts';

/** It says that its report is not known until one is chosen. */
export const editSubreport: ItemEdit<'subreport'> = {
  width: 'room',
  height: 10,
  says: ({ report }, reports) => reports[report] ?? '',
  own: () => ({ report: '?', links: {} }),
};
