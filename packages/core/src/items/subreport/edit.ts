import type { ItemStart } from '../../edit/item-edit.ts';

/** It says that its report is not known until one is chosen. */
export const startSubreport: ItemStart<'subreport'> = {
  width: 'room',
  height: 10,
  own: () => ({ report: '?', links: {} }),
};
