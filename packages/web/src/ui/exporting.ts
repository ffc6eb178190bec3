/** What whoever opens the viewer leaves with its place in the history: its export opens by itself. */
export const EXPORTING = { exports: true } as const;

export const isExporting = (state: unknown): boolean =>
  typeof state === 'object' && state !== null && 'exports' in state && state.exports === true;
