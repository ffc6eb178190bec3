import { expect, it } from 'vitest';
import { lookIntoToken } from './look-into-token.ts';

const NOW = Date.parse('2026-11-29T08:00:00Z');
const seconds = NOW / 1000;

const part = (value: unknown): string => Buffer.from(JSON.stringify(value)).toString('base64url');
const token = (content: object, header: object = { alg: 'HS256' }): string =>
  `${part(header)}.${part(content)}.c2lnbmF0dXJl`;

const GOOD = {
  sub: 'Inês',
  aud: 'gaveta',
  iat: seconds - 10,
  exp: seconds + 290,
  rights: ['view'],
  claims: { role: 'warden', regions: [1, 2], none: null },
  parameters: { tenant: 'a' },
};

it('reads what a token says, and finds nothing wrong with a good one', () => {
  expect(lookIntoToken(`Bearer ${token(GOOD)}\n`, NOW)).toEqual({
    user: 'Inês',
    rights: ['view'],
    claims: GOOD.claims,
    parameters: { tenant: 'a' },
    issuedAt: seconds - 10,
    endsAt: seconds + 290,
    findings: [],
  });
});

it('is null for what is no token', () => {
  for (const text of ['', 'a.b.c', 'eyJhbGciOiJIUzI1NiJ9', `${part([])}.${part({})}.x`, token(GOOD).slice(1)])
    expect([text, lookIntoToken(text, NOW)]).toEqual([text, null]);
});

it.each([
  [{ ...GOOD, exp: seconds - 1 }, 'expired', ''],
  [{ ...GOOD, exp: undefined }, 'no-end', ''],
  [{ ...GOOD, exp: seconds + 90_000 }, 'long-lived', ''],
  [{ ...GOOD, nbf: seconds + 60 }, 'not-yet', ''],
  [{ ...GOOD, aud: 'other' }, 'audience', 'other'],
  [{ ...GOOD, aud: undefined }, 'audience', '–'],
  [{ ...GOOD, sub: '' }, 'no-user', ''],
  [{ ...GOOD, rights: 'view' }, 'rights-list', ''],
  [{ ...GOOD, rights: ['veiw'] }, 'unknown-right', 'veiw'],
  [{ ...GOOD, claims: undefined }, 'claims-object', ''],
  [{ ...GOOD, claims: { role: { name: 'x' } } }, 'claim-kind', 'role'],
])('says what is wrong: %#', (content, code, name) => {
  expect(lookIntoToken(token(content), NOW)!.findings).toEqual([{ code, name }]);
});

it('says that another algorithm is not taken', () => {
  expect(lookIntoToken(token(GOOD, { alg: 'none' }), NOW)!.findings).toEqual([{ code: 'algorithm', name: 'none' }]);
});
