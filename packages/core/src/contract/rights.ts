/** `data`: make and change connections; `sql`: write statements by hand; `develop`: see what the host registered, and its errors. */
export const RIGHTS = ['view', 'design', 'data', 'sql', 'develop'] as const;
export type Right = (typeof RIGHTS)[number];

/** Those that a token of the playground may have: with `develop` one could be made from another for ever. */
export const TRIED_RIGHTS = ['view', 'design', 'data', 'sql'] as const satisfies readonly Right[];
