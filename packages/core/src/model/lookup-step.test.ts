import { expect, it } from 'vitest';
import { lookupStep, relationAt, stepName } from './lookup-step.ts';
import type { Entity } from './model.ts';

const hut: Entity = {
  ...{ name: 'hut', label: 'Hut', plural: 'Huts', key: 'id', fields: [] },
  relations: [{ name: 'region', label: 'Region', to: 'region', kind: 'one', on: [{ here: 'region_id', there: 'id' }] }],
};
const course: Entity = { name: 'course', label: 'Course', plural: 'Courses', key: 'code', fields: [], relations: [] };

it('a step leads along a relation of the entity, or to the row of a table by its key', () => {
  expect(relationAt(hut, 'region')).toBe(hut.relations[0]);
  expect(relationAt(hut, 'office')).toBeUndefined();
  const step = lookupStep(course, 'course_id');
  expect(relationAt(hut, step)).toMatchObject({
    to: 'course',
    kind: 'one',
    on: [{ here: 'course_id', there: 'code' }],
  });
  expect([stepName(step), stepName('region')]).toEqual(['course', 'region']);
  // No relation can have such a name.
  expect(relationAt({ ...hut, relations: [] }, '=course.code')).toBeUndefined();
});
