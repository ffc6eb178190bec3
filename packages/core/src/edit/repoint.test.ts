import { describe, expect, it } from 'vitest';
import { reportSchema } from '../definition/schema.ts';
import { applyEdit } from './edit.ts';
import { modelsOf, repoint } from './repoint.ts';

const report = reportSchema.parse({
  gaveta: 2,
  name: 'Moved',
  model: 'old',
  queries: [
    {
      name: 'a',
      steps: [
        { step: 'take', from: { model: 'old', entity: 'hut' } },
        {
          step: 'bring',
          from: { model: 'files', entity: 'snow' },
          on: [{ here: 'a', there: 'b' }],
          keep: 'here',
          as: 'snow',
        },
      ],
    },
    { name: 'b', steps: [{ step: 'sql', model: 'old', text: 'select 1', columns: [] }] },
    { name: 'c', recipe: 'shared' },
  ],
});

describe('a report that was moved to another host', () => {
  it('names the data models that it needs', () => {
    expect(modelsOf(report)).toEqual(['old', 'files']);
  });
  it('is pointed at another one everywhere, in one edit', () => {
    const moved = applyEdit(report, { do: 'report', settings: repoint(report, 'old', 'new') });
    expect(modelsOf(moved)).toEqual(['new', 'files']);
    expect(moved.queries![2]).toEqual({ name: 'c', recipe: 'shared' });
    expect(JSON.stringify(moved)).not.toContain('"old"');
    expect(modelsOf(report)).toEqual(['old', 'files']);
  });
});
