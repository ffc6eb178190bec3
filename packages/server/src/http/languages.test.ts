import type { Page, RunState, TextMark } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Session } from '../access/session.ts';
import { type AskedDemo, askDemo } from './asked-demo.test-support.ts';

const OFFICE: Session = { user: 'Inês', rights: ['view', 'design'], claims: { role: 'office' } };
const READER: Session = { user: 'Rui', rights: ['view'], claims: { role: 'office' } };

let demo: AskedDemo;
beforeAll(async () => {
  demo = await askDemo();
});
afterAll(() => demo.close());

const item = (kind: 'text' | 'field', id: string, x: number, more: object) => {
  return { kind, id, x, y: 0, width: 40, height: 5, ...more };
};

/** Three stays by their state, in languages. */
const stays = (more: object = {}): object => ({
  gaveta: 2,
  name: 'Stays by state',
  model: 'cumeeira',
  language: 'en',
  parameters: [{ name: 'speaks', label: 'Speaks', type: 'text' }],
  translations: [
    {
      language: 'pt-PT',
      texts: { 'Stays by state': 'Estadias por estado', Speaks: 'Fala', 'stay | stays': 'estadia | estadias' },
    },
    { language: 'de', texts: { Arrival: 'Ankunft' } },
  ],
  body: [
    {
      ...{ id: 'stays', name: 'stay', rows: { entity: 'stay' }, first: 1, sort: [{ by: 'id' }] },
      header: { height: 6, items: [item('text', 'c', 0, { content: ['Arrival'] })] },
      detail: {
        height: 6,
        items: [
          item('field', 'state', 0, { formula: 'LABELOF(status)' }),
          item('field', 'words', 40, { formula: '1.5 & " " & PLURAL(2; "stay"; "stays")' }),
          item('field', 'number', 80, { formula: '1234.5', format: '#,##0.00' }),
        ],
      },
    },
  ],
  ...more,
});

const stored = async (more: object = {}): Promise<string> => {
  const { body } = await demo.call(OFFICE, 'post', '/reports', { definition: stays(more) });
  return body.id;
};

const run = async (report: string, more: object, session = READER): Promise<{ state: RunState; texts: string[] }> => {
  const { body, status } = await demo.call(session, 'post', '/runs', { report, parameters: {}, ...more });
  expect([status, body.detail]).toEqual([201, null]);
  const state = await demo.ended(session, body.id);
  const pages = (await demo.call(session, 'get', `/runs/${state.id}/pages?from=1&count=1`)).body as Page[];
  const texts = pages[0]!.marks.filter((mark): mark is TextMark => mark.kind === 'text').map(({ text }) => text);
  return { state, texts };
};

describe('a report in several languages', () => {
  it('is run in the first one that its reader wants and it speaks', async () => {
    const id = await stored();
    const english = await run(id, {});
    expect(english).toMatchObject({ state: { language: 'en', report: 'Stays by state' } });
    expect(english.texts).toEqual(['Arrival', 'Stayed', '1.5 stays', '1,234.50']);
    const portuguese = await run(id, { language: ['fr', 'pt-BR', 'de'] });
    expect(portuguese).toMatchObject({ state: { language: 'pt-PT', report: 'Estadias por estado' } });
    expect(portuguese.texts).toEqual(
      ['Arrival', 'Realizada', '1.5 estadias', '1 234,50'].map((text) => text.replace('1 2', '1\u00a02')),
    );
    expect((await run(id, { language: 'de' })).texts).toEqual(['Ankunft', 'Stattgefunden', '1.5 stays', '1.234,50']);
    expect((await run(id, { language: 'fr' })).texts).toEqual(english.texts);
  });

  it('is run in the language of its parameter, or always in its own, where it says so', async () => {
    const byParameter = await stored({ languageFrom: { parameter: 'speaks' } });
    expect((await run(byParameter, { language: 'pt-PT', parameters: { speaks: 'de' } })).state.language).toBe('de');
    expect((await run(byParameter, { language: 'pt-PT' })).state.language).toBe('en');
    const [speaks] = (stays() as { parameters: object[] }).parameters;
    const usual = await stored({ languageFrom: { parameter: 'speaks' }, parameters: [{ ...speaks, default: 'pt' }] });
    expect((await run(usual, { language: 'de' })).state.language).toBe('pt-PT');
    const fixed = await stored({ languageFrom: 'report' });
    expect((await run(fixed, { language: 'de' })).state.language).toBe('en');
  });

  it('keeps its language when it is laid out anew, and becomes files in it', async () => {
    const { state } = await run(await stored(), { language: 'pt-PT' });
    const long = await demo.call(READER, 'post', `/runs/${state.id}/folds`, {
      folds: { base: 'start', turned: [] },
      form: 'long',
    });
    expect(await demo.ended(READER, long.body.id)).toMatchObject({ language: 'pt-PT', status: 'done' });
    const csv = await demo.call(READER, 'post', `/runs/${state.id}/files/csv`, {});
    expect(csv.status).toBe(200);
    expect(csv.text).toContain('Realizada');
  });

  it('is told to its reader in their language, with what it speaks, and not what others read', async () => {
    const id = await stored();
    const { body } = await demo.call(READER, 'get', `/reports/${id}?language=xx,pt`);
    expect(body.languages).toEqual(['en', 'pt-PT', 'de']);
    expect(body.definition).toMatchObject({ name: 'Estadias por estado', parameters: [{ label: 'Fala' }] });
    expect(JSON.stringify(body.definition)).not.toContain('Ankunft');
    const whole = await demo.call(OFFICE, 'get', `/reports/${id}`);
    expect(whole.body.definition).toMatchObject(stays());
  });

  it('refuses what is no language', async () => {
    const id = await stored();
    for (const language of ['not a tag', ['en', ''], 7]) {
      const { status, body } = await demo.call(READER, 'post', '/runs', { report: id, parameters: {}, language });
      expect([status, body.code]).toEqual([400, 'wrong-body']);
    }
    const asked = await demo.call(READER, 'get', `/reports/${id}?language=${encodeURIComponent('no tag')}`);
    expect(asked.status).toBe(400);
    for (const wrong of [
      { language: 'no tag', texts: {} },
      { language: 'de', texts: { a: 1 } },
    ]) {
      const definition = stays({ translations: [wrong] });
      expect((await demo.call(OFFICE, 'post', '/reports', { definition })).status).toBe(422);
    }
  });
});
