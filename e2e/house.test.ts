import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, textOf } from './browser.ts';
import { chooseFor } from './parts.ts';
import { add, copyOf, downloads, driver, openDesigner, saveState, servers, useSession, visit } from './session.ts';

useSession({ alone: true, firstPages: true });

/** PNGs of one dot, the second one of another colour. */
const DOTS = [
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
  'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8BQDwAEhQGAhKmMIQAAAABJRU5ErkJggg==',
];
const dot = (which: number): string => {
  mkdirSync(downloads, { recursive: true });
  const path = join(downloads, `seal-${which}.png`);
  writeFileSync(path, Buffer.from(DOTS[which]!, 'base64'));
  return path;
};
const says = (what: string, css: string, words: string): Promise<boolean> =>
  eventually(driver, what, async () => (await textOf(driver, css)).includes(words)) as Promise<boolean>;
const createMore = async (what: string): Promise<void> => {
  await (await button(driver, 'Create something else')).click();
  await (await driver.findElement(By.xpath(`//*[@role="menuitem"][normalize-space()="${what}"]`))).click();
};
/** Where a theme is put on reports. */
const ON = 'section[aria-label="Put on reports"]';
const pressOn = (what: string, xpath: string): Promise<unknown> =>
  eventually(driver, what, async () => {
    await (await driver.findElement(By.xpath(xpath))).click();
    return true;
  });
const pick = async (name: string, choice: string): Promise<void> => {
  await (await button(driver, name)).click();
  await (await find(driver, '[cmdk-input]')).sendKeys(choice, Key.ENTER);
};
const revisionOf = (id: string): Promise<number> =>
  driver.executeScript(`return (await (await fetch('/api/library/' + arguments[0])).json()).revision`, id);

it('makes a theme, puts it on two reports with what changes shown first, and takes it back', async () => {
  const ids = [await copyOf('tariff-check'), await copyOf('radio-calls')];
  await visit('/');
  await createMore('New theme');
  await (await find(driver, 'main input[aria-label="Name"]')).sendKeys(
    Key.chord(Key.CONTROL, 'a'),
    'Harbour office',
    Key.ENTER,
  );
  await (await find(driver, 'button[aria-label^="Titles and headings"]')).click();
  await (await find(driver, 'button[aria-label="#26365c"]')).click();
  await eventually(driver, 'the sample in the new colour', async () =>
    driver.executeScript(
      `return [...document.querySelectorAll('[aria-label="Live page"] svg text')].some((t) => t.getAttribute('fill') === '#26365c')`,
    ),
  );
  await (await button(driver, 'Undo')).click();
  await (await find(driver, 'button[aria-label="Titles and headings: #1f5c4d"]')).getText();
  await (await button(driver, 'Redo')).click();
  await pick('Take page bands from a report', 'Stay folio');
  await says('the bands', 'main', 'Page footer');
  await (await button(driver, 'Save')).click();
  await (await find(driver, '.panel button[type="submit"]')).click();
  await says('saved', '[role="status"]', 'Saved, revision 1');

  await (await driver.findElement(By.xpath('//button[@role="tab"][normalize-space()="Put on reports"]'))).click();
  await (await find(driver, 'section input[type="search"]')).sendKeys('copy');
  for (const name of ['Tariff check', 'Radio calls'])
    await eventually(driver, name, async () => {
      const label = await driver.findElement(By.xpath(`//label[contains(., "${name}")]/input`));
      if (!(await label.isSelected())) await label.click();
      return label.isSelected();
    });
  await (await button(driver, 'Show what changes in 2 reports')).click();
  await says('what changes', ON, '2 reports would change');
  await (await find(driver, '[data-what="changed"] summary')).click();
  await says('in words', '[data-what="changed"]', 'theme');
  expect(await Promise.all(ids.map(revisionOf))).toEqual([1, 1]);
  await (await find(driver, 'section input[aria-label="Note"]')).sendKeys('The harbour look');
  await (await button(driver, 'Change 2 reports')).click();
  await says('done', ON, '2 reports were changed');
  expect(await Promise.all(ids.map(revisionOf))).toEqual([2, 2]);
  await (await button(driver, 'Take the changes back')).click();
  await eventually(driver, 'taken back', async () => (await Promise.all(ids.map(revisionOf))).join() === '3,3');
  await openDesigner(ids[0]!);
  await visit(`/reports/${ids[0]}/revisions?older=2`);
  await says('what was taken back', '[data-testid="changes"]', 'theme');
});

it('keeps a picture in the library, shows it in a report, and replaces it there', async () => {
  await visit('/');
  await (await find(driver, 'input[type="file"][aria-label="New picture"]')).sendKeys(dot(0));
  await eventually(driver, 'its screen', async () => (await driver.getCurrentUrl()).includes('/house/pictures/'));
  const address = new URL(await driver.getCurrentUrl()).pathname;
  await says('its name', 'h1', 'seal-0');
  const report = await copyOf('tariff-check');
  await openDesigner(report);
  await add('picture');
  await (await button(driver, 'Choose one')).click();
  await (await driver.findElement(By.xpath('//*[@role="dialog"]//button[contains(., "seal-0")]'))).click();
  await (await find(driver, `[data-testid="board"] img[src*="${DOTS[0]!.slice(-40)}"]`)).getTagName();
  await eventually(driver, 'the live page', async () =>
    driver.executeScript(`return document.querySelectorAll('[aria-label="Live page"] svg image').length > 0`),
  );
  await press(driver, Key.CONTROL, 's');
  await saveState('Saved, revision 2');
  await driver.get(`${servers.gaveta}${address}`);
  await says('where it is used', 'aside', 'Tariff check');
  await (await find(driver, 'input[type="file"]')).sendKeys(dot(1));
  await (await find(driver, `main img[src*="${DOTS[1]!.slice(-40)}"]`)).getTagName();
});

it('makes a template of a report, and begins another one as it is', async () => {
  await visit('/');
  await chooseFor('Nights matrix', 'Make it a template');
  await says('that it is one', 'main', 'is a template now');
  await visit('/start');
  await pressOn('the ways', '//*[@data-testid="start"]//button[contains(., "From a template")]');
  await pressOn('the template', '//*[@data-testid="start"]//button[.//span[normalize-space()="Nights matrix"]]');
  await eventually(driver, 'a new report', async () => (await driver.getCurrentUrl()).includes('/new/'));
  await find(driver, '[data-testid="board"] [data-item]');
  await says('a name of its own', 'header', 'Untitled report');
});
