import { useQuery } from '@tanstack/react-query';
import { queries } from '../../api/queries.ts';

/** Until the server has said which ones there are. */
const DEFAULT_FAMILY = 'Source Sans 3';

/** Font families that a text can have; the first one is the default. */
export const useFamilies = (): string[] => {
  const fonts = useQuery(queries.fonts());
  const offered = (fonts.data ?? []).filter(({ isFallback }) => !isFallback).map(({ family }) => family);
  return offered.length > 0 ? [...new Set(offered)] : [DEFAULT_FAMILY];
};
