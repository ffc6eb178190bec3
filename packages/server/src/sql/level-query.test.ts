import type { PGlite } from '@electric-sql/pglite';
import { planReport, problemText, type Report, readDefinition, readParameters, runReport } from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { defineModel } from '../model/define.ts';
import { number, text } from '../model/fields.test-support.ts';
import { openRows } from '../rows/row-source.ts';

const model = defineModel({
  name: 'works',
  label: 'Works',
  connection: 'main',
  entities: {
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: { id: number, name: text, opened: { label: 'o', type: 'datetime' } },
      relations: { tasks: { label: 'Tasks', to: 'task', kind: 'many', on: { id: 'hut_id' } } },
    },
    task: {
      label: 'Task',
      plural: 'Tasks',
      key: 'id',
      fields: {
        id: number,
        hut_id: number,
        part_of: { ...number, hidden: true },
        title: text,
        hours: number,
        done: { label: 'd', type: 'boolean' },
      },
      relations: { parts: { label: 'Parts', to: 'task', kind: 'many', on: { id: 'part_of' } } },
    },
  },
});

let database: PGlite;
beforeAll(async () => {
  database = await openBlank();
  await database.exec(`
    create table hut (id int primary key, name text, opened timestamptz);
    create table task (id int primary key, hut_id int, part_of int, title text, hours numeric(10,4), done boolean);
    insert into hut values (1, 'Zé', '2025-03-30 00:30+00'), (2, 'Ábaco', '2025-06-30 23:30+00'), (3, 'zelo', null), (4, 'abrigo', '2025-01-01 12:00+00'), (5, 'Öre', null);
    insert into task values (1, 1, null, 'Roof', 1.5, true), (2, 1, 1, 'Beams', 2.25, false), (3, 1, 2, 'Cut', 0.0001, true),
      (4, 1, null, 'Stove', 3, null), (5, 1, 1, 'Shingles', null, true), (6, 2, null, 'Door', 7, false);
  `);
});
afterAll(() => database.close());

const definition = (json: Record<string, unknown>): Report => {
  const read = readDefinition({ gaveta: 2, name: 'Test', model: 'works', ...json });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};
const line = (id: string, formula: string) => ({
  height: 5,
  items: [{ kind: 'field', id, x: 0, y: 0, width: 170, height: 5, formula, format: '' }],
});

const run = async (report: Report, nested: Record<string, Report> = {}, signal?: AbortSignal) => {
  const plan = planReport(report, {
    models: [model.model],
    report: (id) => nested[id] ?? null,
    rowsFromDatabase: true,
  });
  const { values } = readParameters(report, {});
  const rows = await openRows(plan, {
    models: new Map([['works', model]]),
    connections: new Map([['main', pgliteConnection(database)]]),
    claims: {},
    parameters: values,
    maxRows: 1e6,
  });
  const texts: string[] = [];
  const result = await runReport({
    plan,
    book: await loadShippedFonts(),
    parameters: values,
    open: () => rows,
    ...(signal ? { signal } : {}),
    onPage: (page) => void texts.push(...page.marks.flatMap((m) => (m.kind === 'text' ? [m.text] : []))),
  });
  expect([...plan.problems, ...result.problems].map(problemText)).toEqual([]);
  return { texts, rows };
};

describe('one query a level', () => {
  it('puts texts in the order of the report’s language', async () => {
    const names = async (language: string) =>
      (
        await run(
          definition({
            language,
            body: [
              { id: 'h', name: 'hut', rows: { entity: 'hut' }, sort: [{ by: 'name' }], detail: line('n', 'name') },
            ],
          }),
        )
      ).texts;
    expect(await names('pt-PT')).toEqual(['Ábaco', 'abrigo', 'Öre', 'Zé', 'zelo']);
    expect(await names('sv')).toEqual(['Ábaco', 'abrigo', 'Zé', 'zelo', 'Öre']);
  });

  it('brings recursive rows, with totals of everything below each', async () => {
    const report = definition({
      body: [
        {
          id: 'h',
          name: 'hut',
          rows: { entity: 'hut' },
          first: 2,
          detail: line('n', 'hut.name & " " & SUM(hours)'),
          drawers: [
            {
              id: 'ts',
              name: 'task',
              rows: { relation: 'tasks', tree: 'parts' },
              sort: [{ by: 'title' }],
              detail: line('t', 'REPT("-"; DEPTH()) & title & " " & SUM(hours)'),
            },
          ],
        },
      ],
    });
    expect((await run(report)).texts).toEqual([
      'Zé 6.7501',
      '-Roof 3.7501',
      '--Beams 2.2501',
      '---Cut 0.0001',
      '--Shingles 0',
      '-Stove 3',
      'Ábaco 7',
      '-Door 7',
    ]);
  });

  it('lets a nested report share a row or follow a relation, without a query for the shared row', async () => {
    const card = definition({
      body: [
        {
          id: 'b',
          name: 'hut',
          rows: { entity: 'hut' },
          detail: line('c', '"card " & hut.name'),
          drawers: [
            {
              id: 'x',
              name: 'task',
              rows: { relation: 'tasks' },
              sort: [{ by: 'hours', blanks: 'first' }],
              detail: line('k', 'title & " of " & hut.name'),
            },
          ],
        },
      ],
    });
    const list = definition({
      body: [
        {
          id: 'b',
          name: 'task',
          rows: { entity: 'task' },
          filter: 'hours > 2',
          detail: line('l', '"listed " & title'),
        },
      ],
    });
    const sub = (id: string, report: string, rows: unknown) => ({
      kind: 'subreport',
      id,
      x: 0,
      y: 5,
      width: 80,
      height: 5,
      report,
      rows,
    });
    const outer = (item: unknown) =>
      definition({
        body: [
          {
            id: 'h',
            name: 'hut',
            rows: { entity: 'hut' },
            filter: 'id <= 2',
            detail: { height: 10, items: [...line('n', 'name').items, item] },
          },
        ],
      });
    const shared = await run(outer(sub('s', 'card', 'current')), { card });
    expect(shared.texts).toEqual([
      'Zé',
      'card Zé',
      'Shingles of Zé',
      'Cut of Zé',
      'Roof of Zé',
      'Beams of Zé',
      'Stove of Zé',
      'Ábaco',
      'card Ábaco',
      'Door of Ábaco',
    ]);
    expect(shared.rows.queries.map((q) => q.level.drawer.name)).toEqual(['hut', 'task']);
    const followed = await run(outer(sub('s', 'list', { relation: 'tasks' })), { list });
    expect(followed.texts).toEqual(['Zé', 'listed Beams', 'listed Stove', 'Ábaco', 'listed Door']);
    expect(followed.rows.queries.length).toBe(2);
  });

  it('leaves out rows whose subreports have none, counted in the database', async () => {
    const list = definition({
      parameters: [{ name: 'which', label: 'Which', type: 'number' }],
      body: [
        {
          id: 'b',
          name: 'task',
          rows: { entity: 'task' },
          filter: 'AND(hut_id = which; hours > 4)',
          detail: line('l', '"long: " & title'),
        },
      ],
    });
    const only = (filter: string) => {
      const item = {
        kind: 'subreport',
        id: 's',
        x: 0,
        y: 5,
        width: 80,
        height: 5,
        report: 'list',
        links: { which: 'id' },
      };
      const detail = { height: 10, items: [...line('n', 'name').items, item] };
      const huts = { id: 'h', name: 'hut', rows: { entity: 'hut' }, filter, onlyWithInner: true, detail };
      return definition({ body: [huts] });
    };
    const nested = list.body[0]!;
    for (const inner of [
      list,
      { ...list, body: [{ ...nested, filter: 'AND(hut_id = which; ROUNDUP(hours; 0) > 4)' }] },
    ]) {
      const { texts, rows } = await run(only('TRUE()'), { list: inner });
      const long = await database.query<{ name: string; title: string }>(
        'select hut.name, title from hut join task on hut_id = hut.id where hours > 4 order by hut.id, task.id',
      );
      const expected = long.rows.flatMap(({ name, title }, i) => [
        ...(long.rows[i - 1]?.name === name ? [] : [name]),
        `long: ${title}`,
      ]);
      expect(texts).toEqual(expected);
      expect(expected.length).toBeGreaterThan(1);
      expect(rows.queries.length).toBe(inner === list ? 2 : 3);
    }
  });

  it('takes days of points in time in the report’s zone, summer time included', async () => {
    const report = (timeZone: string) =>
      definition({
        timeZone,
        body: [
          {
            id: 'h',
            name: 'hut',
            rows: { entity: 'hut' },
            filter: 'NOT(ISBLANK(opened))',
            groups: [
              {
                name: 'month',
                by: 'opened',
                per: 'month',
                header: line('m', 'TEXT(month; "yyyy-mm-dd") & " " & COUNT(hut)'),
              },
            ],
          },
        ],
      });
    expect((await run(report('UTC'))).texts).toEqual(['2025-01-01 1', '2025-03-01 1', '2025-06-01 1']);
    expect((await run(report('Europe/Lisbon'))).texts).toEqual(['2025-01-01 1', '2025-03-01 1', '2025-07-01 1']);
  });

  it('works on booleans, and on first and last values', async () => {
    const report = definition({
      body: [
        {
          id: 'ts',
          name: 'task',
          rows: { entity: 'task' },
          sort: [{ by: 'id' }],
          header: line(
            'h',
            'FIRST(done) & MAX(done) & MIN(done) & LAST(title) & COUNT(hours) & " " & MEDIAN(hours) & " " & AVERAGE(hours)',
          ),
        },
      ],
    });
    expect((await run(report)).texts).toEqual(['TRUETRUEFALSEDoor5 2.25 2.75002']);
  });
});
