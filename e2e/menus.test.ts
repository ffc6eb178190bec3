import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, press } from './browser.ts';
import { driver, HUTS, openNew, select, servers, useSession, visit } from './session.ts';

useSession();

const xpath = (path: string) => eventually(driver, path, () => driver.findElement(By.xpath(path)));

/** Which entries something lies over, or the window cuts off; the selector itself while there are none. */
const COVERED = `
  const all = [...document.querySelectorAll(arguments[0])];
  if (all.length === 0) return [arguments[0]];
  return all.filter((entry) => {
    entry.scrollIntoView({ block: 'nearest' });
    const { x, y, width, height } = entry.getBoundingClientRect();
    const top = document.elementFromPoint(x + width / 2, y + height / 2);
    return !top || !(entry === top || entry.contains(top));
  }).map((entry) => entry.textContent || entry.ariaLabel)`;

/**
 * Waits until a list is open and has come to its place, and checks that each of its entries can be pressed where it is drawn: nothing lies over it,
 * and it is within the window or frame once it was scrolled to.
 */
const reachable = async (entries: string): Promise<void> => {
  let covered = [entries];
  const look = async (): Promise<boolean> => {
    covered = await driver.executeScript<string[]>(COVERED, entries);
    return covered.length === 0;
  };
  await eventually(driver, entries, look).catch(() => {});
  expect(covered).toEqual([]);
};
/** Closes what is open, by the key for it. */
const closed = async (gone: string): Promise<void> => {
  await press(driver, Key.ESCAPE);
  await eventually(driver, `no ${gone}`, async () => (await driver.findElements(By.css(gone))).length === 0);
};

const OPTIONS = '.cm-tooltip-autocomplete li';
const MENU = '[role="menuitem"]';
const COMMANDS = '[cmdk-item]';
const PANEL = '[data-radix-popper-content-wrapper]';

describe('lists in the designer', () => {
  it('of what can be added, of commands, of bands and fields lie above everything', async () => {
    await openNew(HUTS);
    await (await find(driver, '[data-testid="board"]')).sendKeys('/');
    await reachable(COMMANDS);
    await closed('[cmdk-input]');
    await press(driver, Key.CONTROL, 'k');
    await reachable(COMMANDS);
    await closed('[cmdk-input]');

    await driver
      .actions()
      .contextClick(await button(driver, 'Band Hut detail'))
      .perform();
    await reachable(MENU);
    await (await xpath('//*[@role="menuitem"][@aria-haspopup]')).click();
    await eventually(
      driver,
      'the menu in the menu',
      async () => (await driver.findElements(By.css('[role="menu"]'))).length === 2,
    );
    await reachable('[role="menu"]:last-of-type [role="menuitem"]');
    await closed(MENU);

    const more = await xpath('//section[@aria-label="Data"]//button[starts-with(@aria-label, "Place Name")]');
    await driver.actions().move({ origin: more }).perform();
    await more.click();
    await reachable(MENU);
    await closed(MENU);
  });

  it('of the sentence of a drawer, of formats and colours, of problems and of saving lie above everything', async () => {
    await openNew(HUTS);
    for (const phrase of ['by name', 'filter', 'group', 'first N']) {
      await (await button(driver, `Hut: ${phrase}`)).click();
      await reachable(`${PANEL} :is(button, select, input)`);
      await closed(PANEL);
    }
    await (await button(driver, 'Hut: group')).click();
    await (await xpath('//*[@data-radix-popper-content-wrapper]//button[contains(., "Group by")]')).click();
    await reachable(COMMANDS);
    await closed('[cmdk-input]');
    await closed(PANEL);
    await select('beds');
    for (const setting of ['Shown as:', 'Colour:']) {
      await (await xpath(`//*[@data-testid="settings"]//button[starts-with(@aria-label, "${setting}")]`)).click();
      await reachable(`${PANEL} button`);
      await closed(PANEL);
    }
    await (await button(driver, 'More ways to save')).click();
    await reachable(`${PANEL} :is(button, input)`);
    await closed(PANEL);
  });

  it('of completions lie above everything, and a press takes one', async () => {
    await openNew(HUTS);
    await select('beds');
    const formula = await find(driver, '[data-testid="settings"] .cm-content');
    await formula.click();
    await formula.sendKeys(Key.chord(Key.CONTROL, 'a'), 'al');
    await reachable(OPTIONS);
    await (await xpath(`//*[contains(@class, "cm-tooltip-autocomplete")]//li[contains(., "altitude")]`)).click();
    await eventually(driver, 'the field', async () => (await formula.getText()).includes('altitude'));
    await closed(OPTIONS);

    // A text on the board: fields are offered while their names are typed.
    await openNew({
      ...HUTS,
      body: [
        {
          ...HUTS.body[0]!,
          header: {
            height: 8,
            items: [{ kind: 'text', id: 'words', x: 0, y: 1, width: 60, height: 5, content: ['Huts'] }],
          },
        },
      ],
    });
    await select('words');
    await press(driver, Key.ENTER);
    const text = await find(driver, '[data-testid="board"] [contenteditable="true"]');
    await text.sendKeys(' [be');
    await reachable('[role="listbox"] [role="option"]');
    await (await find(driver, '[role="listbox"] [role="option"]')).click();
    await find(driver, '[contenteditable="true"] [data-formula], [contenteditable="true"] [data-chip]');
    await (await xpath('//*[@role="toolbar"]//button[@aria-label="Size"]')).click();
    await reachable(MENU);
    await closed(MENU);
  });
});

describe('lists in windows', () => {
  it('of steps and their boxes in the window of a query lie above it', async () => {
    await openNew(HUTS);
    await (await button(driver, 'Query')).click();
    await (await xpath('//*[@role="dialog"]//button[normalize-space()="Huts"]')).click();
    await (await xpath('//*[@role="dialog"]//button[normalize-space()="Add a step"]')).click();
    await (await find(driver, '[placeholder="Find a step"]')).sendKeys('Add a column');
    await (await xpath('//*[@role="option"][1][b[normalize-space()="Add a column"]]')).click();
    const formula = await find(driver, '[role="dialog"] [data-step="2"] input[aria-label="Formula"]');
    expect(await formula.isDisplayed()).toBe(true);
    await reachable('[role="dialog"] [data-step="2"] :is(input, select, button)');
    await (await xpath('//*[@role="dialog"]//button[normalize-space()="Add a step"]')).click();
    await reachable('[data-radix-popper-content-wrapper] [role="option"]');
  });

  it('of the guided start can be pressed', async () => {
    await visit('/');
    await (await button(driver, 'New report')).click();
    await (await find(driver, '[data-testid="start"] button:nth-of-type(1)')).click();
    await (await find(driver, 'input[type="search"]')).sendKeys('stays');
    await (await xpath('//li/button[starts-with(normalize-space(),"Stays ")]')).click();
    await (await button(driver, 'Next')).click();
    await (await xpath('//label[normalize-space(.)="Nights" or span="Nights"]/input')).click();
    await (await button(driver, 'Next')).click();
    await (await button(driver, 'Group by …')).click();
    await reachable(COMMANDS);
  });
});

describe('lists on the Data screen', () => {
  it('of steps, fields and values can be pressed', async () => {
    await visit('/data/recipes/new');
    await (await xpath('//main//button[normalize-space()="Huts"]')).click();
    await (await button(driver, 'Add a step')).click();
    await reachable(`${PANEL} [role="option"]`);
    await (await xpath('//*[@role="option"][b[normalize-space()="Keep only"]]')).click();
    await reachable('[data-step="2"] :is(select, input, button)');
  });
});

describe('lists of parameters', () => {
  /** A window as a phone has it, and one as a small frame in a page. */
  const sizes = [
    { width: 1280, height: 800 },
    { width: 400, height: 640 },
  ];
  it.each(sizes)('can be pressed in the viewer and in a frame of a page, at %o', async (size) => {
    await driver.manage().window().setRect(size);
    for (const address of [
      `${servers.gaveta}/reports/season-ledger?region_name=Ilha+de+Pedra`,
      `${servers.office}/?as=ines&report=season-ledger`,
    ]) {
      await driver.get(address);
      if (address.startsWith(servers.office)) await driver.switchTo().frame(await find(driver, 'iframe'));
      const isNarrow = await driver.executeScript<boolean>(`return matchMedia('(max-width: 639px)').matches`);
      if (isNarrow) {
        // Chips have no room there: values are in a sheet.
        await (await xpath('//button[starts-with(normalize-space(), "All 3 values")]')).click();
        for (const value of ['Season', 'Region', 'Huts']) {
          const heading = await xpath(`//aside//summary[starts-with(normalize-space(), "${value}")]`);
          await heading.click();
          await reachable('aside details[open] :is(button, input, label)');
          await heading.click();
        }
        await (await find(driver, 'aside button[aria-label="Close the values"]')).click();
      }
      for (const chip of isNarrow ? [] : ['Season', 'Region', 'Huts']) {
        await (await xpath(`//button[starts-with(normalize-space(), "${chip}") and @aria-haspopup="dialog"]`)).click();
        await reachable(`${PANEL} :is(button, input, label)`);
        await closed(PANEL);
      }
      await driver.switchTo().defaultContent();
    }
    await driver.manage().window().setRect({ width: 1280, height: 943 });
  });
});
