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
    const wrong = [
      await signToken(`${SECRET}, but another`, INES),
      `${head}.${forged}.${signature}`,
      `${head}.${body}.`,
      token.slice(0, -2),
      '',
    ];
    for (const one of wrong) {
      expect([one, await tokens.verify(one)]).toEqual([one, { ok: false, reason: 'invalid' }]);
      expect([one, await tokens.verify(one)]).toEqual([one, { ok: false, reason: 'invalid' }]);
    }
  });

  it('is checked anew when very many others came since, and is as good', async () => {
    const tokens = new TokenCheck(SECRET);
    const first = await signToken(SECRET, INES);
    await tokens.verify(first);
    for (let i = 0; i < 2100; i++) await tokens.verify(await signToken(SECRET, { ...INES, user: `reader ${i}` }));
    expect(await tokens.verify(first)).toEqual({ ok: true, session: INES });
  }, 120_000);
});
