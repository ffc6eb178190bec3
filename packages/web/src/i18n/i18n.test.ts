import { expect, it } from 'vitest';
import { askedLanguage, languageFor } from './i18n.ts';

it('takes a language out of an address and leaves the values of parameters in it', () => {
  expect(askedLanguage('https://x.example/embed/reports/a?season=2025&ui-language=pt-PT&language=de#p2')).toEqual({
    language: 'pt-PT',
    rest: 'https://x.example/embed/reports/a?season=2025&language=de#p2',
  });
  const plain = 'https://x.example/reports/a?name=a%20b';
  expect(askedLanguage(plain)).toEqual({ language: null, rest: plain });
});

it('gives the nearest language that there is', () => {
  expect(['pt-BR', 'PT', 'en-GB', 'de'].map((tag) => languageFor([tag]))).toEqual(['pt-PT', 'pt-PT', 'en', 'en']);
  expect(languageFor(['de', 'pt'])).toBe('pt-PT');
});
