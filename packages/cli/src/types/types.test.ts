import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parameterSchema } from '@gaveta/core';
import { createGaveta, rowsWithCall, signToken } from '@gaveta/server';
import { afterAll, expect, it } from 'vitest';
import { gaveta } from '../cli.test-support.ts';
import config from '../test/config.test-support.ts';
import { typesText } from './types-text.ts';

const folder = mkdtempSync(join(tmpdir(), 'gaveta-types-'));
afterAll(() => rmSync(folder, { recursive: true }));

const SECRET = 'a secret of at least thirty-two letters';
const CONFIG = 'packages/cli/src/test/config.test-support.ts';

const parameters = [
  { name: 'season', label: 'Season', type: 'number', required: true },
  { name: 'day', label: 'Day', type: 'date', help: 'Ends */ no comment', required: true, default: '2025-07-01' },
  {
    name: 'kinds',
    label: 'Kinds',
    type: 'choices',
    choices: [
      { value: "it's", label: 'A' },
      { value: 'b', label: 'B' },
    ],
  },
  { name: 'years', label: 'Years', type: 'choices', of: 'number' },
  { name: 'tenant', label: 'Tenant', type: 'text', fromHost: true },
].map((one) => parameterSchema.parse(one));

it('parameters are typed by what may be given; those that only the host sets are left out', () => {
  const text = typesText({ models: [], reports: [{ id: 'by-season', name: 'By season', parameters }] });
  expect(text.slice(text.indexOf('export interface Reports'))).toBe(`export interface Reports {
  /** By season */
  'by-season': {
    /** Season */
    season: number;
    /** Day (as 2025-07-12): Ends * no comment */
    day?: string;
    /** Kinds */
    kinds?: ('it\\'s' | 'b')[];
    /** Years */
    years?: number[];
  };
}
`);
});

it('a running server gives the same types as the configuration that it was started with', async () => {
  const definition = { gaveta: 2, name: 'Beds', model: 'beds', parameters };
  const made = await createGaveta({
    store: join(folder, 'store'),
    models: config.models as never,
    connections: { beds: rowsWithCall() },
    secret: SECRET,
    web: false,
  });
  const server = createServer(made.handler);
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  try {
    await made.reports.put('beds', definition);
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
    const out = join(folder, 'types.ts');
    const token = await signToken(SECRET, { user: 'ci', rights: ['view'], claims: {} });
    const refused = await gaveta('types', '--server', address, '--out', out);
    expect([refused.status, refused.stderr]).toEqual([3, expect.stringContaining('it wants a token')]);
    const call = ['types', '--server', address, '--token', token, '--out', out];
    expect(await gaveta(...call)).toEqual({ status: 0, stdout: `${out}: 1 models, 1 reports\n`, stderr: '' });
    const written = readFileSync(out, 'utf8');
    expect(written).toContain('export const beds = typedModel<BedsShape>(');
    expect(written).toMatch(/ {2}hut: \{\n {4}fields: \{\n {6}id: 'number';\n {6}name: 'text';\n {6}beds: 'number';/);
    expect(written).toContain('season: number;');
    expect((await gaveta(...call)).stdout).toContain('as they were');
    const own = join(folder, 'own.ts');
    expect((await gaveta('--config', CONFIG, 'types', '--out', own)).status).toBe(0);
    const models = (text: string): string => text.slice(0, text.indexOf('export interface Reports'));
    expect(models(readFileSync(own, 'utf8'))).toBe(models(written));
  } finally {
    server.close();
    await made.close();
  }
  const away = await gaveta('types', '--server', 'http://127.0.0.1:9/', '--out', join(folder, 'none.ts'));
  expect([away.status, away.stderr]).toEqual([3, expect.stringContaining('nothing answers there')]);
});
