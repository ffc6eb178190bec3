import { CalendarDate, type Decimal, parseNumeric, type Value } from '@gaveta/core/internal';
import { XMLValidator } from 'fast-xml-parser';
import { strFromU8, unzipSync } from 'fflate';
import { expect, it } from 'vitest';
import { column, fileOf, type MadeSet, setOf } from '../rows.test-support.ts';

const charge = setOf('charge', [
  column('kind', 'text', 'Kind'),
  { ...column('amount', 'number', 'Amount'), format: '0.00' },
]);
const stay = setOf('stay', [column('guest', 'text', 'Guest'), column('arrival', 'date', 'Arrival')], [charge]);
const amount = (text: string): Value => parseNumeric(text) as Decimal;
const STAYS: MadeSet[] = [
  {
    set: stay,
    rows: [
      {
        values: ['Rui <a> & \u0001', new CalendarDate(20_000)],
        inside: [
          {
            set: charge,
            rows: [{ values: ['=1+1', amount('12345678901234567890.125')] }, { values: [null, amount('-2.5')] }],
          },
        ],
      },
    ],
  },
];

const contentOf = async (made: readonly MadeSet[], options: Record<string, unknown> = {}): Promise<string> => {
  const parts = unzipSync(new Uint8Array(await fileOf('ods-data', made, options)));
  const content = strFromU8(parts['content.xml']!);
  expect(XMLValidator.validate(content)).toBe(true);
  return content;
};

it('has a sheet for each set, with values of their own types, filters, and sums as formulas', async () => {
  const content = await contentOf(STAYS);
  expect([...content.matchAll(/<table:table table:name="([^"]*)"/g)].map(([, name]) => name)).toEqual([
    'stay',
    'charge',
  ]);
  expect(content).toContain('office:value-type="date" office:date-value="2024-10-04"');
  expect(content).toContain('office:value-type="float" office:value="12345678901234567890.125"');
  expect(content).toContain('<text:p>Rui &lt;a&gt; &amp; \uFFFD</text:p>');
  expect(content).toContain('office:value-type="string"><text:p>=1+1<');
  expect(content).toContain('table:formula="of:=SUBTOTAL(109;[.C2:.C3])"');
  expect(content).toContain(`table:target-range-address="'charge'.A1:'charge'.C3"`);
  expect(content).toContain('<text:p>stay no.</text:p>');
});

it('is written as it is asked for, and has a sheet where there is nothing', async () => {
  const content = await contentOf(STAYS, { totals: 'no', header: 'names' });
  expect(content).not.toContain('SUBTOTAL');
  expect(content).toContain('<text:p>arrival</text:p>');
  expect(await contentOf([])).toContain('<table:table table:name=');
});
