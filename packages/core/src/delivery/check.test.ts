import { expect, test } from 'vitest';
import { parameterSchema } from '../definition/schema.ts';
import { fieldSchema } from '../model/model.ts';
import { type DeliveryContext, deliveryProblems } from './check.ts';
import { deliverySchema, readDelivery } from './schema.ts';

const context = (more: Partial<DeliveryContext> = {}): DeliveryContext => ({
  report: {
    ...{ name: 'Ledger', language: 'en', timeZone: 'Europe/Lisbon' },
    parameters: [
      parameterSchema.parse({ name: 'season', label: 'Season', type: 'number' }),
      parameterSchema.parse({ name: 'between', label: 'Between', type: 'dates' }),
    ],
  },
  fields: null,
  ...{ folders: ['Archive'], addresses: [], printers: ['Office'], hasMail: true, hasPeople: true, now: 0 },
  ...more,
});
const fields = [fieldSchema.parse({ name: 'warden', label: 'Warden', type: 'text' })];
const each = { steps: [{ step: 'take', from: { model: 'm', entity: 'e' } }] };
const mail = (more: object = {}) => ({
  ...{ kind: 'mail', to: [{ address: 'a@b.example' }], subject: '{report}', words: '' },
  ...more,
});
const found = (more: object, about: Partial<DeliveryContext> = {}) => {
  const when = { kind: 'by-hand' };
  const whole = deliverySchema.parse({ gavetaDelivery: 1, name: 'x', report: 'r', when, to: [mail()], ...more });
  return deliveryProblems(whole, context(about)).map(({ code, place }) => [code, place.path]);
};

test.each([
  ['nothing', {}, {}, []],
  [
    'a value for a parameter that there is none of',
    { values: { saeson: 1 } },
    {},
    [['unknown-parameter', 'parameters']],
  ],
  ['a value of another type', { values: { season: 'many' } }, {}, [['wrong-parameter', 'parameters/0']]],
  ['a formula that is none', { values: { season: { formula: 'YEAR(' } } }, {}, [['formula-syntax', 'values/season']]],
  ['a field without rows', { values: { season: { formula: 'warden' } } }, {}, [['unknown-name', 'values/season']]],
  [
    'a stretch for what is no range',
    { values: { season: { period: 'today' } } },
    {},
    [['delivered-period-wrong', 'values/season']],
  ],
  ['a formula in the subject', { to: [mail({ subject: '{nobody}' })] }, {}, [['unknown-name', 'to/0/subject']]],
  ['a formula in the file name', { fileName: '{1 +}' }, {}, [['formula-syntax', 'fileName']]],
  [
    'a folder that was not registered',
    { to: [{ kind: 'folder', name: 'archive' }] },
    {},
    [['delivery-target-unknown', 'to/0']],
  ],
  ['a mail without a server', {}, { hasMail: false }, [['delivery-no-mail', 'to/0']]],
  [
    'people who are not known',
    { to: [mail({ to: [{ group: 'g' }] })] },
    { hasPeople: false },
    [['delivery-no-people', 'to/0/to/0']],
  ],
  ['the person of no part', { to: [mail({ to: [{ person: true }] })] }, {}, [['delivery-needs-person', 'to/0/to/0']]],
  ['rows of nobody', { each: { ...each, rowsOf: 'person' } }, { fields }, [['delivery-needs-person', 'each']]],
  [
    'a person in no field',
    { each: { ...each, person: 'wardne' } },
    { fields },
    [['delivery-field-unknown', 'each/person']],
  ],
  ['nothing to print', { files: [], to: [{ kind: 'printer', name: 'Office' }] }, {}, [['delivery-no-files', 'files']]],
] as const)('%s is told with its place', (_, more, about, problems) => {
  expect(found(more, about as Partial<DeliveryContext>)).toEqual(problems);
});

test('fields of the rows that get a part each may be named in values, words and recipients', () => {
  const to = [mail({ to: [{ field: 'warden' }, { person: true }], subject: '{warden}: {season} {pages}' })];
  expect(
    found({ each: { ...each, person: 'warden' }, values: { season: { formula: 'LEN(warden)' } }, to }, { fields }),
  ).toEqual([]);
});

test.each([
  [{ to: [mail({ to: [{ address: 'a@b.example\nBcc: c@d.example' }] })] }],
  [{ to: [mail({ to: [{ address: 'nobody' }] })] }],
  [{ to: [] }],
  [{ when: { kind: 'calendar', calendar: { days: { each: 'week', on: [8] }, times: ['07:00'], zone: 'UTC' } } }],
  [{ when: { kind: 'calendar', calendar: { days: { each: 'day' }, times: [], zone: 'UTC' } } }],
  [{ when: { kind: 'calendar', calendar: { days: { each: 'day' }, times: ['7:00'], zone: 'UTC' } } }],
  [{ when: { kind: 'calendar', calendar: { days: { each: 'day' }, times: ['07:00'], zone: 'Lisbon' } } }],
  [{ when: { kind: 'once', day: '2026-02-30', time: '07:00', zone: 'UTC' } }],
  [{ gavetaDelivery: 2 }],
  [{ owner: 'somebody else' }],
])('what is no delivery is not read: %j', (more) => {
  const when = { kind: 'by-hand' };
  const { delivery, error } = readDelivery({ gavetaDelivery: 1, name: 'x', report: 'r', when, to: [mail()], ...more });
  expect(delivery).toBeNull();
  expect(error!.issues.length).toBeGreaterThan(0);
});
