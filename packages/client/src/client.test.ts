import { describe, expect, it, vi } from 'vitest';
import { type ClientOptions, GavetaClient } from './client.ts';

interface Call {
  address: string;
  init: RequestInit;
}

/** A server that gives these answers one after the other, and what it was asked. */
const serving = (answers: (Response | Error)[], options: Partial<ClientOptions> = {}) => {
  const calls: Call[] = [];
  const own = async (address: unknown, init: RequestInit = {}): Promise<Response> => {
    calls.push({ address: String(address), init });
    const answer = answers.shift()!;
    if (answer instanceof Error) throw answer;
    return answer;
  };
  return {
    calls,
    client: new GavetaClient({ server: 'https://reports.example/inner', fetch: own as typeof fetch, ...options }),
  };
};
const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } });

describe('a call', () => {
  it('goes to the address of the contract, with its names, query and body', async () => {
    const { calls, client } = serving([
      json([{ kind: 'report' }]),
      json({ id: 'x' }),
      new Response(null, { status: 204 }),
    ]);
    await client.call('GET /runs/:id/pages', { params: { id: 'a b' }, query: { from: 1, count: 20 } });
    expect(calls[0]!.address).toBe('https://reports.example/inner/api/runs/a%20b/pages?from=1&count=20');
    await client.call('POST /reports', { body: { definition: { gaveta: 2, name: 'Ledger' } } });
    expect(calls[1]!.init).toMatchObject({ method: 'POST', body: '{"definition":{"gaveta":2,"name":"Ledger"}}' });
    expect(await client.call('DELETE /connections/:name', { params: { name: 'x' } })).toBeUndefined();
  });

  it('carries a token, and a new one once it has run out', async () => {
    const token = vi.fn(async (isExpired: boolean) => (isExpired ? 'new' : 'old'));
    const expired = () => json({ code: 'token-expired', title: 'Token expired', detail: 'It has run out.' }, 401);
    const { calls, client } = serving([expired(), json([]), expired(), expired()], { token });
    await client.call('GET /reports', {});
    expect(calls.map(({ init }) => new Headers(init.headers).get('Authorization'))).toEqual([
      'Bearer old',
      'Bearer new',
    ]);
    await expect(client.call('GET /reports', {})).rejects.toMatchObject({ code: 'token-expired', status: 401 });
    expect(calls).toHaveLength(4);
  });

  it('says what answered in the place of Gaveta, and whether anything did', async () => {
    const reached = vi.fn();
    const html = (status: number) => new Response('<html>', { status });
    const { client } = serving(
      [html(413), html(502), new TypeError('refused'), json({ code: 'unknown-report' }, 404)],
      {
        reached,
      },
    );
    const failure = () => client.call('GET /reports', {}).catch((error: unknown) => error);
    expect(await failure()).toMatchObject({ code: 'refused-size', status: 413 });
    expect(await failure()).toMatchObject({ code: 'refused', status: 502 });
    expect(await failure()).toMatchObject({ code: 'network', status: 0 });
    expect(await failure()).toMatchObject({ code: 'unknown-report', message: 'unknown-report' });
    expect(reached.mock.calls).toEqual([[true], [true], [false], [true]]);
    const given = new AbortController();
    given.abort(new Error('given up'));
    const { client: other } = serving([new Error('aborted')], { reached });
    await expect(other.call('GET /reports', { signal: given.signal })).rejects.toThrow('aborted');
    expect(reached).toHaveBeenCalledTimes(4);
  });
});

it('runs a report and fetches its file', async () => {
  const states = [
    { status: 'running', pages: 1 },
    { status: 'done', pages: 3 },
  ];
  const events = new Response(states.map((state) => `data: ${JSON.stringify(state)}\n\n`).join(''));
  const headers = { 'Content-Disposition': "attachment; filename*=UTF-8''Ledger%202025.pdf", 'Gaveta-Problems': '2' };
  const { calls, client } = serving([json({ id: 'r1' }), events, new Response('%PDF', { headers })]);
  const told: number[] = [];
  const file = await client.file('ledger', {
    format: 'pdf',
    options: { from: 2 },
    parameters: { season: 2025 },
    fileName: '{report}',
    incomplete: true,
    onProgress: ({ pages }) => told.push(pages),
  });
  expect(file).toMatchObject({ name: 'Ledger 2025.pdf', problems: 2 });
  expect(told.at(-1)).toBe(3);
  expect(calls.map(({ address }) => new URL(address).pathname)).toEqual([
    '/inner/api/runs',
    '/inner/api/runs/r1/events',
    '/inner/api/runs/r1/files/pdf',
  ]);
  expect(JSON.parse(calls[2]!.init.body as string)).toEqual({
    options: { from: 2 },
    problems: 'allow',
    filename: '{report}',
  });
});
