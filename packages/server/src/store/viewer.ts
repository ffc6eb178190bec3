import { ACCESS_LEVELS, type AccessLevel } from '@gaveta/core/contract';

/** Who looks into the library. What the store gives them is what they may see. */
export interface Viewer {
  /** Null: code of the host’s own, which sees also what belongs to single people. */
  user: string | null;
  groups: readonly string[];
  /** Sees everything but the own folders of others, whatever has been granted. */
  seesAll: boolean;
  /** What they may do at most, as their token says. */
  most: AccessLevel;
}

/** Code of the host’s own. */
export const HOST: Viewer = { user: null, groups: [], seesAll: true, most: 'manage' };

/** Place of a level, from 1; 0 is none. */
export const rankOf = (level: AccessLevel): number => ACCESS_LEVELS.indexOf(level) + 1;

/** Null for 0. */
export const levelAt = (rank: number): AccessLevel | null => ACCESS_LEVELS[rank - 1] ?? null;

export const EVERYBODY = 'everybody';

/** Names under which something may have been granted to somebody. */
export const principalsOf = ({ user, groups }: Viewer): string[] => [
  EVERYBODY,
  ...(user === null ? [] : [`user:${user}`]),
  ...new Set(groups.map((group) => `group:${group}`)),
];
