import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, textOf } from './browser.ts';
import { choose, driver, HUTS, live, liveHas, liveText, useSession, visit } from './session.ts';

useSession();

const begin = async (way: string): Promise<void> => {
  await visit('/start');
  await (
    await eventually(driver, way, () =>
      driver.findElement(By.xpath(`//main//button[.//b[normalize-space()="${way}"]]`)),
    )
  ).click();
};
const press = async (xpath: string): Promise<void> =>
  (await eventually(driver, xpath, () => driver.findElement(By.xpath(xpath)))).click();
const takeRows = async (name: string): Promise<void> => {
  const search = await find(driver, 'input[aria-label="Find a table or recipe"]');
  await search.sendKeys(Key.chord(Key.CONTROL, 'a'), name);
  await press(`//main//li/button[starts-with(normalize-space(),"${name} ")]`);
};
/** Left edges of a text on the first live page, the same ones once. */
const lefts = (): Promise<number[]> =>
  driver.executeScript<number[]>(
    `return [...new Set([...document.querySelectorAll('[data-live-page="1"] text')].map((t) => Math.round(Number(t.getAttribute('x')))))]`,
  );
const pages = async (): Promise<number> => {
  await live();
  return Number(/(\d+) pages?/.exec(await textOf(driver, '[data-testid="live-state"]'))?.[1]);
};

const tick = (label: string): Promise<void> => press(`//label[normalize-space(.)="${label}" or span="${label}"]/input`);

describe('the guided start', () => {
  it('goes on with another set of rows, below or beside, which can be left out again', async () => {
    await begin('Guided');
    await takeRows('Huts');
    await (await button(driver, 'Next')).click();
    for (const label of ['Name', 'Beds']) await tick(label);
    await (await button(driver, 'Below')).click();
    await takeRows('Members');
    await (await button(driver, 'Next')).click();
    await tick('Country');
    await eventually(driver, 'members below', async () => (await liveText()).includes('Country'));
    await (await button(driver, 'Leave this set out')).click();
    await eventually(driver, 'huts alone', async () => !(await liveText()).includes('Country'));

    // What was answered for the first set is there again.
    await (await button(driver, 'Side by side')).click();
    await takeRows('Regions');
    await (await button(driver, 'Next')).click();
    await tick('Office');
    await eventually(driver, 'regions beside', async () => (await liveText()).includes('Office'));
    await (await button(driver, 'Create it now')).click();
    await find(driver, '[data-testid="board"]');
    await live();
    await button(driver, 'No problems');
    expect((await driver.findElements(By.css('[data-drawer-line]'))).length).toBe(2);
    const [first, second] = await Promise.all(
      ['Alminhas', 'Office'].map((words) =>
        driver.executeScript<number>(
          `return Number([...document.querySelectorAll('[data-live-page="1"] text')].find((t) => t.textContent === arguments[0]).getAttribute('x'))`,
          words,
        ),
      ),
    );
    expect(second! - first!).toBeGreaterThan(200);
  });
});

describe('the guided start over groups', () => {
  it('puts a chart of their totals above the rows', async () => {
    await begin('Guided');
    await takeRows('Huts');
    await (await button(driver, 'Next')).click();
    for (const label of ['Name', 'Beds']) await tick(label);
    await (await button(driver, 'Next')).click();
    await (await button(driver, 'Group by …')).click();
    await (await find(driver, '[cmdk-input]')).sendKeys('Region: Name', Key.ENTER);
    await choose('Total of Beds', 'sum');
    await (await button(driver, 'Next')).click();
    await tick('A chart over the groups, above the rows');
    await eventually(
      driver,
      'the chart',
      async () =>
        (await driver.findElements(By.css('[data-live-page="1"] [role="img"][aria-label*="chart of"]'))).length === 1,
    );
    await (await button(driver, 'Create it now')).click();
    await find(driver, '[data-testid="board"] [data-part="measures"]');
    await button(driver, 'No problems');
  });
});

describe('the theme of the house', () => {
  const LETTERHEAD = 'Cumeeira · association of mountain huts';

  it('is what new reports have, with its letterhead, until another one is chosen', async () => {
    await begin('Guided');
    await takeRows('Huts');
    await (await button(driver, 'Next')).click();
    await tick('Name');
    await liveHas(LETTERHEAD);
    for (let step = 0; step < 3; step++) await (await button(driver, 'Next')).click();
    await (await button(driver, 'Pine')).click();
    await eventually(driver, 'no letterhead', async () => !(await liveText()).includes(LETTERHEAD));
    await (await button(driver, 'Cumeeira')).click();
    await liveHas(LETTERHEAD);
    await (await button(driver, 'Create the report')).click();
    await find(driver, '[data-theme-choice="Cumeeira"][aria-pressed="true"]');
    await liveHas(LETTERHEAD);
    await button(driver, 'No problems');
  });
});

describe('a template', () => {
  it('fills lists, cards, labels and letters with the rows that are chosen', async () => {
    await begin('From a template');
    await takeRows('Huts');
    await liveHas('Alminhas');
    expect(await liveText()).toContain('Beds');
    const asList = await pages();

    await press('//main//button[b="Labels"]');
    // Three labels stand side by side: names start at three places.
    await eventually(driver, 'three columns', async () => (await lefts()).length >= 3);
    expect(await liveText()).toContain('Alminhas');

    await press('//main//button[b="Letter"]');
    await eventually(driver, 'a page for each hut', async () => (await pages()) === 24);

    await press('//main//button[b="Cards"]');
    await eventually(driver, 'blocks', async () => (await pages()) < 24 && (await pages()) > asList);

    await press('//main//button[b="Nested list"]');
    await eventually(driver, 'what belongs to each hut', async () => (await liveText()).includes('Arrival'));
    await (await button(driver, 'Create the report')).click();
    await find(driver, '[data-testid="board"]');
    await live();
    await button(driver, 'No problems');
    expect((await driver.findElements(By.css('[data-drawer-line]'))).length).toBe(2);
  });
});

describe('a copy', () => {
  it('begins with a report that is there, under a name of its own', async () => {
    await begin('From a copy');
    await press('//main//li/button[normalize-space()="Warden roster"]');
    await find(driver, '[data-testid="board"]');
    await liveHas('Alminhas');
    expect(await textOf(driver, 'header')).toContain('Warden roster (copy)');
    expect(await textOf(driver, '[data-testid="save-state"]')).not.toContain('Saved');
  });
});

describe('the guided start', () => {
  it('keeps every answer when one goes back, and makes a form with a title', async () => {
    await begin('Guided');
    await takeRows('Huts');
    await (await button(driver, 'Next')).click();
    for (const label of ['Name', 'Beds'])
      await press(`//label[normalize-space(.)="${label}" or span="${label}"]/input`);
    await liveHas('Alminhas');
    await (await button(driver, 'Next')).click();
    await (await button(driver, 'Next')).click();
    await press('//label[contains(., "A form")]/input');
    await (await button(driver, 'Next')).click();
    const title = await eventually(driver, 'the title', () =>
      driver.findElement(By.xpath('//label[contains(., "Title")]/input')),
    );
    await title.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Where we sleep');
    await liveHas('Where we sleep');
    for (let i = 0; i < 3; i++) await (await button(driver, 'Back')).click();
    const ticked = await driver.executeScript<number>(
      `return document.querySelectorAll('main input[type="checkbox"]:checked').length`,
    );
    expect(ticked).toBe(2);
    await (await button(driver, 'Create it now')).click();
    await find(driver, '[data-testid="board"]');
    await liveHas('Where we sleep');
    // A form: captions stand beside their values in the band of each row.
    expect(
      await driver.findElements(By.css('[data-band$="/detail"] [data-item][aria-label="Text Beds"]')),
    ).toHaveLength(1);
  });
});

describe('a definition file', () => {
  const drop = (name: string, text: string): Promise<void> =>
    driver.executeScript(
      `const data = new DataTransfer();
       data.items.add(new File([arguments[1]], arguments[0], { type: 'application/json' }));
       document.querySelector('main').dispatchEvent(new DragEvent('drop', { bubbles: true, cancelable: true, dataTransfer: data }));`,
      name,
      text,
    );

  it('is opened when it is dropped, and one that is none is refused with reasons', async () => {
    await visit('/start');
    await find(driver, '[data-testid="start"] button');
    const wrong = structuredClone(HUTS) as { body: { detail: { height: unknown } }[] };
    wrong.body[0]!.detail.height = 'high';
    await drop('wrong.json', JSON.stringify(wrong));
    await eventually(driver, 'the reason', async () =>
      (await textOf(driver, '[role="alert"]')).includes('body/0/detail/height'),
    );
    expect(await textOf(driver, '[role="alert"]')).toContain('“wrong.json” is not a report definition.');
    await drop('huts.json', JSON.stringify(HUTS));
    await find(driver, '[data-testid="board"]');
    await liveHas('Alminhas');
  });
});
