import { describe, expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, middleOf, press, settled, textOf } from './browser.ts';
import {
  columnsOf,
  command,
  driver,
  HUTS,
  liveText,
  openNew,
  saveState,
  select,
  useSession,
  write,
} from './session.ts';

useSession();

/** A report of huts whose detail band is high and holds these items besides the hut's name and beds. */
const roomy = (...items: object[]): object => ({
  ...HUTS,
  body: [{ ...HUTS.body[0]!, detail: { height: 40, items: [...HUTS.body[0]!.detail.items, ...items] } }],
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
    // Pointers go by whole pixels.
    expect(Math.abs(free - 22.3)).toBeLessThan(0.5);
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

describe('words inside a text', () => {
  const edit = async () => {
    await select('a');
    await press(driver, Key.ENTER);
    return find(driver, '[data-item="a"] [role="textbox"]');
  };
  const tool = (name: string) => find(driver, `[role="toolbar"] [aria-label="${name}"]`);
  const texts = (condition: string): Promise<boolean> =>
    driver.executeScript<boolean>(
      `const found = [...document.querySelectorAll('.live-pages text[data-item="a"]')];
       return found.some((t) => ${condition})`,
    );

  it('have a size, a colour and a way of writing of their own, chips included', async () => {
    await openNew(roomy({ ...text('a', 10, 12), width: 90, content: ['Beds ', { formula: 'beds' }] }));
    const box = await edit();
    // Everything is selected at first.
    await (await tool('Bold')).click();
    await (await tool('Size')).click();
    await (
      await eventually(driver, 'sizes', () => driver.findElement(By.xpath('//*[@role="menuitem"][.="14"]')))
    ).click();
    await (await find(driver, '[role="toolbar"] [aria-label^="Text colour"]')).click();
    await (await button(driver, '#b3402e')).click();
    const looks = (words: string) => `/${words}/.test(t.textContent)
      && t.getAttribute('font-weight') === '700' && t.getAttribute('fill') === '#b3402e' && Number(t.getAttribute('font-size')) > 13`;
    await eventually(driver, 'the words', () => texts(looks('Beds')));
    await eventually(driver, 'the field', () => texts(looks('^\\d+$')));
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), Key.chord(Key.CONTROL, 'i'));
    await eventually(
      driver,
      'both in italics',
      async () =>
        (await texts(`/Beds/.test(t.textContent) && t.getAttribute('font-style') === 'italic'`)) &&
        (await texts(`/^\\d+$/.test(t.textContent) && t.getAttribute('font-style') === 'italic'`)),
    );
    await box.sendKeys(Key.ENTER);
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'all of it undone', async () => !(await texts(looks('Beds'))));
  });

  it('hold fields whose formula and format are changed where they stand, and formulas that are written there', async () => {
    await openNew(roomy({ ...text('a', 10, 12), width: 90, content: ['Beds: ', { formula: 'beds' }] }));
    const box = await edit();
    await (await find(driver, '[data-item="a"] [data-formula="beds"]')).click();
    const panel = '[role="dialog"][aria-label="A field in the text"]';
    const formula = await find(driver, `${panel} .cm-content`);
    await formula.sendKeys(Key.chord(Key.CONTROL, 'a'), 'beds / 7', Key.ENTER);
    await (await find(driver, `${panel} button[aria-label^="Shown as"]`)).click();
    const two = await eventually(driver, 'the choices', () =>
      driver.findElement(By.xpath('//button[contains(., "two decimals")]')),
    );
    await two.click();
    await eventually(driver, 'sevenths', () => texts(`/\\d\\.\\d\\d$/.test(t.textContent)`));
    await (await button(driver, 'Done')).click();
    // The cursor is behind the field: a key opens it again.
    await box.sendKeys(Key.chord(Key.ALT, Key.ARROW_DOWN));
    await find(driver, panel);
    await (await button(driver, 'Done')).click();
    await box.sendKeys(' of ');
    await (await tool('Insert a formula')).click();
    // Without Enter: what is typed counts when the panel is closed.
    await (await find(driver, `${panel} .cm-content`)).sendKeys('UPPER(name)');
    await (await button(driver, 'Done')).click();
    await box.sendKeys(Key.ENTER);
    await eventually(driver, 'the name', () => texts(`t.textContent.includes('ALMINHAS')`));
    // Saving takes over what is being typed.
    await (await edit()).sendKeys(Key.END, ' saved', Key.chord(Key.CONTROL, 's'));
    await saveState('Saved, revision 2');
    await eventually(driver, 'what was typed last', () => texts(`t.textContent.includes('saved')`));
    expect(await driver.findElements(By.css('[data-item="a"] [role="textbox"]'))).toEqual([]);
    // They stand in the tray as well.
    await write('Formula in the text: UPPER(name)', 'LOWER(name)');
    await eventually(driver, 'the other name', () => texts(`t.textContent.includes('alminhas')`));
  });
});

describe('several fields', () => {
  it('share a format', async () => {
    await openNew(roomy({ kind: 'field', id: 'a', x: 10, y: 12, width: 30, height: 5, formula: 'altitude' }));
    await select('beds');
    await driver
      .actions()
      .keyDown(Key.SHIFT)
      .click(await find(driver, '[data-item="a"]'))
      .keyUp(Key.SHIFT)
      .perform();
    await (await find(driver, '[data-testid="settings"] button[aria-label^="Shown as"]')).click();
    await (
      await eventually(driver, 'the choices', () =>
        driver.findElement(By.xpath('//button[contains(., "two decimals")]')),
      )
    ).click();
    await eventually(driver, 'two decimals in both', () =>
      driver.executeScript<boolean>(
        `const found = [...document.querySelectorAll('.live-pages text[data-item="a"], .live-pages text[data-item="beds"]')];
         return found.length > 10 && found.every((t) => /\\.\\d\\d$/.test(t.textContent))`,
      ),
    );
  });
});

describe('column sets', () => {
  const NAMES = ['name', 'beds', 'altitude'];
  const edges = async (item: string): Promise<[number, number]> => {
    await select(item);
    return [await setting('From left'), await setting('Width')];
  };

  it('push the columns after one that gets wider, are evened out, and fitted to the page', async () => {
    await openNew(columnsOf(...NAMES));
    const [beds] = await edges('value-beds');
    const [, before] = await edges('value-name');
    const size = (await (await find(driver, '[data-item="value-name"]')).getRect()).width / before;
    await dragBy(driver, await find(driver, '[data-handle="e"]'), Math.round(size * 20), 0);
    const [, wider] = await edges('value-name');
    expect(wider).toBeGreaterThan(before + 15);
    const [moved] = await edges('value-beds');
    expect(moved - beds).toBeCloseTo(wider - before, 1);
    // The caption goes along.
    expect(await edges('caption-beds')).toEqual(await edges('value-beds'));
    await command('even columns');
    const widths: number[] = [];
    for (const name of NAMES) widths.push((await edges(`value-${name}`))[1]);
    expect(Math.max(...widths) - Math.min(...widths)).toBeLessThan(0.2);
    await command('fit columns');
    const [left, width] = await edges('value-altitude');
    expect(left + width).toBeCloseTo(180, 0);
  });
});

describe('pictures', () => {
  const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==';
  /** Gives the board a file as the clipboard or the desktop would. */
  const give = (how: 'paste' | 'drop', type: string): Promise<void> =>
    driver.executeScript(
      `const [how, type, base64] = arguments;
       const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
       const data = new DataTransfer();
       data.items.add(new File([bytes], 'dot.png', { type }));
       const board = document.querySelector('[data-band="huts/detail"]');
       const { left, top } = board.getBoundingClientRect();
       const init = { bubbles: true, cancelable: true };
       const event = how === 'paste'
         ? new ClipboardEvent('paste', { ...init, clipboardData: data })
         : new DragEvent('drop', { ...init, dataTransfer: data, clientX: left + 200, clientY: top + 60 });
       (how === 'paste' ? document.body : board).dispatchEvent(event);`,
      how,
      type,
      PIXEL,
    );
  const pictures = (): Promise<number> =>
    driver.executeScript<number>(`return document.querySelectorAll('[data-item] img').length`);
  const onEachRow = () =>
    eventually(driver, 'the picture on each row', () =>
      driver.executeScript<boolean>(`return document.querySelectorAll('.live-pages image').length > 4`),
    );

  it('are pasted from the clipboard and dropped onto the board', async () => {
    await openNew(roomy(text('a', 10, 12)));
    await (await button(driver, 'Band Hut detail')).click();
    await give('paste', 'image/png');
    await onEachRow();
    expect(await pictures()).toBe(1);
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'no picture', async () => (await pictures()) === 0);
    await give('drop', 'image/png');
    await onEachRow();
    expect(await pictures()).toBe(1);
    await give('drop', 'text/plain');
    await eventually(driver, 'the refusal', async () =>
      (await textOf(driver, '[role="alert"]')).includes('“dot.png” is not a picture.'),
    );
    expect(await pictures()).toBe(1);
  });
});

describe('a drawer’s sentence', () => {
  it('is changed phrase by phrase: order and number of rows', async () => {
    await openNew(HUTS);
    const names = (): Promise<string[]> =>
      driver.executeScript<string[]>(
        `return [...document.querySelectorAll('.live-pages text[data-item="name"]')].map((t) => t.textContent)`,
      );
    const [first] = await names();
    await (await button(driver, 'Hut: by name')).click();
    await (await button(driver, 'A to Z')).click();
    await eventually(driver, 'the other order', async () => (await names())[0] !== first);
    await press(driver, Key.ESCAPE);
    await (await button(driver, 'Hut: first N')).click();
    await (await find(driver, '[data-radix-popper-content-wrapper] input')).sendKeys('3', Key.ENTER);
    await eventually(driver, 'three huts', async () => (await names()).length === 3);
    await press(driver, Key.ESCAPE);
    expect(await textOf(driver, '[data-drawer-line="huts"]')).toContain('first 3');
  });
});

describe('a theme', () => {
  it('is tried on the live page while the pointer is on it, and stays when it is pressed', async () => {
    await openNew(HUTS);
    const colors = (): Promise<string> =>
      driver.executeScript<string>(
        `return [...new Set([...document.querySelectorAll('.live-pages text')].map((t) => t.getAttribute('fill')))].join()`,
      );
    const before = await colors();
    await (await button(driver, 'Report')).click();
    const theme = await find(driver, '[data-theme-choice="Brass plate"]');
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', theme);
    await driver.actions().move({ origin: theme }).perform();
    await eventually(driver, 'the other look', async () => (await colors()) !== before);
    await driver
      .actions()
      .move({ origin: await find(driver, '[data-testid="board"]') })
      .perform();
    await eventually(driver, 'the look as it was', async () => (await colors()) === before);
    await theme.click();
    await eventually(driver, 'the chosen look', async () => (await colors()) !== before);
    await find(driver, '[data-theme-choice][aria-pressed="true"]');
  });
});
