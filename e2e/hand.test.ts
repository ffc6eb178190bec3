import { describe, expect, it } from 'vitest';
import { dragBy, eventually, find, Key, middleOf, press, settled, textOf } from './browser.ts';
import { command, driver, HUTS, liveText, openNew, select, useSession } from './session.ts';

useSession();

/** A report of huts whose detail band is high and holds these items besides the hut's name and beds. */
const roomy = (...items: object[]): object => ({
  ...HUTS,
  body: { ...HUTS.body, detail: { height: 40, items: [...HUTS.body.detail.items, ...items] } },
});
const text = (id: string, x: number, y: number): object => ({
  kind: 'text',
  id,
  x,
  y,
  width: 30,
  height: 6,
  content: [id],
});
const setting = async (label: string): Promise<number> => {
  await settled(driver);
  return Number(
    await (await find(driver, `section[aria-label="Selection"] input[aria-label="${label}"]`)).getAttribute('value'),
  );
};
const placeOf = async (item: string): Promise<[number, number]> => {
  await select(item);
  return [await setting('From left'), await setting('From top')];
};
/** CSS pixels for a millimetre of the board. */
const scale = async (): Promise<number> => (await (await find(driver, '[data-item="a"]')).getRect()).width / 30;
const drag = async (item: string, byX: number, byY: number, held?: string): Promise<void> => {
  const size = await scale();
  await dragBy(
    driver,
    await find(driver, `[data-item="${item}"]`),
    Math.round(byX * size),
    Math.round(byY * size),
    held,
  );
};

describe('dragging an item', () => {
  it('snaps to the edge of another, unless Alt is held, and keeps its line with Shift', async () => {
    await openNew(roomy(text('a', 21.3, 12), text('b', 90, 25)));
    // A millimetre short of the left edge of `a`.
    await drag('b', 21.3 - 90 + 1, 0);
    expect((await placeOf('b'))[0]).toBe(21.3);
    await press(driver, Key.CONTROL, 'z');
    await drag('b', 21.3 - 90 + 1, 0, Key.ALT);
    const [free] = await placeOf('b');
    expect(free).not.toBe(21.3);
    expect(Math.abs(free - 22.3)).toBeLessThan(0.3);
    await press(driver, Key.CONTROL, 'z');
    await drag('b', 7.5, 40 - 25 - 6 - 1, Key.SHIFT);
    expect((await placeOf('b'))[0]).toBe(90);
  });
});

describe('selecting', () => {
  it('goes through what lies over with Alt and a click, adds with Shift, and takes all of a kind', async () => {
    await openNew(roomy(text('a', 20, 12), text('b', 24, 13), text('c', 90, 25)));
    const chosen = (): Promise<string[]> =>
      driver.executeScript<string[]>(
        `return [...document.querySelectorAll('[data-item][aria-pressed="true"]')].map((e) => e.dataset.item)`,
      );
    const over = await middleOf(await find(driver, '[data-item="b"]'));
    await driver.actions().move(over).click().perform();
    expect(await chosen()).toEqual(['b']);
    await driver.actions().keyDown(Key.ALT).click().keyUp(Key.ALT).perform();
    expect(await chosen()).toEqual(['a']);
    await driver
      .actions()
      .keyDown(Key.SHIFT)
      .click(await find(driver, '[data-item="c"]'))
      .keyUp(Key.SHIFT)
      .perform();
    expect(await chosen()).toEqual(['a', 'c']);
    await press(driver, Key.CONTROL, 'a');
    expect(await chosen()).toEqual(['a', 'b', 'c']);
    await press(driver, Key.ESCAPE);
    expect(await chosen()).toEqual([]);
  });

  it('goes on with Tab from item to item, and outward to the band and its drawer', async () => {
    await openNew(HUTS);
    await select('name');
    await press(driver, Key.TAB);
    const trail = async (): Promise<string> => {
      await settled(driver);
      return textOf(driver, '[data-testid="selected"]');
    };
    expect(await trail()).toBe('Field beds');
    await press(driver, Key.SHIFT, Key.TAB);
    expect(await trail()).toBe('Field name');
    await press(driver, '[');
    await find(driver, '[data-testid="settings"] input[aria-label="Band height"]');
    await press(driver, ']');
    expect(await trail()).toContain('Field');
  });
});

describe('arranging', () => {
  it('lines up, evens out, makes the same size, makes a panel and locks', async () => {
    await openNew(roomy(text('a', 10, 12), text('b', 37, 19), text('c', 95, 27)));
    await select('a');
    await press(driver, Key.CONTROL, 'a');
    await command('line up tops');
    await command('even gaps across');
    const places = async (): Promise<[number, number][]> => {
      const found: [number, number][] = [];
      for (const item of ['a', 'b', 'c']) found.push(await placeOf(item));
      return found;
    };
    expect(await places()).toEqual([
      [10, 12],
      [52.5, 12],
      [95, 12],
    ]);
    await press(driver, Key.CONTROL, 'a');
    await press(driver, Key.CONTROL, 'j');
    await press(driver, Key.ESCAPE);
    await select('b');
    await press(driver, Key.ARROW_DOWN);
    expect((await places()).map(([, top]) => top)).toEqual([13, 13, 13]);
    await press(driver, Key.CONTROL, 'l');
    await press(driver, Key.ARROW_DOWN);
    await drag('b', 0, 8);
    expect((await places()).map(([, top]) => top)).toEqual([13, 13, 13]);
  });

  it('stops a band at its lowest item when its grip is dragged, and fits it with a double click', async () => {
    await openNew(roomy(text('a', 10, 12)));
    const grip = await find(driver, '[data-grip="huts/detail"]');
    const height = async (): Promise<number> =>
      (await (await find(driver, '[data-band="huts/detail"]')).getRect()).height / (await scale());
    await dragBy(driver, grip, 0, 60);
    const higher = await height();
    expect(higher).toBeGreaterThan(45);
    await driver.actions().doubleClick(grip).perform();
    expect(await height()).toBeCloseTo(18, 0);
    await dragBy(driver, grip, 0, -60);
    expect(await height()).toBeCloseTo(18, 0);
    await press(driver, Key.CONTROL, 'z');
    expect(await height()).toBeCloseTo(higher, 0);
  });
});

describe('text in place', () => {
  it('offers fields while their names are typed, and Tab takes the first', async () => {
    await openNew(roomy(text('a', 10, 12)));
    await select('a');
    await press(driver, Key.ENTER);
    const box = await find(driver, '[data-item="a"] [role="textbox"]');
    await box.sendKeys('Height altit');
    await find(driver, '[role="listbox"][aria-label="Fields"]');
    await box.sendKeys(Key.TAB, ' m');
    // The live page shows it before it is taken over.
    const heights = await eventually(driver, 'heights on the live page', async () =>
      (await liveText()).match(/Height \d,\d{3} m/g),
    );
    expect(new Set(heights).size).toBeGreaterThan(10);
    await box.sendKeys(Key.ESCAPE);
    await eventually(driver, 'the text as it was', async () => !(await liveText()).includes('Height'));
    await press(driver, Key.ENTER);
    await (await find(driver, '[data-item="a"] [role="textbox"]')).sendKeys('Hut of ', Key.chord(Key.CONTROL, ' '));
    await (await find(driver, '[role="listbox"][aria-label="Fields"]')).isDisplayed();
    await press(driver, Key.ARROW_DOWN);
    await press(driver, Key.ENTER);
    await press(driver, Key.ENTER);
    await eventually(driver, 'the text', async () => /Hut of \S/.test(await liveText()));
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'the text before', async () => !(await liveText()).includes('Hut of'));
  });
});
