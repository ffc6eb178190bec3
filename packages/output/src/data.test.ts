import { CalendarDate, type Decimal, FormulaError, Moment, parseNumeric, type Value } from '@gaveta/core/internal';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { column, fileOf, type MadeSet, setOf } from './rows.test-support.ts';

const charge = setOf('charge', [column('kind', 'text', 'Kind'), column('amount', 'number', 'Amount')]);
const flight = setOf('flight', [column('kg', 'number', 'Load')]);
const stay = setOf('stay', [column('guest', 'text', 'Guest'), column('arrival', 'date', 'Arrival')], [charge]);

const amount = (text: string): Value => parseNumeric(text) as Decimal;
const charges = (...rows: [string | null, Value][]): MadeSet => ({
  set: charge,
  rows: rows.map((values) => ({ values })),
});
const STAYS: MadeSet[] = [
  {
    set: stay,
    rows: [
      {
        values: ['Rui', new CalendarDate(20_000)],
        inside: [charges(['bunk', amount('12345678901234567890.125')], ['linen', amount('-6.50')])],
      },
      { values: ['Inês; “a”', null], inside: [charges()] },
      { values: ['', new CalendarDate(20_001)], inside: [charges(['=1+1', null])] },
    ],
  },
];

const csv = async (options: Record<string, unknown> = {}, made = STAYS): Promise<string[]> =>
  (await fileOf('csv', made, { bom: false, ...options })).toString().split('\r\n');

describe('CSV', () => {
  it('repeats the fields of outer rows, and has a line for a row with nothing inside', async () => {
    expect(await csv()).toEqual([
      'Guest,Arrival,Kind,Amount',
      'Rui,2024-10-04,bunk,12345678901234567890.125',
      'Rui,2024-10-04,linen,-6.5',
      'Inês; “a”,,,',
      `"",2024-10-05,'=1+1,`,
      '',
    ]);
  });

  it('is written as it is asked for', async () => {
    expect((await csv({ decimal: ',' })).slice(0, 4)).toEqual([
      'Guest;Arrival;Kind;Amount',
      'Rui;2024-10-04;bunk;12345678901234567890,125',
      'Rui;2024-10-04;linen;-6,5',
      '"Inês; “a”";;;',
    ]);
    const [head, first] = await csv({ quotes: 'all', header: 'names', separator: 'bar' });
    expect(head).toBe('"guest"|"arrival"|"kind"|"amount"');
    expect(first).toBe('"Rui"|"2024-10-04"|"bunk"|"12345678901234567890.125"');
    expect((await csv({ guard: 'no', header: 'none' }))[3]).toBe('"",2024-10-05,=1+1,');
    expect((await fileOf('csv', STAYS)).subarray(0, 3)).toEqual(Buffer.from([0xef, 0xbb, 0xbf]));
    expect((await fileOf('csv', STAYS, { encoding: 'utf-16' })).toString('utf16le').slice(0, 6)).toBe('\uFEFFGuest');
    expect((await fileOf('csv', STAYS, { encoding: 'windows-1252' })).includes(Buffer.from([0x93, 0x61, 0x94]))).toBe(
      true,
    );
    expect((await fileOf('tsv', STAYS)).toString()).toContain('Guest\tArrival\tKind\tAmount\r\n');
    await expect(fileOf('csv', STAYS, { separator: 'x' })).rejects.toThrow();
    await expect(fileOf('csv', STAYS, { colour: 'blue' })).rejects.toThrow();
  });

  it('says of each line which set it is of, where there are several', async () => {
    const two: MadeSet[] = [charges(['bunk', 1]), { set: flight, rows: [{ values: [250] }] }];
    expect(await csv({}, two)).toEqual(['set,Kind,Amount,Load', 'charge,bunk,1,', 'flight,,,250', '']);
  });

  it('has a file for each set in a zip, rows inside others by their numbers', async () => {
    const files = unzipSync(await fileOf('csv', STAYS, { sets: 'apart', bom: 'no' }));
    expect(Object.keys(files)).toEqual(['stay.csv', 'charge.csv']);
    expect(strFromU8(files['stay.csv']!).split('\r\n').slice(0, 2)).toEqual([
      'stay no.,Guest,Arrival',
      '1,Rui,2024-10-04',
    ]);
    expect(strFromU8(files['charge.csv']!).split('\r\n')).toEqual([
      'stay no.,Kind,Amount',
      '1,bunk,12345678901234567890.125',
      '1,linen,-6.5',
      `3,'=1+1,`,
      '',
    ]);
  });
});

describe('JSON', () => {
  it('is nested as the drawers are, with every digit', async () => {
    const text = (await fileOf('json', STAYS)).toString();
    expect(text).toContain('"amount":12345678901234567890.125');
    expect(JSON.parse(text)).toEqual({
      stay: [
        {
          guest: 'Rui',
          arrival: '2024-10-04',
          charge: [
            { kind: 'bunk', amount: Number('12345678901234567890.125') },
            { kind: 'linen', amount: -6.5 },
          ],
        },
        { guest: 'Inês; “a”', arrival: null, charge: [] },
        { guest: '', arrival: '2024-10-05', charge: [{ kind: '=1+1', amount: null }] },
      ],
    });
    const indented = (await fileOf('json', STAYS, { indent: '2', names: 'labels', numbers: 'text' })).toString();
    expect(indented).toContain('\n      "Guest": "Rui",\n');
    expect(indented).toContain('"Amount": "12345678901234567890.125"');
    expect(Object.keys(JSON.parse(indented))).toEqual(['stay']);
  });

  it('is a document on each line, where that is asked for', async () => {
    const lines = (await fileOf('json', STAYS, { form: 'lines' })).toString().trimEnd().split('\n');
    expect(lines.map((line) => JSON.parse(line).guest)).toEqual(['Rui', 'Inês; “a”', '']);
  });

  it('is one of nothing, where there is nothing', async () => {
    expect((await fileOf('json', [])).toString()).toBe('{}\n');
    expect((await fileOf('json', [charges()])).toString()).toBe('{"charge":[]}\n');
  });
});

describe('XML', () => {
  it('has an element for each value, none for a blank, and says what is an error', async () => {
    const made: MadeSet[] = [charges(['<b>&"\u0001\uD800', new FormulaError('#DIV/0!')], ['', null])];
    expect((await fileOf('xml', made, { indent: 'no' })).toString()).toBe(
      '<?xml version="1.0" encoding="UTF-8"?>\n<report name="A “report” &amp; more"><charge>' +
        '<row><kind>&lt;b&gt;&amp;&quot;\uFFFD\uFFFD</kind><amount error="#DIV/0!"></amount></row>' +
        '<row><kind></kind></row></charge></report>\n',
    );
  });

  it('comes with its schema', async () => {
    const files = unzipSync(await fileOf('xml', STAYS, { schema: 'beside' }));
    expect(Object.keys(files)).toEqual(['A “report” & more.xml', 'A “report” & more.xsd']);
    const alone = (await fileOf('xml', STAYS, { schema: 'alone' })).toString();
    expect(strFromU8(files['A “report” & more.xsd']!)).toBe(alone);
    expect(alone).toContain('<xs:element name="arrival" minOccurs="0">');
  });
});

it('a file that is not wanted any more ends with the reason, and one whose target fails with what failed', async () => {
  const many: MadeSet[] = [charges(...Array.from({ length: 20_000 }, (_, i): [string, Value] => [`charge ${i}`, i]))];
  for (const [name, options] of [
    ['csv', {}],
    ['csv', { sets: 'apart' }],
    ['json', {}],
    ['xml', {}],
    ['xml', { schema: 'beside' }],
  ] as const)
    await expect(fileOf(name, many, options, AbortSignal.abort(new Error('gone'))), name).rejects.toThrow('gone');
});

it('times are those of the world, with every part', async () => {
  const read = setOf('reading', [column('at', 'datetime'), column('ok', 'boolean')]);
  const made = [{ set: read, rows: [{ values: [new Moment(Date.UTC(2025, 2, 30, 1, 30)), true] }] }];
  expect((await fileOf('csv', made, { bom: 'no', header: 'none' })).toString()).toBe(
    '2025-03-30T01:30:00.000Z,true\r\n',
  );
});
