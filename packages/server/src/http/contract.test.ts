import { type AnswerOf, type CallContract, type CallName, CONTRACT } from '@gaveta/core/contract';
import type { Page, RegionMark } from '@gaveta/core/internal';
import { Validator } from '@seriousme/openapi-schema-validator';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { signToken } from '../access/session.ts';
import { EVERYTHING, type EveryRoute, openEveryRoute, reportOver, SECRET } from './every-route.test-support.ts';

let gaveta: EveryRoute;
beforeAll(async () => {
  gaveta = await openEveryRoute();
});
afterAll(() => gaveta.close());

const called = new Set<string>();

/** Makes a call and holds what comes back to the contract. */
const call = async <C extends CallName>(
  name: C,
  { params = {}, query = '', body }: { params?: Record<string, string>; query?: string; body?: unknown } = {},
): Promise<AnswerOf<C>> => {
  const contract: CallContract = CONTRACT[name];
  const [method = '', path = ''] = name.split(' ');
  const address = path.replace(/:(\w+)/g, (_, param: string) => encodeURIComponent(params[param]!));
  const response = await fetch(`${gaveta.base}${address}${query}`, {
    method,
    headers: { ...gaveta.bearer, ...(body === undefined ? {} : { 'Content-Type': 'application/json' }) },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  expect([name, response.status]).toEqual([name, contract.status ?? 200]);
  called.add(name);
  if (typeof contract.gives === 'string') {
    await response.arrayBuffer();
    return undefined as AnswerOf<C>;
  }
  const answer = await response.json();
  const read = contract.gives.safeParse(answer);
  expect([name, read.error?.issues ?? []]).toEqual([name, []]);
  return answer as AnswerOf<C>;
};

const finished = async (id: string): Promise<void> => {
  const response = await fetch(`${gaveta.base}/runs/${id}/events`, { headers: gaveta.bearer });
  await response.text();
  called.add('GET /runs/:id/events');
};

/** Makes the calls about deliveries, with one of a report to each stand-in. */
const deliver = async (report: string): Promise<void> => {
  const mail = { kind: 'mail', to: [{ address: 'office@cumeeira.example' }], subject: '{report}', words: '' };
  const to = [mail, { kind: 'printer', name: 'office' }, { kind: 'kept' }];
  const definition = { gavetaDelivery: 1, name: 'Nightly', report, when: { kind: 'by-hand' }, to };
  await call('GET /delivery-targets');
  await call('POST /deliveries/check', { body: { definition } });
  const { id } = await call('POST /deliveries', { body: { definition } });
  const one = { params: { id } };
  await call('GET /deliveries');
  await call('GET /deliveries/:id', one);
  await call('PUT /deliveries/:id', { ...one, body: { definition, base: 1 } });
  await call('PUT /deliveries/:id/state', { ...one, body: { state: 'paused' } });
  const run = { params: { id: (await call('POST /deliveries/:id/runs', one)).id } };
  await expect
    .poll(async () => (await call('GET /delivery-runs/:id', run)).state, { timeout: 60_000, interval: 200 })
    .toBe('done');
  await call('GET /deliveries/:id/runs', one);
  const file = { id: run.params.id, content: '0', place: '0' };
  await call('GET /delivery-runs/:id/files/:content/:place', { params: file });
  await call('DELETE /delivery-runs/:id', run);
  await call('POST /delivery-events/:name', { params: { name: 'closed' }, body: { key: '1' } });
  const [kept] = await call('GET /kept');
  const result = { params: { id: kept!.id } };
  await call('GET /kept/:id', result);
  await call('GET /kept/:id/pages', result);
  await call('GET /kept/:id/files/:place', { params: { ...result.params, place: '0' } });
  await call('DELETE /kept/:id', result);
  const [sent] = await call('GET /outbox');
  await call('GET /outbox/:id', { params: { id: sent!.id } });
  await call('GET /outbox/:id/attachments/:place', { params: { id: sent!.id, place: '0' } });
  const [job] = await call('GET /printer-tray');
  await call('GET /printer-tray/:id/document', { params: { id: String(job!.id) } });
  await call('DELETE /outbox');
  // The printer takes no such file.
  const unprinted = { ...definition, files: [{ output: 'csv' }], to: [{ kind: 'printer', name: 'office' }] };
  const { id: other } = await call('POST /deliveries', { body: { definition: unprinted } });
  const failed = { params: { id: (await call('POST /deliveries/:id/runs', { params: { id: other } })).id } };
  await expect
    .poll(async () => (await call('GET /delivery-runs/:id', failed)).state, { timeout: 60_000, interval: 200 })
    .toBe('failed');
  await call('POST /delivery-runs/:id/again', failed);
  await call('DELETE /deliveries/:id', one);
};

it('every call answers what its contract says', async () => {
  const definition = reportOver('own') as { name: string };
  for (const name of [
    'GET /session',
    'GET /models',
    'GET /themes',
    'GET /fonts',
    'GET /schema/report',
    'GET /openapi.json',
    'GET /reference',
    'GET /outputs',
  ] as const)
    await call(name);
  await call('GET /embedding');
  await call('POST /embedding/check');
  await call('POST /embedding/token', { body: { rights: ['view'] } });
  const [belt] = await call('GET /functions');
  await call('GET /functions/:file', { params: { file: belt!.module!.replace('functions/', '') } });
  const [font] = await call('GET /fonts');
  await call('GET /fonts/:file', { params: { file: font!.file } });

  const { id } = await call('POST /reports', { body: { definition } });
  await call('GET /reports');
  await call('GET /reports/:id', { params: { id } });
  await call('PUT /reports/:id', { params: { id }, body: { definition: { ...definition, name: 'Huts' }, base: 1 } });
  await call('GET /reports/:id/users', { params: { id } });
  await call('GET /reports/:id/revisions', { params: { id } });
  await call('GET /reports/:id/revisions/:number', { params: { id, number: '1' } });
  await call('POST /reports/:id/presence', { params: { id }, body: { window: 'w' } });
  await call('PUT /drafts/:key', { params: { key: 'k' }, body: { definition, report: id, base: 2 } });
  await call('GET /drafts');
  const kept = { name: 'Mine', values: { hut: 'Alminhas', from: null }, shared: true };
  const set = await call('POST /reports/:id/value-sets', { params: { id }, body: kept });
  await call('GET /reports/:id/value-sets', { params: { id } });
  await call('DELETE /reports/:id/value-sets/:set', { params: { id, set: set.id } });
  await call('GET /drafts/:key', { params: { key: 'k' } });
  await call('DELETE /drafts/:key', { params: { key: 'k' } });
  await call('POST /check', { body: { definition } });
  await call('POST /design-rows', { body: { definition, parameters: {} } });

  const { id: folder } = await call('POST /folders', { body: { name: 'Season' } });
  await call('GET /folders');
  await call('PUT /folders/:id', { params: { id: folder }, body: { name: 'Seasons', publishing: 'by-hand' } });
  await call('PUT /folders/:id/access', { params: { id: folder }, body: { principal: 'group:office', may: 'see' } });
  await call('GET /folders/:id/access', { params: { id: folder } });
  await call('PUT /library/:id', { params: { id }, body: { name: 'All huts', note: 'n', tags: ['a'], folder } });
  await call('GET /library', { query: `?place=folder&folder=${folder}&find=huts&sort=best` });
  await call('GET /library/:id', { params: { id } });
  await call('GET /library/:id/picture', { params: { id } });
  await call('PUT /library/:id/star', { params: { id }, body: { starred: true } });
  await call('GET /library/:id/access', { params: { id } });
  await call('PUT /library/:id/access', { params: { id }, body: { inherits: true } });
  await call('GET /people', { query: '?search=off' });
  const copied = await call('POST /library/:id/copy', { params: { id }, body: {} });
  await call('POST /reports/:id/ask', { params: { id: copied.id }, body: { revision: 1 } });
  await call('POST /reports/:id/publish', { params: { id: copied.id }, body: { revision: 1, note: 'first' } });
  await call('GET /reports/:id/publications', { params: { id: copied.id } });
  await call('GET /library/:id/users', { params: { id } });
  const theme = await call('POST /library', {
    body: { definition: { gavetaTheme: 1, name: 'Harbour', accent: '#2f4b6e' } },
  });
  await call('GET /library/:id/definition', { params: { id: theme.id } });
  await call('PUT /library/:id/definition', {
    params: { id: theme.id },
    body: { definition: { gavetaTheme: 1, name: 'Harbour', accent: '#2f4b60' }, base: 1 },
  });
  await call('POST /library/:id/theme', { params: { id: theme.id }, body: { reports: [id] } });
  const link = await call('POST /reports/:id/links', { params: { id }, body: { label: 'Auditors', days: 7 } });
  await call('GET /reports/:id/links', { params: { id } });
  await call('DELETE /reports/:id/links/:link', { params: { id, link: link.id } });
  await call('GET /activity', { query: '?find=huts' });
  const { files } = await call('GET /folders/:id/files', { params: { id: folder } });
  await call('POST /folders/:id/files', { params: { id: 'root' }, body: { files } });
  await call('PUT /library/:id', { params: { id }, body: { folder: 'root' } });
  await call('DELETE /folders/:id', { params: { id: folder } });
  await call('GET /library/bin');
  await call('POST /folders/:id/restore', { params: { id: folder } });

  const run = await call('POST /runs', { body: { report: id } });
  await finished(run.id);
  for (const name of ['GET /runs/:id', 'GET /runs/:id/outline', 'GET /runs/:id/profile'] as const)
    await call(name, { params: { id: run.id } });
  const folds = { base: 'closed' };
  await call('POST /runs/:id/folds', { params: { id: run.id }, body: { folds, at: { rows: 'hut:4' } } });
  await call('GET /runs/:id/pages', { params: { id: run.id }, query: '?from=1&count=2' });
  await call('POST /runs/:id/files/:output', { params: { id: run.id, output: 'csv' }, body: { options: {} } });
  await call('POST /runs/:id/files', { params: { id: run.id }, body: { files: [{ output: 'csv' }] } });
  await call('POST /joined-runs', { body: { runs: [run.id, run.id], output: 'pdf' } });
  await call('GET /runs/:id/files', { params: { id: run.id } });
  await call('GET /runs/:id/found', { params: { id: run.id }, query: '?text=hut&count=5' });
  await call('GET /runs/:id/arranging', { params: { id: run.id } });
  await call('GET /runs/:id/rows', { params: { id: run.id }, query: '?name=hut:1' });
  const [page] = await call('GET /runs/:id/pages', { params: { id: run.id }, query: '?from=1&count=1' });
  const item = (page as Page).marks.find((mark) => mark.kind === 'text')!.item!;
  const region = (page as Page).marks.find((mark) => mark.kind === 'region')!;
  const { band, rows } = region as RegionMark;
  await call('GET /runs/:id/items', { params: { id: run.id }, query: `?id=${item}` });
  await call('POST /runs/:id/explain', { params: { id: run.id }, body: { item, band, rows, cell: null, page: 1 } });
  await call('GET /runs/:id/anchor', { params: { id: run.id }, query: '?name=x' });
  await call('GET /runs/:id/files/:output', { params: { id: run.id, output: 'pdf' }, query: '?from=1&to=2' });
  await call('DELETE /runs/:id', { params: { id: run.id } });
  await call('DELETE /reports/:id', { params: { id } });
  await call('POST /reports/:id/restore', { params: { id } });

  const steps = [{ step: 'take', from: { model: 'own', entity: 'hut' } }];
  const recipe = await call('POST /recipes', { body: { name: 'Huts', steps } });
  await call('GET /recipes');
  await call('PUT /recipes/:id', { params: { id: recipe.id }, body: { name: 'All huts', steps, base: 1 } });
  await call('GET /recipes/:id/users', { params: { id: recipe.id } });
  await call('DELETE /recipes/:id', { params: { id: recipe.id } });
  for (const name of ['POST /recipe/rows', 'POST /recipe/count', 'POST /recipe/facts'] as const)
    await call(name, { body: { steps } });
  await call('POST /recipe/values', { body: { steps, field: 'name' } });
  await call('POST /recipe/fit', { body: { steps, there: steps, on: [{ here: 'id', there: 'id' }] } });
  const sketch = { sketch: 1, name: 'Huts', from: { model: 'own', entity: 'hut' }, rows: true };
  const shown = { columns: [{ name: 'name', field: 'name' }], groups: [], only: [], order: [] };
  const asked = { of: { sketch: { ...sketch, ...shown } } };
  await call('POST /sketch/lines', { body: { ...asked, windows: [{ at: [] }] } });
  await call('POST /sketch/values', { body: { ...asked, field: 'name' } });
  await call('PUT /sketches/:id/draft', { params: { id: 'begun' }, body: { ...asked.of, base: 0 } });
  await call('GET /sketches/:id/draft', { params: { id: 'begun' } });
  const made = await call('POST /sketches', { body: asked.of });
  await call('GET /sketches/:id', { params: { id: made.id } });
  await call('PUT /sketches/:id', { params: { id: made.id }, body: { ...asked.of, base: 1 } });
  await call('POST /sql/describe', { body: { model: 'own', text: 'select 1 as one' } });
  const choicesFrom = { rows: 'hut', value: 'name' };
  const asking = { ...definition, parameters: [{ name: 'hut', label: 'Hut', type: 'choice', choicesFrom }] };
  await call('POST /choices', { body: { definition: asking, parameter: 'hut', values: {} } });

  const upload = await fetch(`${gaveta.base}/uploads`, {
    method: 'POST',
    headers: { ...gaveta.bearer, 'Content-Type': 'application/octet-stream' },
    body: 'name,beds\nLago Frio,12\n',
  });
  called.add('POST /uploads');
  const uploaded = CONTRACT['POST /uploads'].gives.parse(await upload.json());
  const settings = { kind: 'file', format: 'csv', fileName: 'huts.csv' };
  const connection = { name: 'by_hand', label: 'By hand', settings, upload: uploaded.id };
  await call('POST /connections/test', { body: connection });
  await call('PUT /connections', { body: connection });
  await call('GET /connections');
  await call('POST /connections/:name/refresh', { params: { name: 'by_hand' }, query: '?keep=false' });
  await call('GET /connections/:name/users', { params: { name: 'by_hand' } });
  const renamed = [{ table: 'by_hand', field: 'bunks', column: 'beds' }];
  await call('POST /connections/:name/rename', { params: { name: 'by_hand' }, body: { renamed } });
  await call('DELETE /connections/:name', { params: { name: 'by_hand' } });

  await deliver(id);

  // A picture is on no page of these reports; the tests of runs ask for one.
  expect(Object.keys(CONTRACT).filter((name) => !called.has(name))).toEqual(['GET /pictures/:hash']);
});

it('every call that needs a right is refused to whoever lacks it, before its body is read', async () => {
  for (const [name, { needs }] of Object.entries(CONTRACT as Record<string, CallContract>)) {
    if (needs === 'nobody' || needs === 'session') continue;
    const rights = EVERYTHING.rights.filter((right) => right !== needs);
    const token = await signToken(SECRET, { ...EVERYTHING, rights }, 60);
    const [method = '', path = ''] = name.split(' ');
    const response = await fetch(`${gaveta.base}${path.replace(/:\w+/g, 'x')}`, {
      method,
      headers: { Authorization: `Bearer ${token}` },
    });
    expect([name, response.status, ((await response.json()) as { code: string }).code]).toEqual([
      name,
      403,
      'not-allowed',
    ]);
  }
});

it('describes itself as OpenAPI 3.1', async () => {
  const response = await fetch(`${gaveta.base}/openapi.json`);
  const document = (await response.json()) as { paths: Record<string, object>; servers: { url: string }[] };
  const { valid, errors } = await new Validator().validate(document);
  expect([valid, errors ?? []]).toEqual([true, []]);
  const described = Object.entries(document.paths).flatMap(([path, calls]) =>
    Object.keys(calls).map((method) => `${method.toUpperCase()} ${path.replace(/\{(\w+)\}/g, ':$1')}`),
  );
  expect(described.sort()).toEqual(Object.keys(CONTRACT).sort());
  expect(document.servers).toEqual([{ url: '/api' }]);
});
