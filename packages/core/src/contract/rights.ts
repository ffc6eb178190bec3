/** `data`: make and change connections; `sql`: write statements by hand; `develop`: see what the host registered, and its errors. */
export const RIGHTS = ['view', 'design', 'data', 'sql', 'develop'] as const;
export type Right = (typeof RIGHTS)[number];
