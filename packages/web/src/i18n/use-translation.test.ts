// @vitest-environment happy-dom
import i18next from 'i18next';
import { act, createElement, StrictMode } from 'react';
import { createRoot, type Root } from 'react-dom/client';
import { afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { useTranslation } from './use-translation.ts';

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

let drawn = 0;
let given: ReturnType<typeof useTranslation>[] = [];

const Cell = () => {
  const words = useTranslation();
  drawn++;
  given.push(words);
  return createElement('span', null, words.t('viewer.print'));
};

let root: Root;
let place: HTMLElement;
beforeAll(async () => {
  await i18next.init({ lng: 'en', showSupportNotice: false, resources: {} });
  i18next.addResourceBundle('en', 'translation', { viewer: { print: 'Print' } });
  i18next.addResourceBundle('pt-PT', 'translation', { viewer: { print: 'Imprimir' } });
});
beforeEach(async () => {
  await i18next.changeLanguage('en');
  drawn = 0;
  given = [];
  place = document.createElement('div');
  root = createRoot(place);
});
afterEach(() => act(() => root.unmount()));

const show = (count: number): void =>
  act(() =>
    root.render(
      createElement(StrictMode, null, ...Array.from({ length: count }, (_, key) => createElement(Cell, { key }))),
    ),
  );

describe('the words of the interface', () => {
  it('are those of its language, and others once that changes, without a new page', async () => {
    show(1);
    expect(place.textContent).toBe('Print');
    await act(() => i18next.changeLanguage('pt-PT'));
    expect(place.textContent).toBe('Imprimir');
    await act(() => i18next.changeLanguage('en'));
    expect(place.textContent).toBe('Print');
  });

  it('are the same for all who ask, so that what depends on them is worked out once', () => {
    show(50);
    expect(new Set(given).size).toBe(1);
    expect(new Set(given.map(({ t }) => t)).size).toBe(1);
  });

  it('let nobody be drawn anew while the language stays', async () => {
    show(3);
    const before = drawn;
    await act(() => i18next.changeLanguage('en'));
    expect(place.textContent).toBe('PrintPrintPrint');
    expect(drawn).toBe(before);
  });

  it('are asked for by nobody who is gone', async () => {
    show(2);
    show(0);
    const before = drawn;
    await act(() => i18next.changeLanguage('pt-PT'));
    expect(drawn).toBe(before);
    expect(place.textContent).toBe('');
  });
});
