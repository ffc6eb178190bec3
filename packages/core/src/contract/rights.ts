/**
 * What a token lets somebody do at all. `manage`: see everything in the library, and decide who may; `deliver`: have reports sent by
 * themselves; `data`: make and change connections; `sql`: write statements by hand; `develop`: see what the host registered, and its
 * errors.
 */
export const RIGHTS = ['view', 'design', 'manage', 'deliver', 'data', 'sql', 'develop'] as const;
export type Right = (typeof RIGHTS)[number];

/** Those that a token of the playground may have: with `develop` one could be made from another for ever. */
export const TRIED_RIGHTS = ['view', 'design', 'data', 'sql'] as const satisfies readonly Right[];

/**
 * What somebody may do with a folder or with one thing in the library, each with all before it. `see`: see and run what is published;
 * `change`: see what is not, and save revisions; `publish`: let readers see one; `manage`: decide who may.
 */
export const ACCESS_LEVELS = ['see', 'change', 'publish', 'manage'] as const;
export type AccessLevel = (typeof ACCESS_LEVELS)[number];

/** What stands in folders of the library. */
export const LIBRARY_KINDS = ['report', 'sketch', 'recipe', 'connection', 'picture', 'theme'] as const;
export type LibraryKind = (typeof LIBRARY_KINDS)[number];

/** What somebody can have done with a thing of the library. */
export const ACTS = [
  'created',
  'saved',
  'changed',
  'moved',
  'deleted',
  'restored',
  'published',
  'taken-back',
  'asked',
  'access',
  'ran',
  'exported',
  'shared',
  'unshared',
  'delivered',
] as const;
export type Act = (typeof ACTS)[number];

/**
 * How revisions of what is in a folder come before readers: with each save, when somebody who may publishes them, or when one person
 * asks for it and another one, who may, publishes them.
 */
export const PUBLISHINGS = ['each-save', 'by-hand', 'two-people'] as const;
export type Publishing = (typeof PUBLISHINGS)[number];
