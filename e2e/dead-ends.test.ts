import { describe, expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, middleOf, press, textOf } from './browser.ts';
import { choose, driver, HUTS, liveText, openDesigner, openNew, saveState, useSession } from './session.ts';

useSession();

/** Everything here is pressed where it is drawn: what something else covers cannot be, and the test fails. */
const inTray = (xpath: string) =>
  eventually(driver, xpath, () => driver.findElement(By.xpath(`//*[@data-testid="settings"]${xpath}`)));
const selectDrawer = async (): Promise<void> => (await button(driver, 'Huts: select the drawer Hut')).click();
const boxesNamed = async (label: string): Promise<number> =>
  (await driver.findElements(By.css(`[data-testid="settings"] [aria-label="${label}"]`))).length;
const hutsShown = (): Promise<number> =>
  driver.executeScript<number>(`return document.querySelectorAll('.live-pages text[data-item="name"]').length`);
/** The work as it was put by last. */
const keptWork = <T>(): Promise<T> =>
  driver.executeScript<T>(
    `const report = location.pathname.split('/').at(-2);
     const drafts = await (await fetch('/api/drafts')).json();
     const newest = drafts.filter((d) => d.report === report).sort((a, b) => (a.savedAt < b.savedAt ? 1 : -1))[0];
     return newest ? (await (await fetch('/api/drafts/' + encodeURIComponent(newest.key))).json()).definition : null`,
  );

describe('the filter of a drawer', () => {
  it('is put together in words from nothing; what is not complete yet changes no rows', async () => {
    await openNew(HUTS);
    await selectDrawer();
    const all = await hutsShown();
    expect(all).toBeGreaterThan(20);
    await (await inTray('//button[normalize-space()="+ condition"]')).click();
    await choose('Field', 'Beds');
    await choose('Comparison', 'is at least');
    await (await inTray('//input[@aria-label="Value"]')).sendKeys('40', Key.ENTER);
    await eventually(driver, 'fewer huts', async () => {
      const shown = await hutsShown();
      return shown > 0 && shown < all;
    });
    const some = await hutsShown();

    await (await inTray('//button[normalize-space()="+ condition"]')).click();
    await eventually(driver, 'a second condition', async () => (await boxesNamed('Field')) === 2);
    await (await inTray('//button[normalize-space()="+ group"]')).click();
    await eventually(driver, 'a condition in a group', async () => (await boxesNamed('Field')) === 3);
    await (await driver.findElements(By.xpath('//button[normalize-space()="+ formula"]'))).at(-1)!.click();
    await eventually(driver, 'a formula', async () => (await boxesNamed('Formula')) === 1);
    await saveState('kept at');
    const { body } = await keptWork<{ body: { filter: string }[] }>();
    expect(body[0]!.filter).toBe('beds >= 40');
    expect(await hutsShown()).toBe(some);
    expect(await liveText()).not.toContain('TRUE()');
  });
});

describe('the window of a query', () => {
  it('has a menu of steps that lies above it, every entry of which can be pressed', async () => {
    await openNew(HUTS);
    await (await button(driver, 'Query')).click();
    const inWindow = (name: string) =>
      eventually(driver, name, () =>
        driver.findElement(By.xpath(`//*[@role="dialog"]//button[normalize-space()="${name}"]`)),
      );
    await (await inWindow('Huts')).click();
    await (await inWindow('Add a step')).click();
    await find(driver, '[role="option"] b');
    const covered = await driver.executeScript<string[]>(
      `return [...document.querySelectorAll('[role="option"]')]
         .filter((entry) => {
           entry.scrollIntoView({ block: 'nearest' });
           const { x, y, width, height } = entry.getBoundingClientRect();
           return !entry.contains(document.elementFromPoint(x + width / 2, y + height / 2));
         })
         .map((entry) => entry.textContent)`,
    );
    expect(covered).toEqual([]);
    await (await driver.findElement(By.xpath('//*[@role="option"][b[normalize-space()="Keep only"]]'))).click();
    await choose('Field', 'Beds', '[data-step="2"]');
    await (await inWindow('Apply')).click();
    await find(driver, '[data-query]');
  });
});

interface Calculated {
  name: string;
  formula: string;
}
const calculated = async (): Promise<Calculated[]> =>
  (await keptWork<{ body: { calculated?: Calculated[] }[] } | null>())?.body[0]?.calculated ?? [];

describe('a box that is left by pressing another', () => {
  it('does not lose the press: a calculated field is named, and its formula written', async () => {
    await openNew(HUTS);
    await selectDrawer();
    await (await inTray('//button[normalize-space()="Calculated field"]')).click();
    const name = await inTray('//*[@aria-label="Name of calculated field 1"]');
    await name.click();
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'half');
    // Where the formula is drawn before the name is taken over: the press is what takes it over.
    const formula = await inTray('//*[starts-with(@aria-label, "Formula of ")]');
    await driver.executeScript(`arguments[0].scrollIntoView({ block: 'center' })`, formula);
    const at = await middleOf(formula);
    await driver.actions().move(at).press().release().perform();
    await press(driver, 'beds / 2');
    await press(driver, Key.ENTER);
    await eventually(driver, 'both', async () => {
      const [made] = await calculated();
      return made?.name === 'half' && made.formula === 'beds / 2';
    });
    expect(await driver.findElements(By.css('[cmdk-input]'))).toEqual([]);

    // What is pressed next acts on what was just taken over.
    const again = await inTray('//*[@aria-label="Name of calculated field 1"]');
    await again.sendKeys(Key.chord(Key.CONTROL, 'a'), 'half_of_it');
    await (await inTray('//button[normalize-space()="Calculated field"]')).click();
    await eventually(driver, 'the new name and the new field', async () => {
      const names = (await calculated()).map((made) => made.name);
      return names.join() === 'half_of_it,worked_out';
    });
  });
});

describe('an item that is let go of outside the board', () => {
  it('stays where it was', async () => {
    await openNew(HUTS);
    const item = await find(driver, '[data-item="beds"]');
    const before = await item.getRect();
    const from = await middleOf(item);
    const data = await middleOf(await find(driver, 'section[aria-label="Data"]'));
    await dragBy(driver, item, data.x - from.x, data.y - from.y);
    await dragBy(driver, item, 0, 5 - from.y);
    expect(await item.getRect()).toEqual(before);
    expect(
      await driver.executeScript(
        `return document.querySelector('[data-testid="board"] [data-item="beds"]').closest('[data-band]').dataset.band`,
      ),
    ).toBe('huts/detail');
    expect(await textOf(driver, '[data-testid="save-state"]')).toContain('Saved');
  });
});

describe('two windows of one person', () => {
  it('keep their work apart: what one saves takes nothing from the other', async () => {
    const id = await openNew(HUTS);
    const first = await driver.getWindowHandle();
    await (await find(driver, '[data-item="beds"]')).click();
    await press(driver, Key.ARROW_RIGHT);
    await saveState('kept at');
    const work = await keptWork();

    await driver.switchTo().newWindow('tab');
    const second = await driver.getWindowHandle();
    await openDesigner(id);
    await (await button(driver, 'Keep it and open the saved report')).click();
    await saveState('Saved');
    await (await find(driver, '[data-item="name"]')).click();
    await press(driver, Key.ARROW_DOWN);
    await press(driver, Key.CONTROL, 's');
    await saveState('Saved, revision 2');

    await driver.switchTo().window(first);
    await eventually(driver, 'word of the other revision', async () =>
      (await textOf(driver, 'body')).includes('saved revision 2. Yours is still here.'),
    );
    expect(await keptWork()).toEqual(work);
    await driver.navigate().refresh();
    await eventually(driver, 'its work', async () => (await textOf(driver, 'body')).includes('was restored'));
    expect(await keptWork()).toEqual(work);

    await driver.switchTo().window(second);
    await driver.close();
    await driver.switchTo().window(first);
  });
});
