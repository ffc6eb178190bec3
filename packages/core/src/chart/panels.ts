import type { Box } from './drawing.ts';
import type { ChartWriter } from './writer.ts';

export interface PanelGrid {
  columns: number;
  rows: number;
  /** Between two panels. */
  gap: number;
  /** Height of the words over each; 0 for a panel alone. */
  heading: number;
}

/** A panel is this much wider than high where it can be. */
const SHAPE = 1.7;

/** How many panels stand side by side. */
export const panelGrid = (count: number, box: Box, set: number | null, writer: ChartWriter): PanelGrid => {
  if (count <= 1) return { columns: 1, rows: 1, gap: 0, heading: 0 };
  const suited = Math.round(Math.sqrt((count * box.width) / Math.max(1, box.height) / SHAPE));
  const columns = Math.max(1, Math.min(count, set ?? suited));
  return { columns, rows: Math.ceil(count / columns), gap: writer.size, heading: writer.lineHeight };
};
