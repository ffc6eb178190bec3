import { expect, it } from 'vitest';
import { planReport } from '../data/plan.ts';
import { reportSchema } from '../definition/schema.ts';
import { checkFormula } from '../formula/check.ts';
import { compileFormula } from '../formula/compile.ts';
import { plainContext } from '../formula/functions/context.ts';
import { hutModel } from '../layout/huts.test-support.ts';
import { constantScope } from '../model/scopes.ts';
import { Moment } from '../value/date.ts';
import { Decimal } from '../value/decimal.ts';
import { type Value, valueText } from '../value/value.ts';
import { currencyFormat } from './currency.ts';
import { formatValue } from './format.ts';

const shown = (amount: string, code: string, language: string, decimals = {}): string =>
  formatValue(Decimal.parse(amount)!, currencyFormat(code, language, decimals)!, { language, timeZone: 'UTC' });

it('amounts have the sign and the decimals of their currency, as the language writes them', () => {
  // What the platform's own formatter writes, which knows no exact numbers.
  for (const language of ['en', 'pt-PT', 'de', 'sv', 'ja']) {
    for (const code of ['EUR', 'USD', 'JPY', 'KWD', 'CHF']) {
      const own = new Intl.NumberFormat(language, {
        style: 'currency',
        currency: code,
        currencyDisplay: 'narrowSymbol',
        useGrouping: 'always' as never,
      });
      expect([language, code, shown('12345.678', code, language)]).toEqual([language, code, own.format(12345.678)]);
    }
  }
  expect(shown('-0.5', 'EUR', 'en')).toBe('-€0.50');
});

it('a host’s own number of decimals wins, also for codes that the standard does not have', () => {
  expect(shown('0.12345678', 'XBT', 'en', { XBT: 8 })).toBe('XBT\u00a00.12345678');
  expect(shown('12.5', 'EUR', 'en', { EUR: 0 })).toBe('€13');
  expect(shown('12.5', 'EUR', 'en', { constructor: 4 })).toBe('€12.50');
});

it('what is no code of a currency has no format', () => {
  for (const code of ['', 'euro', 'eur', 'EU', '€', 'EUR"']) expect(currencyFormat(code, 'en')).toBeNull();
  expect(currencyFormat('EUR', 'en-12')).toBe(currencyFormat('EUR', 'en'));
});

const worked = (source: string, language: string, currencies?: Record<string, number>): Value => {
  const checked = checkFormula(source, constantScope([]));
  if (!checked.ok) throw new Error(checked.problems.map(({ code }) => code).join());
  const report = { name: '', language, timeZone: 'UTC', runAt: new Moment(0), currencies };
  return compileFormula(checked.formula)(plainContext(report));
};

it('a formula gives the format of a currency that each row has for itself', () => {
  expect(worked('CURRENCYFORMAT("EUR")', 'pt-PT')).toBe(currencyFormat('EUR', 'pt-PT'));
  expect(worked('CURRENCYFORMAT(" eur ")', 'en')).toBe('"€"#,##0.00');
  expect(worked('CURRENCYFORMAT("EUR")', 'en', { EUR: 3 })).toBe('"€"#,##0.000');
  expect(valueText(worked('CURRENCYFORMAT("euro")', 'en'))).toBe('#VALUE!');
});

it('a field of a model with a currency is shown so, and its totals too, unless it has a format', () => {
  const planned = (field: object): string[] => {
    const model = structuredClone({ ...hutModel, currencies: { CHF: 3 } });
    const stay = model.entities.find(({ name }) => name === 'stay')!;
    const nights = stay.fields.findIndex(({ name }) => name === 'nights');
    stay.fields[nights] = { ...stay.fields[nights]!, ...field };
    const items = ['nights', 'nights * 1', 'SUM(nights)'].map((formula, i) => ({
      kind: 'field' as const,
      id: `f${i}`,
      ...{ x: 0, y: 0, width: 20, height: 5, formula },
    }));
    const report = reportSchema.parse({
      gaveta: 2,
      name: 'Stays',
      model: model.name,
      body: [{ id: 's', name: 'stay', rows: { entity: 'stay' }, detail: { height: 5, items } }],
    });
    const { bands } = planReport(report, { models: [model], report: () => null }).roots[0]!;
    return bands.detail!.items.map(({ formulas }) => {
      const [only] = Object.values(formulas ?? {});
      return only && 'format' in only ? only.format : '?';
    });
  };
  expect(planned({ currency: 'CHF' })).toEqual(['"CHF\u00a0"#,##0.000', '', '"CHF\u00a0"#,##0.000']);
  expect(planned({ currency: 'CHF', format: '0.0' })[0]).toBe('0.0');
});
