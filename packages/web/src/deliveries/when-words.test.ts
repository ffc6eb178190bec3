import { type When, whenSchema } from '@gaveta/core/internal';
import i18next from 'i18next';
import { expect, test } from 'vitest';
import en from '../i18n/en.json';
import pt from '../i18n/pt-PT.json';
import { whenWords } from './when-words.ts';

const words = async (language: 'en' | 'pt-PT', when: unknown): Promise<string> => {
  const i18n = i18next.createInstance();
  const resources = { en: { translation: en }, 'pt-PT': { translation: pt } };
  await i18n.init({ lng: language, resources, interpolation: { escapeValue: false } });
  // Some write a narrow space before AM.
  return whenWords(whenSchema.parse(when) as When, i18n.t, language).replace(/\u202f/g, ' ');
};
const calendar = (days: object, times = ['07:00']): object => ({
  kind: 'calendar',
  calendar: { days, times, zone: 'UTC' },
});

test.each([
  [{ each: 'day' }, 'Every day at 7:00 AM', 'Todos os dias às 07:00'],
  [{ each: 'day', every: 3 }, 'Every 3 days at 7:00 AM', 'A cada 3 dias às 07:00'],
  [{ each: 'working-day' }, 'Every working day at 7:00 AM', 'Todos os dias úteis às 07:00'],
  [
    { each: 'week', on: [5, 1] },
    'Every Monday and Friday at 7:00 AM',
    'Todas as semanas, segunda-feira e sexta-feira às 07:00',
  ],
  [
    { each: 'week', every: 2, on: [1] },
    'Every 2 weeks on Monday at 7:00 AM',
    'A cada 2 semanas, segunda-feira às 07:00',
  ],
  [{ each: 'month', on: { day: 31 } }, 'On day 31 of every month at 7:00 AM', 'No dia 31 de cada mês às 07:00'],
  [
    { each: 'month', on: { nth: 2, weekday: 1 } },
    'On the second Monday of every month at 7:00 AM',
    'Segunda segunda-feira de cada mês às 07:00',
  ],
  [
    { each: 'month', on: { nth: 'last', weekday: 7 } },
    'On the last Sunday of every month at 7:00 AM',
    'Último domingo de cada mês às 07:00',
  ],
  [
    { each: 'month', months: [7, 1], on: { end: 'last', of: 'working-day' } },
    'On the last working day of January and July at 7:00 AM',
    'No último dia útil de janeiro e julho às 07:00',
  ],
])('%j in words', async (days, english, portuguese) => {
  expect(await words('en', calendar(days))).toBe(english);
  expect(await words('pt-PT', calendar(days))).toBe(portuguese);
});

test('other ways to go, and several times', async () => {
  expect(await words('en', calendar({ each: 'day' }, ['18:30', '07:00']))).toBe('Every day at 7:00 AM and 6:30 PM');
  expect(await words('en', { kind: 'by-hand' })).toBe('Only by hand');
  expect(await words('en', { kind: 'once', day: '2026-12-24', time: '18:00', zone: 'UTC' })).toBe(
    'Once, on December 24, 2026 at 6:00 PM',
  );
  expect(await words('en', { kind: 'event', name: 'season closed' })).toBe('When the event “season closed” comes');
  const take = { step: 'take', from: { model: 'm', entity: 'e' } };
  expect(await words('en', { kind: 'rows', steps: [take], minutes: 1 })).toBe('When rows appear, checked every minute');
});
