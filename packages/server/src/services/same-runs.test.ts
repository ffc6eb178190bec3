import { expect, it } from 'vitest';
import type { ReportJob } from '../threads/job.ts';
import { SameRuns } from './same-runs.ts';

const job = (more: object = {}): ReportJob =>
  ({
    ...{ report: { name: 'r' }, nested: new Map(), recipes: [], parameters: { season: 2025 } },
    ...{ claims: { role: 'warden', region: 2 }, host: {}, ...more },
  }) as unknown as ReportJob;

it('takes runs for the same whose definitions, values and rights are, however they are written', () => {
  const same = new SameRuns();
  const key = same.keyOf(job(), 'pages');
  expect(same.keyOf(job({ claims: { region: 2, role: 'warden' } }), 'pages')).toBe(key);
});

it('tells runs apart by anything that their pages depend on', () => {
  const same = new SameRuns();
  const others = [
    ...[{ report: { name: 'other' } }, { recipes: [{ id: 'x' }] }, { parameters: { season: 2024 } }],
    ...[{ claims: { role: 'warden', region: 3 } }, { claims: {} }, { host: { office: 1 } }],
    ...[{ nested: new Map([['a', { name: 'n' }]]) }, { nested: new Map([['b', { name: 'n' }]]) }],
  ];
  const keys = [job(), ...others.map(job)].map((one) => same.keyOf(one, 'pages'));
  keys.push(same.keyOf(job(), 'continuous' as never));
  expect(new Set(keys).size).toBe(keys.length);
});
