import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { By, button, eventually, find, Key, textOf } from './browser.ts';
import { isDone } from './parts.ts';
import {
  choose,
  downloads,
  driver,
  HUTS,
  liveSays,
  openNew,
  saveByKeys,
  saveState,
  useSession,
  visit,
} from './session.ts';

useSession();

/** A report whose caption and words are to be translated. */
const report = (name: string): object => ({
  ...HUTS,
  name,
  pageHeader: {
    height: 8,
    items: [
      {
        kind: 'text',
        id: 'title',
        x: 0,
        y: 0,
        width: 90,
        height: 6,
        content: ['Huts of ', { formula: 'report.name' }],
      },
    ],
  },
});

const line = (text: string) => find(driver, `[data-text="${text}"] textarea`);

const translate = async (text: string, said: string): Promise<void> => {
  const box = await line(text);
  await box.clear();
  await box.sendKeys(said, Key.TAB);
};

/** Adds a language by its name and opens its translations. */
const addLanguage = async (name: string): Promise<void> => {
  await (await find(driver, '[data-section="languages"] button[aria-haspopup="dialog"]')).click();
  await (await driver.switchTo().activeElement()).sendKeys(name, Key.ENTER);
  await find(driver, '[role="dialog"] [data-text]');
};

const missing = (words: string): Promise<boolean> =>
  eventually(driver, words, async () => (await textOf(driver, '[role="dialog"] [role="status"]')).includes(words));

/** Waits until the table of translations has these words. */
const says = (words: string): Promise<boolean> =>
  eventually(driver, words, async () => (await textOf(driver, '[role="dialog"]')).includes(words));

it('a report is translated in a table, seen on the live page, saved, and read in the language of its reader', async () => {
  const id = await openNew(report('Beds by hut'));
  await addLanguage('German');
  await missing('are missing');
  await translate('Beds by hut', 'Betten je Hütte');
  await translate('Huts of {1}', 'Hütten von {2}');
  await says('The numbers in braces are not those of the text.');
  await translate('Huts of {1}', 'Hütten von „{1}“');
  await (await driver.findElement(By.xpath('//label[contains(., "Only missing")]'))).click();
  await says('Nothing is missing.');
  await (await button(driver, 'Close')).click();
  await choose('Live page in', 'German');
  await liveSays('Hütten von „Betten je Hütte“');
  await choose('Live page in', 'English');
  await liveSays('Huts of Beds by hut');
  await saveByKeys();
  await saveState('Saved');
  await visit(`/reports/${id}`);
  await eventually(driver, 'a whole run', isDone);
  await (await find(driver, 'button[aria-label="Language: English"]')).click();
  await (await find(driver, '[role="menuitemcheckbox"][lang="de"]')).click();
  await eventually(driver, 'German pages', async () => (await textOf(driver, 'main svg')).includes('Hütten von'));
  expect(await textOf(driver, 'h1')).toBe('Betten je Hütte');
  await (await find(driver, 'button[aria-label="Language: Deutsch"]')).click();
  await (await find(driver, '[role="menuitemcheckbox"][lang="en"]')).click();
  await eventually(driver, 'English pages', async () => (await textOf(driver, 'main svg')).includes('Huts of'));
});

it('translations leave as files and come back, and what does not fit is told', async () => {
  await openNew(report('Beds abroad'));
  await addLanguage('French');
  await (await button(driver, 'Export')).click();
  await (await driver.findElement(By.xpath('//*[@role="menuitem"][contains(., "XLIFF")]'))).click();
  const file = join(downloads, 'Beds abroad fr.xlf');
  const text = await eventually(driver, 'the file', async () => {
    try {
      return readFileSync(file, 'utf8');
    } catch {
      return null;
    }
  });
  expect(text).toContain('srcLang="en" trgLang="fr"');
  const source = '<source xml:space="preserve">Beds abroad</source>';
  writeFileSync(file, text.replace(source, `${source}<target>Lits à l’étranger</target>`));
  const input = await driver.findElement(By.css('input[aria-label="File of translations"]'));
  await input.sendKeys(file);
  await says('1 translation is new');
  expect(await (await line('Beds abroad')).getAttribute('value')).toBe('Lits à l’étranger');
  const table = join(downloads, 'more.csv');
  writeFileSync(table, 'text;translation\nHuts of {1};Refuges de {1}\nGone;Parti\n');
  await input.sendKeys(table);
  await says('“Gone”');
  writeFileSync(table, 'a,b\n1,2\n');
  await input.sendKeys(table);
  await says('no columns “text”');
  // What came is one step back, as anything else.
  await (await button(driver, 'Close')).click();
  await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
  await (await find(driver, '[data-language="fr"] button')).click();
  await eventually(
    driver,
    'the step back',
    async () => (await (await line('Huts of {1}')).getAttribute('value')) === '',
  );
  expect(await (await line('Beds abroad')).getAttribute('value')).toBe('Lits à l’étranger');
});
