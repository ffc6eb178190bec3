import type { HostAction, HostSettings, LookToken, Part } from '@gaveta/core/internal';
import i18next from 'i18next';
import { useSyncExternalStore } from 'react';
import { type EngineWords, engineWordsOf, hostEngineWords, isEngineWord, takeEngineWords } from '../i18n/words.ts';
import { applyScheme } from '../ui/night.ts';

let settings: HostSettings = { look: {}, hide: [], actions: [], words: {}, isAutoHeight: false };
const listeners = new Set<() => void>();

/** What the host’s page says about how this is shown. */
export const takeSettings = (taken: HostSettings): void => {
  settings = { ...taken, words: taken.words ?? {} };
  applyLook(settings.look);
  applyWords(settings.words);
  for (const listener of listeners) listener();
};

const follow = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useHostSettings = (): HostSettings => useSyncExternalStore(follow, () => settings);

/** Whether the host leaves a part of the screens out. */
export const useIsHidden = (): ((part: Part) => boolean) => {
  const { hide } = useHostSettings();
  return (part) => hide.includes(part);
};

export const useHostActions = (place: HostAction['place']): readonly HostAction[] =>
  useHostSettings().actions.filter((action) => action.place === place);

/** The interface’s own custom properties that a token of the host’s sets. */
const PROPERTIES: Readonly<Record<Exclude<LookToken, 'scheme' | 'density'>, readonly string[]>> = {
  paper: ['--color-paper'],
  surface: ['--color-sheet'],
  desk: ['--color-desk'],
  rule: ['--color-rule', '--color-rule-soft'],
  ink: ['--color-ink'],
  muted: ['--color-ink-2', '--color-ink-3'],
  action: ['--color-pine'],
  'on-action': ['--color-on-accent'],
  drawer: ['--color-brass'],
  error: ['--color-rust', '--color-rust-strong'],
  font: ['--font-ui'],
  radius: ['--radius-sm', '--radius', '--radius-md'],
};

/** Text sizes in CSS pixels. */
const DENSITIES: Readonly<Record<string, string>> = { compact: '12px', normal: '13px', roomy: '15px' };

const applyLook = (look: HostSettings['look']): void => {
  const { style } = document.documentElement;
  applyScheme(look.scheme === 'dark' || look.scheme === 'light' ? look.scheme : null);
  for (const [token, properties] of Object.entries(PROPERTIES)) {
    const value = look[token as keyof typeof PROPERTIES];
    for (const property of properties) {
      if (value === undefined) style.removeProperty(property);
      else style.setProperty(property, value);
    }
  }
  // What lies softly behind something is made of the colours that the host gave.
  soften('--color-pine-soft', look.action);
  soften('--color-brass-soft', look.drawer);
  soften('--color-rust-soft', look.error);
  const size = DENSITIES[look.density ?? 'normal'];
  if (look.density === undefined || size === undefined) style.removeProperty('--text-base-size');
  else style.setProperty('--text-base-size', size);
};

const soften = (property: string, color: string | undefined): void => {
  const { style } = document.documentElement;
  if (color === undefined) style.removeProperty(property);
  else style.setProperty(property, `color-mix(in oklab, ${color} 16%, var(--color-paper))`);
};

/** Words that were replaced, with what stood there before. */
const replaced = new Map<string, string>();

/** Words of a host may be a language of its own: `$language` is its tag, `$direction` which way it is written. */
const LANGUAGE = '$language';
const DIRECTION = '$direction';

/** The language that was on before one of the host’s. */
let before: string | null = null;

const isTag = (tag: string | undefined): tag is string => {
  try {
    return tag !== undefined && Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
};

/** Words of a language with every plural form of another one: those that it lacks are as its last. */
export const withPlurals = (words: Readonly<Record<string, unknown>>, tag: string): Record<string, unknown> => {
  const forms = new Intl.PluralRules(tag).resolvedOptions().pluralCategories;
  const found: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(words)) {
    found[key] =
      typeof value === 'object' && value !== null ? withPlurals(value as Record<string, unknown>, tag) : value;
    if (!key.endsWith('_other')) continue;
    const stem = key.slice(0, -'_other'.length);
    for (const form of forms) found[`${stem}_${form}`] ??= words[`${stem}_${form}`] ?? value;
  }
  return found;
};

/** Turns to a language of the host’s, which begins as a copy of the one that is on; or back from it. */
const applyLanguage = (words: Readonly<Record<string, string>>): void => {
  const tag = words[LANGUAGE];
  document.documentElement.dir = words[DIRECTION] === 'rtl' ? 'rtl' : 'ltr';
  if (!isTag(tag)) {
    if (before !== null) void i18next.changeLanguage(before);
    before = null;
    return;
  }
  if (i18next.language === tag) return;
  before ??= i18next.language;
  const own = i18next.getResourceBundle(before, 'translation') as Record<string, unknown>;
  i18next.addResourceBundle(tag, 'translation', withPlurals(own, tag));
  replaced.clear();
  void i18next.changeLanguage(tag);
};

/** What the engine says in a language before a host replaced anything. */
const engineBefore = new Map<string, EngineWords | undefined>();

const applyEngineWords = (language: string, words: Readonly<Record<string, string>>): void => {
  if (!engineBefore.has(language)) {
    if (before === null && !Object.keys(words).some(isEngineWord)) return;
    engineBefore.set(language, engineWordsOf(before ?? language));
  }
  takeEngineWords(language, hostEngineWords(engineBefore.get(language), words));
};

const applyWords = (given: Readonly<Record<string, string>>): void => {
  applyLanguage(given);
  const { [LANGUAGE]: _, [DIRECTION]: __, ...words } = given;
  const { language } = i18next;
  applyEngineWords(language, words);
  const set = (key: string, text: string): void => {
    i18next.addResource(language, 'translation', key, text);
  };
  let isChanged = false;
  for (const [key, stood] of [...replaced]) {
    if (key in words) continue;
    set(key, stood);
    replaced.delete(key);
    isChanged = true;
  }
  for (const [key, text] of Object.entries(words)) {
    const now: unknown = i18next.getResource(language, 'translation', key);
    if (now === text || isEngineWord(key)) continue;
    if (!replaced.has(key) && typeof now === 'string') replaced.set(key, now);
    set(key, String(text));
    isChanged = true;
  }
  if (isChanged) i18next.emit('wordsReplaced');
};
