import { applyEdit, type Report, readDefinition } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { languageName } from '../../i18n/language-name.ts';
import { isRightToLeft, KNOWN_LANGUAGES } from './known-languages.ts';
import { saying, withTranslation } from './translation-edits.ts';

const read = readDefinition({
  gaveta: 2,
  name: 'Huts',
  translations: [{ language: 'de' }, { language: 'ar', mirrored: true }],
});
if (!read.ok) throw new Error('the report of this test is none');
const REPORT: Report = read.report;
const languages = ({ translations }: Report): string[] | undefined => translations?.map((one) => one.language);

describe('edits of translations', () => {
  it('change one language where it stands, add one at the end, and leave out one', () => {
    const said = saying({ language: 'de', texts: {} }, 'Huts', 'Hütten');
    const changed = applyEdit(REPORT, withTranslation(REPORT, 'de', said));
    expect(languages(changed)).toEqual(['de', 'ar']);
    expect(changed.translations?.[0]).toEqual({ language: 'de', texts: { Huts: 'Hütten' } });
    expect(changed.translations?.[1]).toEqual(REPORT.translations?.[1]);
    expect(languages(applyEdit(REPORT, withTranslation(REPORT, 'fr', { language: 'fr', texts: {} })))).toEqual([
      'de',
      'ar',
      'fr',
    ]);
    const one = applyEdit(REPORT, withTranslation(REPORT, 'ar', null));
    expect(languages(one)).toEqual(['de']);
    expect(languages(applyEdit(one, withTranslation(one, 'de', null)))).toBeUndefined();
  });

  it('take a text away that says nothing, and keep the others and the mirror', () => {
    const before = { language: 'ar', mirrored: true, texts: { Huts: 'أكواخ', Beds: 'أسرّة' } };
    expect(saying(before, 'Huts', ' ')).toEqual({ ...before, texts: { Beds: 'أسرّة' } });
    expect(saying(before, 'Nights', 'ليالٍ').texts).toEqual({ ...before.texts, Nights: 'ليالٍ' });
    expect(before.texts.Huts).toBe('أكواخ');
  });
});

describe('languages', () => {
  it('that are offered are tags, each once, with a name in themselves and in others', () => {
    expect(new Set(KNOWN_LANGUAGES).size).toBe(KNOWN_LANGUAGES.length);
    for (const tag of KNOWN_LANGUAGES) {
      expect(Intl.getCanonicalLocales(tag)).toEqual([tag]);
      expect(languageName(tag)).not.toBe('');
    }
    expect([languageName('de'), languageName('de', 'en'), languageName('no tag!')]).toEqual([
      'Deutsch',
      'German',
      'no tag!',
    ]);
  });

  it('are read from right to left by their script', () => {
    const found = [...KNOWN_LANGUAGES].filter(isRightToLeft);
    expect(found).toEqual(['ar', 'he', 'fa', 'ur']);
    expect(['ks-Deva', 'ks-Arab', 'az-Arab', 'no tag!', ''].map(isRightToLeft)).toEqual([
      false,
      true,
      true,
      false,
      false,
    ]);
  });
});
