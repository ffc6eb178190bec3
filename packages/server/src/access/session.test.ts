import { type JWTPayload, SignJWT } from 'jose';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { type Session, signToken, TokenCheck } from './session.ts';

const SECRET = 'a secret that only tests know, long enough';
const INES: Session = {
  user: 'Inês',
  rights: ['view', 'design'],
  claims: { role: 'office', regions: [1, 2] },
  parameters: { season: 2025 },
};

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['Date'], now: new Date('2026-11-27T09:00:00Z') });
});
afterEach(() => {
  vi.useRealTimers();
});
const later = (seconds: number): void => void vi.setSystemTime(Date.now() + seconds * 1000);

describe('a token', () => {
  it('gives the session that it was signed for, each time', async () => {
    const tokens = new TokenCheck(SECRET);
    const token = await signToken(SECRET, INES);
    expect(await tokens.verify(token)).toEqual({ ok: true, session: INES });
    expect(await tokens.verify(token)).toEqual({ ok: true, session: INES });
  });

  it('is good until its end and some seconds more, also when it was good before', async () => {
    const tokens = new TokenCheck(SECRET);
    const token = await signToken(SECRET, INES, 60);
    expect(await tokens.verify(token)).toMatchObject({ ok: true });
    later(63);
    expect(await tokens.verify(token)).toMatchObject({ ok: true });
    later(3);
    expect(await tokens.verify(token)).toEqual({ ok: false, reason: 'expired' });
    expect(await new TokenCheck(SECRET).verify(token)).toEqual({ ok: false, reason: 'expired' });
  });

  it('of another secret, or changed, is never taken, whatever was taken before', async () => {
    const tokens = new TokenCheck(SECRET);
    const token = await signToken(SECRET, INES);
    await tokens.verify(token);
    const [head, body, signature] = token.split('.') as [string, string, string];
    const claims = JSON.parse(Buffer.from(body, 'base64url').toString()) as object;
    const forged = Buffer.from(JSON.stringify({ ...claims, rights: ['sql'] })).toString('base64url');
    const another = await signToken(`${SECRET}, but another`, INES);
    expect(await tokens.verify(another)).toEqual({ ok: false, reason: 'invalid' });
    expect(await tokens.verify(`${head}.${forged}.${signature}`)).toEqual({ ok: false, reason: 'invalid' });
    for (const one of [another, `${head}.${body}.`, token.slice(0, -2), 'nonsense', '']) {
      expect([one, await tokens.verify(one)]).toMatchObject([one, { ok: false }]);
      expect([one, await tokens.verify(one)]).toMatchObject([one, { ok: false }]);
    }
  });

  it('says what in it is not understood', async () => {
    const tokens = new TokenCheck(SECRET);
    const sign = (payload: JWTPayload, audience = 'gaveta') =>
      new SignJWT(payload)
        .setProtectedHeader({ alg: 'HS256' })
        .setAudience(audience)
        .setExpirationTime('5m')
        .sign(new TextEncoder().encode(SECRET));
    const good = { sub: 'Inês', rights: ['view'], claims: { region: null, huts: [1, 2] } };
    expect(await tokens.verify(await sign(good))).toMatchObject({ ok: true, session: { claims: { region: null } } });
    const wrong: [JWTPayload, string][] = [
      [{ ...good, rights: ['wiew'] }, '“wiew” is no right. There are: view, design'],
      [{ ...good, rights: 'view' }, '“rights” must be a list'],
      [{ ...good, claims: { region: { id: 2 } } }, 'the claim “region” must be a text'],
      [{ rights: ['view'], claims: {} }, '“sub”, the name of the user, is missing'],
      [{ sub: 'Inês', rights: ['view'] }, '“claims” must be an object'],
      [{ ...good, parameters: { season: { from: 1 } } }, '“parameters” must be'],
    ];
    for (const [payload, detail] of wrong)
      expect(await tokens.verify(await sign(payload))).toMatchObject({
        reason: 'content',
        detail: expect.stringContaining(detail),
      });
    expect(await tokens.verify(await sign(good, 'another'))).toMatchObject({
      detail: '“aud” is not what signToken writes there.',
    });
    const ahead = await sign({ ...good, nbf: Date.now() / 1000 + 60 });
    expect(await tokens.verify(ahead)).toEqual({ ok: false, reason: 'early' });
  });

  it('is checked anew when very many others came since, and is as good', async () => {
    const tokens = new TokenCheck(SECRET);
    const first = await signToken(SECRET, INES);
    await tokens.verify(first);
    for (let i = 0; i < 2100; i++) await tokens.verify(await signToken(SECRET, { ...INES, user: `reader ${i}` }));
    expect(await tokens.verify(first)).toEqual({ ok: true, session: INES });
  }, 120_000);
});
