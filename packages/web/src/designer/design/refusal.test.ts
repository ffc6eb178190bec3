import { type BandAddress, findDrawer, type Placeable } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { context, entities, model, report } from '../office.test-support.ts';
import { refusals } from './refusal.ts';

const field = (drawer: string, ...path: string[]): Placeable => ({
  label: path.join('.'),
  type: 'text',
  drawer: findDrawer(report, drawer)!.drawer,
  path,
});
const refusalOf = (placed: Placeable, at: BandAddress) =>
  refusals(report, [placed], { model, entities, plan: context }, 'it cannot go here')({ address: at, x: 0, y: 0 });

it('lets fields go where they have a value, or are counted', () => {
  const name = field('huts', 'name');
  expect(refusalOf(name, { drawer: 'huts', band: 'detail' })).toBeNull();
  expect(refusalOf(name, { drawer: null, band: 'header' })).toBeNull();
  expect(refusalOf(field('stays', 'status'), { drawer: 'huts', band: 'detail' })).toBeNull();
});

it('says why a field cannot be shown, and that there is no such band', () => {
  expect(refusalOf(field('huts', 'secret'), { drawer: 'huts', band: 'detail' })).toContain('not available');
  expect(refusalOf(field('huts', 'name'), { drawer: null, band: 'footer' })).toBe('it cannot go here');
});
