import { expect, it } from 'vitest';
import { outerOf } from './outer.ts';

it('reads the way back that was carried along, through as many reports as were opened', () => {
  const outer = {
    path: '/reports/b/design',
    name: 'Stays',
    outer: { path: '/reports/a/design', name: 'Huts', outer: null },
  };
  expect(outerOf({ outer })).toEqual(outer);
  expect(outerOf(null)).toBeNull();
  expect(outerOf({ outer: null })).toBeNull();
});

it('takes nothing that leads out of Gaveta, or that somebody else put there', () => {
  expect(outerOf({ outer: { path: 'https://elsewhere.example', name: 'x', outer: null } })).toBeNull();
  expect(outerOf({ outer: { path: '/reports/a', name: 7, outer: null } })).toBeNull();
  expect(outerOf('text')).toBeNull();
});
