import { jwtVerify, SignJWT } from 'jose';

/**
 * Tokens of links to share: a JSON Web Token (RFC 7519, HS256) with the id of the link and its end, and nothing else. What it opens
 * stands in the store, so that it can be revoked.
 */
export class LinkTokens {
  private readonly key: Uint8Array;

  constructor(secret: string) {
    this.key = new TextEncoder().encode(secret);
  }

  /** `ends`: milliseconds since 1970. */
  sign(id: string, ends: number): Promise<string> {
    return new SignJWT({})
      .setProtectedHeader({ alg: 'HS256' })
      .setSubject(id)
      .setAudience('gaveta-link')
      .setExpirationTime(Math.floor(ends / 1000))
      .sign(this.key);
  }

  /** The id of the link; null for what is no such token, or has ended. */
  async verify(token: string): Promise<string | null> {
    try {
      const { payload } = await jwtVerify(token, this.key, {
        audience: 'gaveta-link',
        algorithms: ['HS256'],
        requiredClaims: ['exp', 'sub'],
      });
      return payload.sub ?? null;
    } catch {
      return null;
    }
  }
}
