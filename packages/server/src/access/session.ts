import { RIGHTS, type Right } from '@gaveta/core/contract';
import type { GivenValue } from '@gaveta/core/internal';
import { errors, type JWTPayload, jwtVerify, SignJWT } from 'jose';
import { z } from 'zod';
import { dropOldest } from '../base/drop-oldest.ts';
import type { Claims } from './claims.ts';

export type { Right };

/** Who is calling, as the host's server says. */
export interface Session {
  user: string;
  /** Groups that the person is of, by the names under which the library may let them do something; none when left out. */
  groups?: readonly string[] | undefined;
  rights: readonly Right[];
  /** Values that row scopes read. */
  claims: Claims;
  /** Values of parameters that only the host sets, by name. */
  parameters?: Readonly<Record<string, GivenValue>> | undefined;
}

/** Who reads by a link that somebody shared: one report, with its values, as that person sees it. */
export interface LinkSession {
  id: string;
  report: string;
  values: Readonly<Record<string, GivenValue>>;
  by: { user: string; groups: readonly string[]; managesAll: boolean };
}

/** Whoever calls: somebody of the host’s, or a reader by a link. */
export interface CallerSession extends Session {
  link?: LinkSession | undefined;
}

/** The person with the claims that decide on their rows: what is theirs is nobody else’s. */
export const ownerOf = ({ user, claims }: Session): string =>
  JSON.stringify([user, Object.entries(claims).sort(([a], [b]) => (a < b ? -1 : 1))]);

const given = z.union([z.string(), z.number(), z.boolean(), z.array(z.union([z.string(), z.number()]))]);

const single = z.union([z.string(), z.number(), z.boolean()]);
const claim = z.union([single, z.null(), z.array(single).max(1000)]);

const sessionSchema = z.object({
  sub: z.string().min(1),
  groups: z.array(z.string().min(1).max(200)).max(200).optional(),
  rights: z.array(z.enum(RIGHTS)),
  claims: z.record(z.string(), claim),
  parameters: z.record(z.string(), given).optional(),
});

const secretKey = (secret: string): Uint8Array => new TextEncoder().encode(secret);

/** Shortest secret that tokens may be signed with. */
export const LEAST_SECRET = 32;

/**
 * Signs a token for the host's page to hand to Gaveta (a JSON Web Token, RFC 7519, HS256). Call it on the host's server
 * only. `seconds` is how long the token is good for; a page asks for a new one when it runs out. Rejects when the secret or the
 * session is none.
 */
export const signToken = async (secret: string, session: Session, seconds = 300): Promise<string> => {
  // Code without types may mix them up.
  if (typeof secret !== 'string' || typeof session?.user !== 'string' || !Array.isArray(session.rights))
    throw new Error(
      'signToken takes the secret first, and then the session: signToken(secret, { user, rights, claims })',
    );
  return new SignJWT({
    ...(session.groups ? { groups: [...session.groups] } : {}),
    ...{ rights: [...session.rights], claims: session.claims, parameters: session.parameters },
  })
    .setProtectedHeader({ alg: 'HS256' })
    .setSubject(session.user)
    .setAudience('gaveta')
    .setIssuedAt()
    .setExpirationTime(Math.floor(Date.now() / 1000) + seconds)
    .sign(secretKey(secret));
};

/** Seconds that clocks may differ by. */
const LEEWAY = 5;

/** Why a token is not taken; `detail`: what it says that is not understood. */
export type Verified =
  | { ok: true; session: Session }
  | { ok: false; reason: 'expired' | 'early' | 'invalid' }
  | { ok: false; reason: 'content'; detail: string };

/** What in a token is not as signToken makes it, in words. */
const contentOf = (payload: JWTPayload): string => {
  const { rights } = payload as { rights?: unknown };
  const unknown = Array.isArray(rights)
    ? rights.find((right) => !(RIGHTS as readonly unknown[]).includes(right))
    : null;
  if (!Array.isArray(rights)) return '“rights” must be a list, as ["view"].';
  if (unknown !== undefined) return `“${String(unknown)}” is no right. There are: ${RIGHTS.join(', ')}.`;
  if (typeof payload.sub !== 'string' || payload.sub === '') return '“sub”, the name of the user, is missing.';
  const { claims } = payload as { claims?: unknown };
  if (typeof claims !== 'object' || claims === null)
    return '“claims” must be an object; an empty one where there are none.';
  const { groups } = payload as { groups?: unknown };
  if (groups !== undefined && !sessionSchema.shape.groups.safeParse(groups).success)
    return '“groups” must be a list of at most 200 names, as ["office"].';
  const wrong = Object.entries(claims).find(([, value]) => !claim.safeParse(value).success);
  if (wrong) return `the claim “${wrong[0]}” must be a text, a number, true or false, a list of those, or null.`;
  return '“parameters” must be an object of texts, numbers, true or false, or lists of texts and numbers.';
};

/** Tokens that are remembered, and the longest one that is. */
const MOST_KNOWN = 2000;
const LONGEST_KNOWN = 4000;

/** Checks tokens. One that was found good stays good until its end, so that its signature is worked out once. */
export class TokenCheck {
  private readonly key: Uint8Array;
  /** By token; `until` in milliseconds since 1970. */
  private readonly known = new Map<string, { session: Session; until: number }>();

  constructor(secret: string) {
    this.key = secretKey(secret);
  }

  async verify(token: string): Promise<Verified> {
    const known = this.known.get(token);
    if (known && Date.now() < known.until) return { ok: true, session: known.session };
    this.known.delete(token);
    try {
      const { payload } = await jwtVerify(token, this.key, {
        audience: 'gaveta',
        algorithms: ['HS256'],
        // A token is good until its end, so it must have one; the clocks of two machines differ by a little.
        requiredClaims: ['exp'],
        clockTolerance: LEEWAY,
      });
      const parsed = sessionSchema.safeParse(payload);
      if (!parsed.success) return { ok: false, reason: 'content', detail: contentOf(payload) };
      const { sub, groups, rights, claims, parameters } = parsed.data;
      const session = { user: sub, groups, rights, claims, parameters };
      this.keep(token, { session, until: (payload.exp! + LEEWAY) * 1000 });
      return { ok: true, session };
    } catch (error) {
      if (error instanceof errors.JWTExpired) return { ok: false, reason: 'expired' };
      if (error instanceof errors.JWTClaimValidationFailed) {
        if (error.claim === 'nbf') return { ok: false, reason: 'early' };
        const detail =
          error.claim === 'exp' ? 'it has no end (“exp”).' : `“${error.claim}” is not what signToken writes there.`;
        return { ok: false, reason: 'content', detail };
      }
      if (error instanceof errors.JWSSignatureVerificationFailed) return { ok: false, reason: 'invalid' };
      return { ok: false, reason: 'content', detail: 'it is no JSON Web Token signed with HS256.' };
    }
  }

  private keep(token: string, found: { session: Session; until: number }): void {
    if (token.length > LONGEST_KNOWN) return;
    this.known.set(token, found);
    dropOldest(this.known, MOST_KNOWN);
  }
}
