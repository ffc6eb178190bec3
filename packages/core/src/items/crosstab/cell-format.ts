import type { CrosstabCell } from '../../definition/schema.ts';

/** Shares are percentages and ranks whole numbers, unless the cell says otherwise. */
export const cellFormat = ({ format, shows = 'value' }: CrosstabCell, own: string): string => {
  if (format) return own;
  switch (shows) {
    case 'row-share':
    case 'column-share':
    case 'whole-share':
    case 'ratio':
      return '0.0%';
    case 'rank':
      return '0';
    case 'value':
    case 'difference':
    case 'running':
      return own;
    default:
      return shows satisfies never;
  }
};
