/** Dashes of a reference line, in points; none for a solid one. */
export const dashOf = (dash: 'solid' | 'dashed' | 'dotted'): number[] | undefined =>
  dash === 'solid' ? undefined : dash === 'dashed' ? [4, 2.5] : [1.2, 2];
