/** How text looks where nothing says otherwise. */
export const DEFAULT_LOOK = {
  size: 10,
  color: '#1f2a2e',
  align: 'left',
  stands: 'top',
  padding: 0,
  spacing: 1.25,
} as const;

/** Dashes of a line so thick, in points; null for a solid one. */
export const dashOf = (dash: 'solid' | 'dashed' | 'dotted' | undefined, thickness: number): number[] | null =>
  !dash || dash === 'solid' ? null : dash === 'dashed' ? [thickness * 4, thickness * 2] : [thickness, thickness * 2];
