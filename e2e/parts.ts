import { By, button, eventually, find, middleOf, settled, textOf, type WebElement } from './browser.ts';
import { driver, visit } from './session.ts';

/** Lets a field hang over a part of an item. */
export const hang = async (field: string, part: string) => {
  await settled(driver);
  const from = await find(driver, `[data-field="${field}"]`);
  await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', from);
  const to = await middleOf(await find(driver, `[data-part="${part}"]`));
  return driver
    .actions()
    .move({ origin: from })
    .press()
    .move({ x: to.x - 20, y: to.y })
    .move(to);
};

/** Drops a field on a part. */
export const drop = async (field: string, part: string): Promise<void> => {
  await (await hang(field, part)).release().perform();
  await find(driver, `[data-tag^="${part}"]`);
};

/** Moves a field of the Data list to a point of the window, and holds it there. */
export const hold = async (field: string, to: { x: number; y: number }): Promise<void> => {
  await settled(driver);
  const from = await find(driver, `[data-field="${field}"]`);
  await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', from);
  const [x, y] = [Math.round(to.x), Math.round(to.y)];
  await driver
    .actions()
    .move({ origin: from })
    .press()
    .move({ x: x - 12, y })
    .move({ x, y })
    .perform();
};
export const letGo = (): Promise<void> => driver.actions().release().perform();

/** Opens a group of fields among the data. */
export const openGroup = async (label: string): Promise<void> => {
  const path = `//section[@aria-label="Data"]//button[@aria-expanded][starts-with(normalize-space(), "${label}")]`;
  const group = await driver.findElement(By.xpath(path));
  if ((await group.getAttribute('aria-expanded')) === 'false') await group.click();
};

/** What the tags on the parts of items say. */
export const tags = (): Promise<string[]> =>
  driver.executeScript<string[]>(
    `return [...document.querySelectorAll('[data-testid="board"] [data-tag]')].map((tag) => tag.textContent)`,
  );

/** Opens the formats that the run can be exported in, once it is done. */
export const openFormats = async (): Promise<void> => {
  // The screen may be on its way: a button that was found may be one of the screen before.
  await eventually(driver, 'the run', async () => {
    const open = await button(driver, 'Export');
    if (!(await open.isEnabled())) return false;
    await open.click();
    return true;
  });
};

/** Chooses the format of a file. */
export const chooseFormat = async (name: string): Promise<void> => {
  await openFormats();
  await (await find(driver, `[data-output="${name}"]`)).click();
};

/** Exports the run in a format, as it was exported last. */
export const exportAs = async (name: string): Promise<void> => {
  await chooseFormat(name);
  await (await find(driver, '[data-testid="export-start"]')).click();
};

/** Chooses what to do with a thing of the library, from its menu. */
export const chooseFor = async (name: string, what: string): Promise<void> => {
  await (await button(driver, `What to do with ${name}`)).click();
  await (await driver.findElement(By.xpath(`//*[@role="menuitem"][normalize-space()="${what}"]`))).click();
};

/** The page that the viewer says is read. */
export const place = (): Promise<string> => textOf(driver, '[data-testid="page-place"]');

/** The pages of the viewer. */
export const main = (): Promise<WebElement> => find(driver, 'main');

/** Waits until all pages of the run are there. */
export const isDone = (): Promise<boolean> =>
  eventually(driver, 'the end of the run', async () => / of \d+/.test(await place()));

/** Opens a report in the viewer, and waits until all its pages are there and the first one is drawn. */
export const runOf = async (path: string): Promise<void> => {
  await visit(path);
  await isDone();
  await find(driver, 'main [data-page] text');
};

/** Adds a step of a recipe: its name is typed into the menu, and what is found is pressed. */
export const addStep = async (name: string): Promise<void> => {
  await (await button(driver, 'Add a step')).click();
  await (await find(driver, '[placeholder="Find a step"]')).sendKeys(name);
  const found = By.xpath(`//*[@role="option"][1][b[normalize-space()="${name}"]]`);
  await (await eventually(driver, name, () => driver.findElement(found))).click();
};
