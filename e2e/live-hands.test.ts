import { Origin } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { By, dragBy, eventually, find, Key, press, settled, type WebElement } from './browser.ts';
import { hold, letGo, openGroup, tags } from './parts.ts';
import { columnsOf, driver, HUTS, liveSays, openNew, useSession, write } from './session.ts';

useSession();

interface Box {
  x: number;
  y: number;
}

/** The text on the live page that says exactly this: the first one. */
const onPage = (words: string): Promise<WebElement> =>
  eventually(driver, `“${words}” on the live page`, () =>
    driver.executeScript<WebElement | null>(
      `return [...document.querySelectorAll('[data-live-page="1"] text')].find((t) => t.textContent === arguments[0]) ?? null`,
      words,
    ),
  );
/** Where texts of an item begin on the first page, in millimetres of the page. */
const placesOf = (item: string): Promise<Box[]> =>
  driver.executeScript<Box[]>(
    `return [...document.querySelectorAll('[data-live-page="1"] text[data-item="' + arguments[0] + '"]')]
      .map((t) => ({ x: (t.x.baseVal[0].value * 25.4) / 72, y: (t.y.baseVal[0].value * 25.4) / 72 }))`,
    item,
  );
/** CSS pixels for a millimetre of the live page. */
const scale = (): Promise<number> =>
  driver.executeScript<number>(
    `return document.querySelector('[data-live-page="1"]').getBoundingClientRect().width / 210`,
  );
/** An item of the report as it is at the moment, as the tray has it. */
const setting = async (label: string): Promise<number> => {
  await settled(driver);
  const box = await find(driver, `section[aria-label="Selection"] input[aria-label="${label}"]`);
  return Number(await box.getAttribute('value'));
};
const dragOnPage = async (from: WebElement, byX: number, byY: number, held?: string): Promise<void> => {
  const size = await scale();
  await dragBy(driver, from, Math.round(byX * size), Math.round(byY * size), held);
};
const until = (what: string, read: () => Promise<boolean>): Promise<boolean> => eventually(driver, what, read);
describe('on the live page', () => {
  it('an item is moved on all its rows at once, with snapping, keys and undo', async () => {
    await openNew(HUTS);
    const [name] = await placesOf('name');
    const before = await placesOf('beds');
    expect(before.length).toBeGreaterThan(10);
    const size = await scale();
    // Short of the left edge of the name by less than what snaps.
    const by = Math.round((name!.x - before[0]!.x + 2) * size);
    const half = Math.round(by / 2);
    await driver
      .actions()
      .move({ origin: await onPage('51') })
      .press()
      .move({ origin: Origin.POINTER, x: half, y: 0 })
      .move({ origin: Origin.POINTER, x: by - half, y: 0 })
      .perform();
    await until(
      'a line of what it snaps to',
      async () => (await driver.findElements(By.css('[data-live-page="1"] [data-guide]'))).length > 0,
    );
    await letGo();
    await until('all rows moved', async () => {
      const now = await placesOf('beds');
      return now.length === before.length && now.every(({ x }) => Math.abs(x - name!.x) < 0.1);
    });
    expect(await setting('From left')).toBe(0);
    // The keys of the board move it too, and undo takes back one step after the other.
    await press(driver, Key.ARROW_RIGHT);
    await until('moved by a key', async () => Math.abs((await placesOf('beds'))[0]!.x - name!.x - 1) < 0.1);
    await press(driver, Key.CONTROL, 'z');
    await press(driver, Key.CONTROL, 'z');
    await until('where it was', async () => Math.abs((await placesOf('beds'))[0]!.x - before[0]!.x) < 0.1);
  });

  it('at any zoom, a millimetre on the page is one of the report', async () => {
    await openNew(HUTS);
    const aside = '[aria-label="Zoom of the live page"]';
    for (let i = 0; i < 4; i++) await (await find(driver, `${aside} button:last-child`)).click();
    await until('a larger page', async () => (await scale()) > 4);
    await (await onPage('51')).click();
    const was = await setting('From left');
    await dragOnPage(await onPage('51'), -23, 0, Key.ALT);
    await until('moved', async () => Math.abs((await setting('From left')) - was + 23) < 0.3);
    await (await find(driver, `${aside} button:nth-child(2)`)).click();
    await until('as wide as there is room', async () => (await scale()) < 3);
  });

  it('an item is resized there, which its page shows before it is let go, and Escape gives up', async () => {
    const long = { ...HUTS.body[0]!.detail.items[0]!, formula: 'description', grow: true, width: 100 };
    const detail = { height: 8, items: [long] };
    await openNew({ ...HUTS, body: [{ ...HUTS.body[0]!, detail }] });
    const lines = async (): Promise<number> => {
      const places = await placesOf('name');
      return places.length;
    };
    await (await driver.findElement(By.css('[data-live-page="1"] text[data-item="name"]'))).click();
    const handle = await find(driver, '[data-chosen="name"] [data-handle="e"]');
    const before = await lines();
    const by = Math.round(-25 * (await scale()));
    const step = { origin: Origin.POINTER, x: by, y: 0 };
    await driver.actions().move({ origin: handle }).press().move(step).move(step).perform();
    await until('lines broken anew', async () => (await lines()) !== before);
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    await letGo();
    await until('as it was', async () => (await lines()) === before);
    expect(await setting('Width')).toBe(100);
    await dragOnPage(await find(driver, '[data-chosen="name"] [data-handle="e"]'), -50, 0);
    await until('narrower', async () => (await setting('Width')) === 50);
  });

  it('a text is edited where it stands, and a value leads to its formula', async () => {
    const title = { kind: 'text', id: 'title', x: 0, y: 0, width: 100, height: 8, content: ['All huts'] };
    await openNew({ ...HUTS, header: { height: 10, items: [title] } });
    await driver
      .actions()
      .doubleClick(await onPage('All huts'))
      .perform();
    await find(driver, '[data-testid="live-editor"]');
    await driver.actions().sendKeys('Every hut', Key.ENTER).perform();
    await liveSays('Every hut');
    await driver
      .actions()
      .doubleClick(await onPage('51'))
      .perform();
    await until('the formula of the value', () =>
      driver.executeScript<boolean>(`return document.activeElement?.closest('[aria-label="Formula"]') !== null`),
    );
    await write('Formula', 'beds * 2');
    await liveSays('102');
  });

  it('a field dropped between two columns becomes a column', async () => {
    await openNew(columnsOf('name', 'beds'));
    await openGroup('Hut');
    const [name] = await placesOf('value-name');
    const [beds] = await placesOf('value-beds');
    const sheet = await (await find(driver, '[data-live-page="1"]')).getRect();
    const size = await scale();
    const between = { x: sheet.x + (beds!.x - 1) * size, y: sheet.y + (name!.y - 1) * size };
    await hold('huts:altitude', between);
    await until('a line where it would become a column', async () => {
      return (await driver.findElements(By.css('[data-live-page="1"] [data-guide]'))).length === 1;
    });
    await letGo();
    await liveSays('Altitude (m)');
    const captions = await driver.executeScript<string[]>(
      `return [...document.querySelectorAll('[data-live-page="1"] text')].slice(0, 3)
        .sort((a, b) => a.x.baseVal[0].value - b.x.baseVal[0].value).map((t) => t.textContent)`,
    );
    expect(captions).toEqual(['name', 'Altitude (m)', 'beds']);
  });

  it('a field is dropped where there is room, and the edge of a band is dragged', async () => {
    await openNew(HUTS);
    await openGroup('Hut');
    const [first, second] = await placesOf('name');
    const sheet = await (await find(driver, '[data-live-page="1"]')).getRect();
    const size = await scale();
    await hold('huts:altitude', { x: sheet.x + 140 * size, y: sheet.y + (first!.y - 2) * size });
    await letGo();
    const made = await eventually(driver, 'the new field', () =>
      driver.executeScript<string | null>(`return document.querySelector('[data-chosen]')?.dataset.chosen ?? null`),
    );
    await until('on every row', async () => (await placesOf(made)).length === (await placesOf('beds')).length);
    expect(Math.abs((await placesOf(made))[0]!.x - 140)).toBeLessThan(35);

    await driver
      .actions()
      .move({ origin: await onPage('51') })
      .perform();
    const grip = await find(driver, '[data-live-grip="huts/detail"]');
    const pitch = second!.y - first!.y;
    const by = async (): Promise<number> => {
      const [one, two] = await placesOf('name');
      return two!.y - one!.y - pitch;
    };
    // The page follows before it is let go, and goes back when it is given up.
    const down = { origin: Origin.POINTER, x: 0, y: Math.round(3 * size) };
    await driver.actions().move({ origin: grip }).press().move(down).move(down).perform();
    await until('higher rows', async () => Math.abs((await by()) - 6) < 0.6);
    await driver.actions().sendKeys(Key.ESCAPE).perform();
    await letGo();
    await until('rows as they were', async () => Math.abs(await by()) < 0.1);
    await driver
      .actions()
      .move({ origin: await onPage('51') })
      .perform();
    await dragOnPage(await find(driver, '[data-live-grip="huts/detail"]'), 0, 6);
    await until('higher rows again', async () => Math.abs((await by()) - 6) < 0.6);
  });

  it('a rectangle selects what it touches, and Shift adds one', async () => {
    await openNew(HUTS);
    const chosen = (): Promise<string[]> =>
      driver.executeScript<string[]>(
        `return [...new Set([...document.querySelectorAll('[data-chosen]')].map((e) => e.dataset.chosen))].sort()`,
      );
    await (await onPage('51')).click();
    expect(await chosen()).toEqual(['beds']);
    const [name] = await placesOf('name');
    const sheet = await (await find(driver, '[data-live-page="1"]')).getRect();
    const size = await scale();
    const from = { x: Math.round(sheet.x + 130 * size), y: Math.round(sheet.y + (name!.y - 3) * size) };
    await driver
      .actions()
      .move(from)
      .press()
      .move({ x: from.x - 40, y: from.y + 10 })
      .move({ x: Math.round(sheet.x + 20 * size), y: from.y + 30 })
      .release()
      .perform();
    await until('both', async () => (await chosen()).join() === 'beds,name');
    await press(driver, Key.ESCAPE);
    await until('none', async () => (await chosen()).length === 0);
  });
});

it('a field is dropped on the part of a crosstab that its tag names, over the laid-out table', async () => {
  const crosstab = {
    kind: 'crosstab',
    id: 'x',
    x: 0,
    y: 0,
    width: 170,
    height: 30,
    rows: { entity: 'stay' },
    down: [{ name: 'hut', by: 'hut.name', caption: 'Hut' }],
    across: [],
    cells: [{ formula: 'SUM(nights)', caption: 'nights' }],
  };
  await openNew({ ...HUTS, name: 'Nights', body: [], header: { height: 45, items: [crosstab] } });
  await (await onPage('Casa da Brecha')).click();
  const tag = await (await find(driver, '[data-testid="live-tags"] [data-part="across"]')).getRect();
  await openGroup('Stays');
  await hold('rows of stay:arrival', { x: tag.x + tag.width / 2, y: tag.y + tag.height / 2 });
  await letGo();
  await until('the field across', async () => (await tags())[0] === 'across Arrival, by month');
});

it('what a subreport shows is the subreport to the hand', async () => {
  const inner = await openNew({ ...HUTS, name: 'Inner huts' });
  const sub = { kind: 'subreport', id: 'inner', x: 0, y: 10, width: 120, height: 10, report: inner };
  await openNew({ ...HUTS, name: 'Around', body: [], header: { height: 24, items: [sub] } });
  await (await onPage('51')).click();
  await find(driver, '[data-chosen="inner"]');
  await until('selected on the board', async () =>
    driver.executeScript<boolean>(
      `return document.querySelector('[data-testid="board"] [data-item="inner"]').getAttribute('aria-pressed') === 'true'`,
    ),
  );
  const was = (await placesOf('inner'))[0]!;
  await dragOnPage(await onPage('51'), 30, 0);
  await until('moved as a whole', async () => Math.abs((await placesOf('inner'))[0]!.x - was.x - 30) < 1);
});
