import { findTheme, THEMES, type Theme } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { queries } from './queries.ts';

export interface KnownThemes {
  /** The host's own and those of the library, then Gaveta's. */
  all: readonly Theme[];
  /** The first of the host's, which new reports have; null where it gives none. */
  house: Theme | null;
}

export const knownThemes = (own: readonly Theme[]): KnownThemes => ({
  all: [...own, ...THEMES],
  house: own.find(({ fromLibrary }) => fromLibrary === undefined) ?? null,
});

/** The theme of a new report: the one that was chosen, else that of the house, else the named one of Gaveta's. */
export const themeFor = ({ all, house }: KnownThemes, chosen: string | null, otherwise: Theme): Theme =>
  findTheme(chosen ?? undefined, all) ?? house ?? otherwise;

const NONE: readonly Theme[] = [];

/** Themes that reports may have, as far as they have come. */
export const useThemes = (): KnownThemes => {
  const { data = NONE } = useQuery(queries.themes());
  return useMemo(() => knownThemes(data), [data]);
};
