interface Stretch {
  /** Open at an end that is null. */
  from: number | null;
  to: number | null;
  isSecond?: boolean;
}

/** Whether two zones of one scale cover the same values. */
export const zonesOverlap = (zones: readonly Stretch[]): boolean => {
  const ends = ({ from, to }: Stretch): [number, number] => [
    from ?? Number.NEGATIVE_INFINITY,
    to ?? Number.POSITIVE_INFINITY,
  ];
  return zones.some((a, i) =>
    zones.slice(i + 1).some((b) => {
      if ((a.isSecond ?? false) !== (b.isSecond ?? false)) return false;
      const [[a1, a2], [b1, b2]] = [ends(a), ends(b)];
      return Math.max(a1, b1) < Math.min(a2, b2);
    }),
  );
};
