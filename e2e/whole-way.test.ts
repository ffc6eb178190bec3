import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, middleOf, press, textOf } from './browser.ts';
import { exportAs } from './parts.ts';
import { copyOf, downloads, driver, servers, useSession } from './session.ts';

useSession();
let roster: string;
beforeAll(async () => {
  roster = await copyOf('warden-roster');
  // The office’s people are known by its tokens alone.
  await driver.manage().deleteAllCookies();
});

const enterFrame = async (): Promise<void> => {
  await driver.switchTo().defaultContent();
  await driver.switchTo().frame(await find(driver, 'iframe'));
};

/** What the office's own page says of Gaveta's events. */
const officeSays = async (words: string): Promise<string> => {
  await driver.switchTo().defaultContent();
  const text = await eventually(driver, words, async () => {
    const said = await textOf(driver, '#said');
    return said.includes(words) && said;
  });
  await driver.switchTo().frame(await find(driver, 'iframe'));
  return text;
};

const pageText = (number: number): Promise<string> =>
  driver.executeScript<string>(`return document.querySelector('[data-page="${number}"]')?.textContent ?? ''`);

describe('the whole way, as a person goes it', () => {
  it('opens the designer in the office, drags a field, saves, runs, and finds it in the PDF', async () => {
    await driver.get(`${servers.office}/?as=ines&report=${roster}`);
    await enterFrame();
    await eventually(driver, 'the report', async () => (await pageText(1)).includes('Alminhas'));
    await driver.switchTo().defaultContent();
    await (await find(driver, '#switch')).click();
    await enterFrame();

    await eventually(driver, 'the live page', async () =>
      (await textOf(driver, '[data-testid="live-state"]')).includes('laid out in'),
    );
    const item = await find(driver, '[data-band="huts/detail"] [data-item]');
    const count = (await driver.findElements(By.css('[data-band="huts/detail"] [data-item]'))).length;
    expect(await item.isDisplayed()).toBe(true);

    // The field is dropped into an empty place of the hut's band.
    const field = await find(driver, '[data-field="huts:beds"]');
    const band = await find(driver, '[data-band="huts/detail"]');
    const [from, to] = [await middleOf(field), await band.getRect()];
    await dragBy(driver, field, Math.round(to.x + to.width * 0.55) - from.x, Math.round(to.y + 12) - from.y);
    await eventually(
      driver,
      'the new item',
      async () => (await driver.findElements(By.css('[data-band="huts/detail"] [data-item]'))).length === count + 1,
    );
    const made = await find(driver, '[data-band="huts/detail"] [data-item][aria-pressed="true"]');
    expect(await made.getAttribute('aria-label')).toBe('Field beds');

    // A format of its own, so that it is found again in the file.
    const formula = await find(driver, '[data-setting="formula"] .cm-content');
    await formula.sendKeys(Key.chord(Key.CONTROL, 'a'), '"Bunks here: " & beds', Key.ENTER);
    await eventually(driver, 'the live page with the field', () =>
      driver.executeScript<boolean>(
        `return document.querySelector('[data-live-page="1"]').textContent.includes('Bunks here: ')`,
      ),
    );
    await press(driver, Key.CONTROL, 's');
    expect(await officeSays('Saved as revision 2')).toBeTruthy();

    await (await button(driver, 'Run')).click();
    await eventually(driver, 'the change in the viewer', async () => (await pageText(1)).includes('Bunks here: '));
    expect(await officeSays('The report has 8 pages')).toBeTruthy();
    expect(await textOf(driver, '[data-testid="page-place"]')).toBe('Page 1 of 8');

    await exportAs('pdf');
    const file = join(downloads, 'Warden roster (copy).pdf');
    await eventually(driver, 'the download', async () => existsSync(file) && readdirSync(downloads).length === 1);
    const text = execFileSync('pdftotext', ['-layout', file, '-']).toString();
    expect(text.match(/Bunks here: \d+/g)).toHaveLength(24);
    expect(text).toContain('Page 8 of 8');
  });

  it('shows a warden, who may not change reports, only their region', async () => {
    await driver.switchTo().defaultContent();
    await driver.get(`${servers.office}/?as=rui&report=season-ledger`);
    await enterFrame();
    await eventually(driver, 'the report', async () => (await pageText(1)).includes('Encosta Sul'));
    expect(await officeSays('The report has')).toBeTruthy();
    expect(await driver.findElements(By.xpath('//button[normalize-space()="Edit report"]'))).toHaveLength(0);
    // Nor are the others offered.
    await driver.executeScript(`parent.postMessage({}, '*')`);
    await (await find(driver, 'nav button:nth-child(2)')).click();
    const offered = await eventually(driver, 'the choices', async () => {
      const options = await driver.findElements(By.css('[role="option"]'));
      return options.length > 1 && Promise.all(options.map((option) => option.getText()));
    });
    expect(offered).toEqual(['all regions', 'Encosta Sul']);
  });

  it('refuses a frame whose host gives no token, and says so to the host', async () => {
    await driver.switchTo().defaultContent();
    await driver.get(`${servers.office}/?as=ines&report=season-ledger`);
    await find(driver, 'iframe');
    await driver.executeScript(`
      const element = document.querySelector('gaveta-viewer');
      element.fetchToken = () => Promise.reject(new Error('The office is closed.'));
      element.setAttribute('report', 'warden-roster');`);
    await eventually(driver, 'the refusal', async () =>
      (await textOf(driver, '#said')).includes('The office is closed.'),
    );
  });

  it('says what is missing when a report is not there', async () => {
    await driver.get(`${servers.office}/?as=ines&report=no-such-report`);
    await officeSays('There is no report “no-such-report”.');
    await eventually(driver, 'the reason', async () => (await textOf(driver, 'main')).includes('There is no report'));
  });
});
