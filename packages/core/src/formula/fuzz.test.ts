import { describe, expect, it } from 'vitest';
import { cpuTime } from '../cpu-time.test-support.ts';
import { formatValue } from '../text/format.ts';
import { CalendarDate, Moment } from '../value/date.ts';
import { Decimal } from '../value/decimal.ts';
import { FormulaError, List, type Value, valueText } from '../value/value.ts';
import { compileFormula } from './compile.ts';
import { checked, rowContext } from './formulas.test-support.ts';
import type { ArgumentType } from './functions/context.ts';
import { FUNCTIONS, SPECIAL_FORMS, TOTALS } from './functions/index.ts';

/** Formulas of each kind; `GAVETA_LONGER=12 npx vitest run --project core fuzz` tries 60,000. */
const MANY = Math.round(5000 * Number(process.env.GAVETA_LONGER ?? 1));
/** Milliseconds that none may take. */
const LONGEST = 250;

class Chance {
  constructor(private seed: number) {}
  /** Mulberry’s way, whose numbers repeat after four thousand million. */
  below(most: number): number {
    this.seed = (this.seed + 0x6d2b79f5) | 0;
    let t = Math.imul(this.seed ^ (this.seed >>> 15), 1 | this.seed);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return Math.floor((((t ^ (t >>> 14)) >>> 0) / 4_294_967_296) * most);
  }
  pick<T>(list: readonly T[]): T {
    return list[this.below(list.length)]!;
  }
}

const NUMBERS = [
  '0',
  '1',
  '-1',
  '2',
  '3.5',
  '0.1',
  '-7',
  '100',
  '1e15',
  '12345678901234567890',
  '0.000001',
  '1e40',
  '170',
  '2025',
];
const TEXTS = [
  '""',
  '"a"',
  '"Pedra Longa"',
  '"1,234.5"',
  '"2025-07-12"',
  '"(a|b)*c"',
  '"*"',
  '"y"',
  '"ß İ"',
  '"#,##0.00"',
  '"50%"',
  'note',
];
const TOKENS = [
  ...NUMBERS,
  ...TEXTS,
  ...'+ - * / ^ & = <> < > <= >= % ( ) ; , { } "'.split(' '),
  'amount',
  'arrival',
  'TRUE',
  'nobody',
  '🏔',
];

const NAMES = Object.keys(FUNCTIONS);
const CALLS = [...NAMES, ...Object.keys(TOTALS), ...Object.keys(SPECIAL_FORMS)];

/** A formula of a type, as people may write it. */
const typed = (chance: Chance, type: ArgumentType, depth: number): string => {
  if (depth > 0 && chance.below(3) > 0) {
    const giving = NAMES.filter((name) => {
      const { gives } = FUNCTIONS[name]!;
      return gives === type || type === 'any' || (type === 'temporal' && gives === 'date') || gives === 'any';
    });
    if (giving.length > 0 && chance.below(4) > 0) {
      const name = chance.pick(giving);
      const { takes, min, max } = FUNCTIONS[name]!;
      const count = min + chance.below(Math.min(max, min + 2) - min + 1);
      const given = Array.from({ length: count }, (_, i) =>
        typed(chance, takes[Math.min(i, takes.length - 1)]![1], depth - 1),
      );
      return `${name}(${given.join('; ')})`;
    }
    const inner = (of: ArgumentType): string => typed(chance, of, depth - 1);
    if (type === 'number') return `(${inner('number')} ${chance.pick(['+', '-', '*', '/', '^'])} ${inner('number')})`;
    if (type === 'text') return `(${inner('text')} & ${inner('number')})`;
    if (type === 'boolean') return `(${inner('number')} ${chance.pick(['=', '<', '>', '<>'])} ${inner('number')})`;
    if (type === 'temporal' || type === 'date') return `(arrival + ${inner('number')})`;
  }
  switch (type) {
    case 'number':
      return chance.pick([...NUMBERS, 'amount']);
    case 'boolean':
      return chance.pick(['TRUE', 'FALSE']);
    case 'date':
    case 'temporal':
    case 'datetime':
      return chance.pick(['arrival', 'DATE(2024; 2; 29)', 'DATE(1900; 1; 1)']);
    case 'list':
      return chance.pick([
        '{1;2;3}',
        '{"a";"B";""}',
        '{-100;60;60}',
        '{5}',
        '{1;"a";TRUE}',
        '{DATE(2024;1;1);DATE(2025;1;1)}',
      ]);
    case 'any':
      return chance.pick([...NUMBERS, ...TEXTS, 'arrival', 'TRUE']);
    default:
      return chance.pick(TEXTS);
  }
};

/** Whatever comes to mind. */
const random = (chance: Chance): string => {
  let formula = '';
  for (let i = 1 + chance.below(14); i > 0; i--)
    formula += chance.below(4) === 0 ? `${chance.pick(CALLS)}(` : chance.pick(TOKENS);
  return formula;
};

/** A value that formulas may have: nothing that is no number, and no day that there is not. */
const isSound = (value: Value): boolean => {
  if (value === undefined) return false;
  if (typeof value === 'number') return Number.isFinite(value);
  if (value instanceof Decimal) return !value.isTooLong;
  if (value instanceof CalendarDate) return CalendarDate.at(value.day) !== null;
  if (value instanceof Moment) return Moment.at(value.ms) !== null;
  if (value instanceof List) return value.values.every(isSound);
  return value === null || typeof value === 'string' || typeof value === 'boolean' || value instanceof FormulaError;
};

const ROW: Value[] = [Decimal.of(1250, 2), 'Lago Frio', CalendarDate.at(20_000)];

describe('of formulas that are made up, none crashes, none gives what is no value, and none takes long', () => {
  it.each([
    ['random', (chance: Chance) => random(chance)],
    [
      'typed',
      (chance: Chance) => typed(chance, chance.pick(['number', 'text', 'boolean', 'date', 'list', 'any'] as const), 3),
    ],
  ] as const)(
    '%s',
    (_, make) => {
      const chance = new Chance(24);
      const wrong: string[] = [];
      let worked = 0;
      for (let i = 0; i < MANY; i++) {
        const formula = make(chance);
        let value: Value = null;
        const time = cpuTime(() => {
          try {
            const result = checked(formula);
            if (!result.ok) return;
            worked++;
            value = compileFormula(result.formula)(rowContext(ROW));
            valueText(value);
          } catch (error) {
            wrong.push(`${formula} throws ${String(error)}`);
          }
        });
        if (!isSound(value)) wrong.push(`${formula} is ${String(value)}`);
        if (time > LONGEST) wrong.push(`${formula} takes ${Math.round(time)} ms`);
      }
      expect(wrong).toEqual([]);
      expect(worked).toBeGreaterThan(MANY / 50);
    },
    600_000,
  );

  it('formats', () => {
    const chance = new Chance(25);
    const pieces = [
      ...'0#?.,%/;@*_"\\-+ ()[]:EehmsdyAPGqwb$€',
      '#,##0',
      '0.00',
      'mmmm',
      'dddd',
      'yyyy',
      '[Red]',
      '[>100]',
      '[$€-816]',
      '[h]',
      'AM/PM',
      'General',
      'E+00',
      '?/?',
      '"x"',
    ];
    const values: Value[] = [
      null,
      '',
      'text',
      true,
      0,
      1,
      -1,
      0.5,
      1234567,
      Decimal.of(-1_234_567, 3),
      Decimal.of(10n ** 40n),
      Decimal.of(1, 30),
      CalendarDate.at(20_000),
      CalendarDate.at(-700_000),
      Moment.at(1_700_000_000_000),
    ];
    const wrong: string[] = [];
    for (let i = 0; i < MANY; i++) {
      const code = Array.from({ length: 1 + chance.below(8) }, () => chance.pick(pieces)).join('');
      const value = chance.pick(values);
      let shown: unknown;
      const time = cpuTime(() => {
        try {
          shown = formatValue(value, code, { language: chance.pick(['en', 'pt-PT', 'ja', 'ar']), timeZone: 'UTC' });
        } catch (error) {
          wrong.push(`${code} of ${String(value)} throws ${String(error)}`);
        }
      });
      if (typeof shown !== 'string' || /NaN|Infinity|undefined/.test(shown))
        wrong.push(`${code} of ${String(value)} is ${String(shown)}`);
      if (time > LONGEST) wrong.push(`${code} takes ${Math.round(time)} ms`);
    }
    expect(wrong).toEqual([]);
  }, 600_000);
});
