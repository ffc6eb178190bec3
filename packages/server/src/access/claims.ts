/** What a signed-in caller brings: set by the host's server, never by the browser. */
export type Claim = string | number | boolean | null | readonly (string | number | boolean)[];
export type Claims = Readonly<Record<string, Claim>>;
