import { type Report, readDefinition, readParameters } from '@gaveta/core';
import type { Claims } from '@gaveta/server';
import { beforeAll, describe, expect, it } from 'vitest';
import { DEMO_TODAY, demoReports, generateTables } from './index.ts';
import { definition, demoSources, lines, runWith } from './run.test-support.ts';

const reports = new Map<string, Report>();
const tables = generateTables(1);

beforeAll(async () => {
  for (const { id, definition } of await demoReports()) {
    const read = readDefinition(definition);
    if (read.ok) reports.set(id, read.report);
  }
}, 120_000);

/** The words of a report's pages, in order, as it is run. */
const run = async (id: string, given: Record<string, unknown> = {}, claims: Claims = { role: 'office' }) => {
  const report = reports.get(id)!;
  expect(readParameters(report, given as never).problems).toEqual([]);
  const { plan, result, texts, rows } = await runWith(report, {
    ...(await demoSources()),
    nested: reports,
    claims,
    given: given as never,
  });
  expect([plan.problems, result.problems]).toEqual([[], []]);
  return { texts, queries: rows.queries };
};

const hutsOf = (region: number) => tables.hut!.filter((row) => row[1] === region).map((row) => String(row[2]));

describe('tariffs of a file with charges of the database', () => {
  /** What the office sees of one year. */
  let office: ReturnType<typeof run>;

  it('puts each charge under its tariff by year and kind', async () => {
    office = run('tariff-check', { years: '2025' });
    const { texts } = await office;
    const arrivals = new Map(tables.stay!.map((row) => [row[0], String(row[3]).slice(0, 4)]));
    const charges = tables.charge!.filter((row) => arrivals.get(row[1]!) === '2025' && row[2] === 'firewood');
    const byPrice = new Map<string, number>();
    for (const row of charges) byPrice.set(String(row[5]), (byPrice.get(String(row[5])) ?? 0) + 1);
    const [most] = [...byPrice.values()].sort((a, b) => b - a);
    expect(texts).toContain(`${most!.toLocaleString('en')} charges`);
    expect(texts).toContain('firewood');
    // A kind that the file has and the database does not.
    expect(texts[texts.indexOf('sauna') + 2]).toBe('No charges of this kind.');
    expect(texts).not.toContain('2024');
  });
  it('asks each source once, and shows a warden the charges of their region alone', async () => {
    const all = await office;
    expect(all.queries).toHaveLength(2);
    const own = await run('tariff-check', { years: '2025' }, { role: 'warden', region: 2 });
    const charged = (texts: string[]) =>
      texts.filter((t) => t.startsWith('Charged in')).map((t) => Number(t.replace(/^.*: |,/g, '')));
    for (const [i, sum] of charged(own.texts).entries()) expect(sum).toBeLessThan(charged(all.texts)[i]!);
  });
});

describe('calls that the office’s code streams', () => {
  it('come with the names of their huts, out of the database', async () => {
    const { texts } = await run('radio-calls', { days: '2026-06-01..2026-06-10' });
    const [said] = texts.filter((t) => t.includes(' calls, ') && t.startsWith('1 Jun'));
    const count = Number(said!.match(/: (\d+) calls/)![1]);
    expect(count).toBeGreaterThan(90);
    expect(count).toBeLessThan(110);
    const own = await run('radio-calls', {}, { role: 'warden', region: 3 });
    const known = [1, 2, 4].flatMap(hutsOf);
    expect(own.texts.filter((t) => known.includes(t))).toEqual([]);
    expect(own.texts.filter((t) => hutsOf(3).includes(t)).length).toBeGreaterThan(3);
  });
  it('say so when there are none', async () => {
    expect((await run('radio-calls', { days: '2020-01-01..2020-01-02' })).texts).toContain('No calls on these days.');
  });
});

describe('readings in a stretch of time', () => {
  const limits = new Map(tables.hut!.map((row) => [row[0], Number(row[8])]));
  it('are those of the last 24 hours, or only those above the limit of their hut', async () => {
    const from = DEMO_TODAY - 86_400_000;
    const recent = tables.weather_10min!.filter(
      (row) => Date.parse(String(row[1])) >= from && Date.parse(String(row[1])) < DEMO_TODAY,
    );
    const readings = (texts: string[]) => texts.filter((t) => /^\d+ (Jun|Jul) \d\d:\d\d$/.test(t)).length;
    expect(readings((await run('ridge-weather')).texts)).toBe(recent.length);
    const windy = recent.filter((row) => Number(row[2]) > limits.get(row[0]!)!);
    expect(windy.length).toBeGreaterThan(0);
    expect(readings((await run('ridge-weather', { only_windy: true })).texts)).toBe(windy.length);
  });
  it('are those of the huts that are chosen', async () => {
    const { texts } = await run('ridge-weather', {
      region_name: 'Encosta Sul',
      huts: 'Pedra Longa,Três Irmãos',
      window: 'hour',
    });
    const huts = tables.hut!.map((row) => String(row[2]));
    // The second one stands in another region.
    expect([...new Set(texts.filter((t) => huts.includes(t)))]).toEqual(['Pedra Longa']);
  });
});

it('sets of rows of several sources stand in one report, each cut to what its reader may see', async () => {
  const set = (name: string, entity: string, formula: string) => ({
    id: name,
    name,
    rows: { entity },
    detail: lines(name, formula),
    footer: lines(`${name}f`, `COUNT('${name}')`),
  });
  const report = definition({
    queries: [
      { name: 'calls', label: 'Calls', steps: [{ step: 'take', from: { model: 'radio', entity: 'call' } }] },
      { name: 'prices', label: 'Tariffs', steps: [{ step: 'take', from: { model: 'tariffs', entity: 'tariffs' } }] },
    ],
    header: lines('head', `COUNT('hut'; hut) & "|" & COUNT('calls'; calls)`),
    body: [set('hut', 'hut', 'name'), set('calls', 'calls', 'number'), set('prices', 'prices', 'kind')],
  });
  const shown = async (claims: Claims) => {
    const { plan, result, marks } = await runWith(report, {
      ...(await demoSources()),
      claims,
    });
    expect([plan.problems, result.problems]).toEqual([[], []]);
    return (item: string) => marks.filter((m) => m.item === `${item}_0`).map((m) => m.text);
  };
  const office = await shown({ role: 'office' });
  expect(office('hut').sort()).toEqual(tables.hut!.map((row) => String(row[2])).sort());
  expect(office('calls')).toHaveLength(300);
  expect([office('hutf'), office('callsf'), office('head')]).toEqual([['24'], ['300'], ['24|300']]);
  expect(office('pricesf')).toEqual([String(office('prices').length)]);
  const warden = await shown({ role: 'warden', region: 2 });
  expect(warden('hut').sort()).toEqual(hutsOf(2).sort());
  expect(warden('calls').length).toBeLessThan(150);
  expect(warden('head')).toEqual([`${warden('hut').length}|${warden('calls').length}`]);
});
