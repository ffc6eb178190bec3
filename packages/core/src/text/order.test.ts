import { expect, it } from 'vitest';
import { isRootOrder } from './order.ts';

it('knows the languages whose alphabet has an order of its own', () => {
  for (const language of ['en', 'pt', 'pt-PT', 'fr', 'de', 'it', 'nl'])
    expect([language, isRootOrder(language)]).toEqual([language, true]);
  for (const language of ['sv', 'es', 'da', 'cs', 'tr', 'hu', 'pl'])
    expect([language, isRootOrder(language)]).toEqual([language, false]);
});
