import { describe, expect, it } from 'vitest';
import type { Recipe, Step, StepOf } from '../definition/recipe.ts';
import { stepSchema } from '../definition/recipe.ts';
import { tablesOf } from './shape.ts';
import { names, plan, said, take } from './stays.test-support.ts';
import { mendStep } from './steps.ts';

describe('the columns after each step', () => {
  it('are known without a row', () => {
    expect(names([take])).toEqual(['id', 'status', 'nights', 'arrival', 'booked', 'paid', 'photo']);
    expect(names([take, { step: 'bring', relation: 'hut', keep: 'here', as: 'hut' }]).slice(-1)).toEqual(['hut_name']);
    expect(names([take, { step: 'add', name: 'double', formula: 'nights * 2' }]).at(-1)).toBe('double');
    expect(
      names([
        take,
        {
          step: 'summarise',
          by: [{ field: 'arrival', per: 'month' }, { field: 'status' }],
          totals: [{ total: 'SUM', of: 'nights', name: 'sum' }],
        },
      ]),
    ).toEqual(['arrival_month', 'status', 'sum']);
    expect(
      names([
        take,
        {
          step: 'spread',
          names: 'status',
          values: 'nights',
          total: 'SUM',
          into: [{ value: 'stayed', name: 'stayed' }],
        },
      ]),
    ).toEqual(['id', 'arrival', 'booked', 'paid', 'stayed']);
  });
  it('carry types, formats and labels along', () => {
    const { fields } = plan([
      take,
      { step: 'add', name: 'half', formula: 'nights / 2' },
      {
        step: 'summarise',
        by: [{ field: 'arrival', per: 'year' }],
        totals: [
          { total: 'MAX', of: 'half', name: 'most' },
          { total: 'COUNT', name: 'n' },
          { total: 'FIRST', of: 'status', name: 'first' },
        ],
      },
    ]);
    expect(fields).toMatchObject([
      { name: 'arrival_year', type: 'date', format: 'yyyy', label: 'Arrival' },
      { name: 'most', type: 'number' },
      { name: 'n', type: 'number' },
      { name: 'first', type: 'text' },
    ]);
  });
  it('lead on along relations, as long as their keys are there', () => {
    const brought = plan([take, { step: 'bring', relation: 'hut', keep: 'matching', as: 'hut' }]);
    expect(brought.relations.map((r) => r.name)).toEqual(['hut', 'charges', 'hut_region']);
    expect(
      names([
        take,
        { step: 'bring', relation: 'hut', keep: 'matching', as: 'hut' },
        { step: 'bring', relation: 'hut_region', keep: 'matching', as: 'region' },
      ]).at(-1),
    ).toBe('region_name');
    expect(plan([take, { step: 'summarise', by: [{ field: 'id' }], totals: [] }]).relations.map((r) => r.name)).toEqual(
      ['charges'],
    );
    expect(plan([take, { step: 'summarise', by: [{ field: 'status' }], totals: [] }]).relations).toEqual([]);
  });
  it('are told apart by a key only where there is one', () => {
    expect(plan([take]).key).toBe('id');
    expect(plan([take, { step: 'bring', relation: 'charges', keep: 'here', as: 'charge' }]).key).toBeNull();
    expect(plan([take, { step: 'bring', relation: 'hut', keep: 'both', as: 'hut' }]).key).toBeNull();
    expect(plan([take, { step: 'summarise', by: [{ field: 'status' }], totals: [] }]).key).toBe('status');
    expect(plan([take, { step: 'stack', from: take.from }]).key).toBeNull();
  });
  it('take what many rows add up to without becoming many themselves', () => {
    const charged = (totals: NonNullable<StepOf<'bring'>['totals']>): Step[] => [
      take,
      { step: 'bring', relation: 'charges', keep: 'here', as: 'charges', totals },
    ];
    const amount = { total: 'SUM', of: 'amount', name: 'charged', label: 'Charged' } as const;
    const count = { total: 'COUNT', name: 'charges' } as const;
    const { fields, key, problems } = plan(charged([amount, count]));
    expect([problems, key, fields.slice(-2).map(({ name, label, type }) => [name, label, type])]).toEqual([
      [],
      'id',
      [
        ['charged', 'Charged', 'number'],
        ['charges', 'charges', 'number'],
      ],
    ]);
    expect(said(charged([{ ...amount, of: 'stay_id' }]))).toContain('stay_id');
    expect(said(charged([{ ...amount, of: 'gone' }]))).toContain('gone');
    expect(said(charged([{ ...amount, name: 'nights' }]))).toContain('nights');
    const [, mended] = charged([amount, count]);
    expect(mendStep(mended!, 'amount')).toMatchObject({ totals: [count] });
  });
  it('stay as they were past a step that is switched off or wrong', () => {
    const wrong: Step = { step: 'summarise', by: [{ field: 'nothing' }], totals: [] };
    const steps: Step[] = [take, wrong, { step: 'sort', by: [{ field: 'nights' }] }];
    const planned = plan(steps);
    expect(planned.steps.map((s) => s.operation?.kind ?? null)).toEqual(['take', null, 'sort']);
    expect(planned.problems.map((p) => p.place.path)).toEqual(['steps/1']);
    expect(said([take, { ...wrong, off: true }])).toBe('');
  });
});

describe('what is wrong with a step', () => {
  it.each<[string, Step[], string]>([
    ['no first step', [{ step: 'first', count: 1 }], 'no step that takes rows'],
    ['a second one that takes', [take, take], 'Only the first step takes rows'],
    ['an unknown table', [{ step: 'take', from: { model: 'm', entity: 'stays' } }], 'Did you mean stay?'],
    ['an unknown model', [{ step: 'take', from: { model: 'x', entity: 'stay' } }], '“x” is not available'],
    [
      'a function without its argument',
      [{ step: 'take', from: { model: 'm', entity: 'between' } }],
      'needs a value for First day',
    ],
    [
      'fields to match by that nobody chose',
      [take, { step: 'bring', from: take.from, on: [{ here: '', there: 'id' }], keep: 'here', as: 'x' }],
      'is not finished: it needs the fields to match by',
    ],
    [
      'a total without a name',
      [take, { step: 'summarise', by: [], totals: [{ total: 'COUNT', name: '' }] }],
      'for each total',
    ],
    ['a name with a sign', [take, { step: 'add', name: 'a b', formula: '1' }], 'a name of letters, digits'],
    [
      'a running total of rows in no order',
      [take, { step: 'along', what: 'running', of: 'nights', name: 'r' }],
      'stand in no order',
    ],
    [
      'a share of what is no number',
      [take, { step: 'along', what: 'share', of: 'status', name: 's' }],
      'is not a number',
    ],
    ['a rank of nothing', [take, { step: 'along', what: 'rank', name: 'r' }], 'it needs a field to calculate from'],
    [
      'a running total in a formula',
      [take, { step: 'add', name: 'r', formula: 'RUNNING(nights)' }],
      'Use “Calculate across rows”',
    ],
    ['a total in a total', [take, { step: 'add', name: 'r', formula: 'SUM(SUM(nights))' }], 'inside another total'],
    [
      'a total in a condition',
      [take, { step: 'keep', where: { formula: 'nights > AVERAGE(nights)' } }],
      'in a step “Add a column”',
    ],
    ['a list of all rows', [take, { step: 'add', name: 'r', formula: 'LARGE(LIST(nights); 2)' }], 'such as SUM'],
    [
      'a picture as a number',
      [take, { step: 'convert', columns: [{ field: 'photo', to: 'number' }] }],
      'turned into nothing else',
    ],
    [
      'rows of values of two types',
      [
        take,
        {
          step: 'gather',
          columns: [{ field: 'nights' }, { field: 'status' }],
          names: { name: 'n' },
          values: { name: 'v' },
        },
      ],
      '“Nights” is a number and “Status” is a text',
    ],
    ['what is above in no order', [take, { step: 'fill', fields: ['nights'], by: 'above' }], 'stand in no order'],
    [
      'a word for a number',
      [take, { step: 'fill', fields: ['nights'], by: 'value', value: 'none' }],
      '“none” is no value of “Nights”',
    ],
    ['nothing to fill in', [take, { step: 'fill', fields: ['nights'], by: 'value' }], 'it needs a value to fill in'],
    [
      'parts of a number',
      [take, { step: 'split', field: 'nights', at: ' ', into: [{ name: 'a' }] }],
      '“Nights” is not a text',
    ],
    [
      'a text that is split at nothing',
      [take, { step: 'split', field: 'status', at: '', into: [{ name: 'a' }] }],
      'it needs the sign to split at',
    ],
    ['nothing to join', [take, { step: 'join', fields: [], between: '', name: 'j' }], 'it needs a field to join'],
    ['no columns at all', [take, { step: 'columns', columns: [] }], 'it needs a column to show'],
    [
      'two columns of one name',
      [take, { step: 'columns', columns: [{ field: 'id' }, { field: 'nights', name: 'id' }] }],
      'There is a column “id” already',
    ],
    ['a hidden field', [take, { step: 'sort', by: [{ field: 'hut_id' }] }], '“hut_id” is not available'],
    ['a hidden field in a formula', [take, { step: 'add', name: 'x', formula: 'hut_id' }], 'not available'],
    ['a misspelt field', [take, { step: 'add', name: 'x', formula: 'nigths' }], 'Did you mean nights?'],
    ['a name that is taken', [take, { step: 'add', name: 'nights', formula: '1' }], 'a column “nights” already'],
    [
      'a sum of texts',
      [take, { step: 'summarise', by: [], totals: [{ total: 'SUM', of: 'status', name: 's' }] }],
      'SUM cannot be taken of “Status”',
    ],
    [
      'a relation that is gone',
      [take, { step: 'bring', relation: 'huts', keep: 'here', as: 'x' }],
      'Did you mean hut?',
    ],
    [
      'no pairs',
      [take, { step: 'bring', from: { model: 'm', entity: 'hut' }, keep: 'here', as: 'x' }],
      'No fields that must be equal',
    ],
    [
      'pairs of different types',
      [
        take,
        {
          step: 'bring',
          from: { model: 'm', entity: 'hut' },
          on: [{ here: 'nights', there: 'name' }],
          keep: 'here',
          as: 'x',
        },
      ],
      'never equal',
    ],
    [
      'nothing to spread',
      [take, { step: 'spread', names: 'status', values: 'nights', total: 'SUM', into: [] }],
      'No names are chosen',
    ],
    ['a condition that is none', [take, { step: 'keep', where: { formula: 'nights' } }], 'needs TRUE or FALSE'],
    [
      'a comparison with another type',
      [take, { step: 'keep', where: { field: 'nights', is: 'equal', to: { value: 'many' } } }],
      'needs',
    ],
    [
      'rows of another shape below',
      [
        take,
        { step: 'add', name: 'amount', formula: '"x"' },
        { step: 'stack', from: { model: 'm', entity: 'charge' } },
      ],
      '“amount” is a text here and a number',
    ],
    ['a recipe that is not there', [{ step: 'take', from: { recipe: 'none' } }], 'no recipe “none”'],
  ])('%s', (_, steps, words) => {
    expect(said(steps)).toContain(words);
  });
  it('recipes in a circle', () => {
    const a: Recipe = { id: 'a', name: 'A', steps: [{ step: 'take', from: { recipe: 'b' } }] };
    const b: Recipe = { id: 'b', name: 'B', steps: [{ step: 'take', from: { recipe: 'a' } }] };
    expect(said([{ step: 'take', from: { recipe: 'a' } }], [a, b])).toContain('takes rows from itself');
    const own: Recipe = { id: 'own', name: 'Own', steps: [take, { step: 'stack', from: { recipe: 'own' } }] };
    expect(said([{ step: 'take', from: { recipe: 'own' } }], [own])).not.toBe('');
  });
  it('is refused by the schema when it has no sense at all', () => {
    for (const step of [
      { step: 'first', count: 0 },
      { step: 'keep', where: { all: [{ fiel: 'x' }] } },
      { step: 'jump' },
      { step: 'add', name: 'a b', formula: '1' },
    ])
      expect(stepSchema.safeParse(step).success, JSON.stringify(step)).toBe(false);
  });
});

it('names every table that a recipe takes rows from, those of other recipes too', () => {
  const shared: Recipe = { id: 's', name: 'S', steps: [{ step: 'take', from: { model: 'm', entity: 'charge' } }] };
  const planned = plan(
    [take, { step: 'bring', relation: 'hut', keep: 'here', as: 'hut' }, { step: 'stack', from: { recipe: 's' } }],
    [shared],
  );
  expect([...tablesOf(planned)].map((t) => (t.kind === 'table' ? t.entity.name : t.text))).toEqual([
    'stay',
    'hut',
    'charge',
  ]);
});

describe('a step without a column that is gone', () => {
  it.each<[Step, Step | null]>([
    [
      { step: 'sort', by: [{ field: 'a' }, { field: 'b' }] },
      { step: 'sort', by: [{ field: 'b' }] },
    ],
    [{ step: 'sort', by: [{ field: 'a' }] }, null],
    [
      { step: 'summarise', by: [{ field: 'a' }], totals: [{ total: 'COUNT', name: 'n' }] },
      { step: 'summarise', by: [], totals: [{ total: 'COUNT', name: 'n' }] },
    ],
    [
      { step: 'first', count: 2, per: ['a', 'b'] },
      { step: 'first', count: 2, per: ['b'] },
    ],
    [{ step: 'distinct', by: ['a'] }, null],
    [
      {
        step: 'keep',
        where: {
          all: [
            { field: 'a', is: 'blank' },
            {
              any: [
                { field: 'b', is: 'blank' },
                { field: 'b', is: 'equal', to: { field: 'a' } },
              ],
            },
          ],
        },
      },
      { step: 'keep', where: { all: [{ any: [{ field: 'b', is: 'blank' }] }] } },
    ],
    [{ step: 'keep', where: { field: 'a', is: 'blank' } }, null],
    [{ step: 'add', name: 'x', formula: 'a + b' }, null],
    [
      { step: 'bring', relation: 'r', keep: 'here', as: 'r', fields: ['a', 'b'] },
      { step: 'bring', relation: 'r', keep: 'here', as: 'r', fields: ['b'] },
    ],
    [{ step: 'sort', by: [{ field: 'b' }] }, null],
  ])('%j', (step, mended) => {
    expect(mendStep(step, 'a')).toEqual(mended);
  });
});
