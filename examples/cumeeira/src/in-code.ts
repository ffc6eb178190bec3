import { report, sum } from '@gaveta/core/in-code';
import { cumeeiraModel } from './model.ts';

/** A ledger that is written in code: its names are checked against the model when it is compiled. */
export const ledgerInCode = (language: 'en' | 'pt-PT' = 'en') =>
  report('Charges of a season', cumeeiraModel, {
    language,
    theme: 'Pine',
    ...(language === 'en' ? {} : { words: { page: 'Página', of: 'de', total: 'Total' } }),
  })
    .parameter('season', { label: 'Season', type: 'number', default: 2025 })
    .rows('hut')
    .group('region.name')
    .columns('name', { field: 'altitude', width: 30 }, 'beds')
    .sort('name')
    .inner('stays', (stays) =>
      stays
        .keep('YEAR(arrival) = parameters.season')
        .columns('arrival', 'member.name', 'party_size')
        .total(sum('party_size'))
        .sort('arrival')
        .inner('charges', (charges) => charges.columns('kind', 'quantity', 'amount').total(sum('amount'))),
    )
    .definition();
