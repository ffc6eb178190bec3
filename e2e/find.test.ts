import { describe, expect, it } from 'vitest';
import { button, eventually, find, Key, press, textOf } from './browser.ts';
import { driver, useSession, visit } from './session.ts';

useSession();

const said = (words: string): Promise<boolean> =>
  eventually(driver, words, async () => (await textOf(driver, '[data-testid="found"]')) === words);

/** Where the match that is shown stands in the window; null when it is outside of it. */
const shownAt = (): Promise<{ page: number; y: number } | null> =>
  driver.executeScript(`
    const mark = document.querySelector('[data-found="shown"]');
    const paper = mark?.closest('div')?.querySelector('[data-page]');
    if (!paper) return null;
    const { top, bottom } = mark.getBoundingClientRect();
    const main = document.querySelector('main').getBoundingClientRect();
    return top >= main.top && bottom <= main.bottom ? { page: Number(paper.dataset.page), y: top } : null;`);
const shownOn = (page: number) =>
  eventually(driver, `a match on page ${page}`, async () => {
    const at = await shownAt();
    return at?.page === page && at;
  });
/** The words under the mark that is shown, by where it stands. */
const underMark = (): Promise<string> =>
  driver.executeScript(`
    const mark = document.querySelector('[data-found="shown"]').getBoundingClientRect();
    const texts = [...document.querySelectorAll('[data-page] text')];
    return texts.find((text) => {
      const box = text.getBoundingClientRect();
      return box.left <= mark.left + 2 && box.right >= mark.right - 2 && box.top < mark.bottom && box.bottom > mark.top;
    })?.textContent ?? '';`);

describe('looking for words', () => {
  it('finds them on pages that were never loaded, goes from one to the next, and round', async () => {
    await visit('/reports/season-ledger?region_name=Ilha+de+Pedra');
    await eventually(driver, 'the end of the run', async () =>
      /Page 1 of \d+/.test(await textOf(driver, '[data-testid="page-place"]')),
    );
    const last = Number((await textOf(driver, '[data-testid="page-place"]')).match(/of (\d+)/)![1]);
    await press(driver, Key.CONTROL, 'f');
    await (await find(driver, 'search input')).sendKeys(`page ${last} OF`);
    await said('1 of 1');
    // That page was far away.
    await shownOn(last);
    expect(await underMark()).toContain(`Page ${last} of ${last}`);

    const box = await find(driver, 'search input');
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'ILHA de pédra');
    const count = await eventually(driver, 'the matches', async () => {
      const [, of] = (await textOf(driver, '[data-testid="found"]')).match(/^\d+ of (\d+)$/) ?? [];
      return Number(of) > 1 && Number(of);
    });
    // From where one reads, and round at the end.
    await box.sendKeys(Key.ENTER);
    await eventually(driver, 'a match', shownAt);
    expect(await underMark()).toContain('Ilha de Pedra');
    const place = await textOf(driver, '[data-testid="found"]');
    for (let i = 0; i < count; i++) await box.sendKeys(Key.ENTER);
    await said(place);
    await press(driver, Key.F3);
    await press(driver, Key.CONTROL, 'g');
    await said(`${((Number.parseInt(place, 10) + 1) % count) + 1} of ${count}`);
    await box.sendKeys(Key.chord(Key.SHIFT, Key.ENTER));
    await press(driver, Key.SHIFT, Key.F3);
    await said(place);
    await (await button(driver, 'Previous match')).click();
    await eventually(driver, 'a match', shownAt);

    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'nothing of the kind');
    await said('No matches');
    expect(await (await button(driver, 'Next match')).isEnabled()).toBe(false);
    await box.sendKeys(Key.ESCAPE);
    expect(await driver.executeScript(`return document.querySelector('search')`)).toBeNull();
    expect(await driver.executeScript(`return document.querySelector('[data-found]')`)).toBeNull();
  });

  it('marks what is found on the page that is read, and takes other words when it is opened again', async () => {
    await visit('/reports/warden-roster');
    await find(driver, '[data-page] text');
    await press(driver, Key.CONTROL, 'f');
    await (await find(driver, 'search input')).sendKeys('alminhas');
    await eventually(driver, 'a match', async () => (await shownAt())?.page === 1);
    expect(await underMark()).toContain('Alminhas');
    // Who scrolls on is not taken back when the page of the match comes again.
    const scroll = (top: number) =>
      driver.executeScript('document.querySelector("main").scrollTop = arguments[0]', top);
    await scroll(1e9);
    await find(driver, '[data-page="8"] text');
    await scroll(700);
    await find(driver, '[data-page="1"] text');
    await find(driver, '[data-found="shown"]');
    expect(await driver.executeScript('return document.querySelector("main").scrollTop')).toBe(700);
    await (await button(driver, 'Close search')).click();
    await press(driver, Key.META, 'f');
    await (await find(driver, 'search input')).sendKeys('Corvo');
    await eventually(
      driver,
      'the other words',
      async () => !(await textOf(driver, '[data-testid="found"]')).includes('No'),
    );
    expect(await (await find(driver, 'search input')).getAttribute('value')).toBe('Corvo');
  });
});
