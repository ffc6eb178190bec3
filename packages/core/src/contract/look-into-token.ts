import { RIGHTS } from './rights.ts';

/** What a token says, read where it is: nothing of it is sent anywhere, and its signature is not checked. */
export interface TokenSeen {
  user: string | null;
  rights: string[];
  claims: Record<string, unknown>;
  parameters: Record<string, unknown>;
  /** Seconds since 1970; null where it does not say. */
  issuedAt: number | null;
  endsAt: number | null;
  findings: TokenFinding[];
}

/** What is wrong with a token, or will be: a code, for words, and what it is about. */
export interface TokenFinding {
  code:
    | 'algorithm'
    | 'audience'
    | 'no-user'
    | 'rights-list'
    | 'unknown-right'
    | 'claims-object'
    | 'claim-kind'
    | 'no-end'
    | 'expired'
    | 'not-yet'
    | 'long-lived';
  name: string;
}

/** Seconds after which a token that is still good is called long-lived. */
const LONG = 24 * 3600;

const decoded = (part: string): Record<string, unknown> | null => {
  try {
    const bytes = Uint8Array.from(atob(part.replace(/-/g, '+').replace(/_/g, '/')), (sign) => sign.charCodeAt(0));
    const value: unknown = JSON.parse(new TextDecoder().decode(bytes));
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Record<string, unknown>)
      : null;
  } catch {
    return null;
  }
};

const isSingle = (value: unknown): boolean => ['string', 'number', 'boolean'].includes(typeof value);
const isClaim = (value: unknown): boolean =>
  value === null || isSingle(value) || (Array.isArray(value) && value.every(isSingle));

const objectOf = (value: unknown): Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Record<string, unknown>) : {};

const secondsOf = (value: unknown): number | null => (typeof value === 'number' ? value : null);

/** Reads a token that a host signed (a JSON Web Token, RFC 7519); null when it is none. `now`: milliseconds since 1970. */
export const lookIntoToken = (token: string, now: number): TokenSeen | null => {
  const parts = token
    .trim()
    .replace(/^Bearer\s+/i, '')
    .split('.');
  const [header, content] = parts.map(decoded);
  if (parts.length !== 3 || !header || !content) return null;
  const findings: TokenFinding[] = [];
  const find = (code: TokenFinding['code'], name = ''): void => void findings.push({ code, name });
  const { sub, aud, exp, iat, nbf, rights, claims } = content;
  if (header.alg !== 'HS256') find('algorithm', String(header.alg));
  if (aud !== 'gaveta' && !(Array.isArray(aud) && aud.includes('gaveta')))
    find('audience', aud === undefined ? '–' : String(aud));
  if (typeof sub !== 'string' || sub === '') find('no-user');
  if (!Array.isArray(rights)) find('rights-list');
  const named = Array.isArray(rights) ? rights.map(String) : [];
  for (const right of named) if (!(RIGHTS as readonly string[]).includes(right)) find('unknown-right', right);
  if (typeof claims !== 'object' || claims === null || Array.isArray(claims)) find('claims-object');
  for (const [name, value] of Object.entries(objectOf(claims))) if (!isClaim(value)) find('claim-kind', name);
  const [endsAt, startsAt] = [secondsOf(exp), secondsOf(nbf)];
  if (endsAt === null) find('no-end');
  else if (endsAt * 1000 < now) find('expired');
  else if (endsAt - now / 1000 > LONG) find('long-lived');
  if (startsAt !== null && startsAt * 1000 > now) find('not-yet');
  return {
    user: typeof sub === 'string' ? sub : null,
    rights: named,
    claims: objectOf(claims),
    parameters: objectOf(content.parameters),
    issuedAt: secondsOf(iat),
    endsAt,
    findings,
  };
};
