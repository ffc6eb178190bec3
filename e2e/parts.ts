import { By, find, middleOf, settled } from './browser.ts';
import { driver } from './session.ts';

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

/** Opens a group of fields among the data. */
export const openGroup = async (label: string): Promise<void> => {
  const path = `//section[@aria-label="Data"]//button[@aria-expanded][starts-with(normalize-space(), "${label}")]`;
  const group = await driver.findElement(By.xpath(path));
  if ((await group.getAttribute('aria-expanded')) === 'false') await group.click();
};

/** What the tags on the parts of items say. */
export const tags = (): Promise<string[]> =>
  driver.executeScript<string[]>(`return [...document.querySelectorAll('[data-tag]')].map((tag) => tag.textContent)`);
