import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { strFromU8, unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, textOf } from './browser.ts';
import { chooseFormat, exportAs, openFormats } from './parts.ts';
import { choose, downloads, driver, useSession, visit } from './session.ts';

useSession();

const downloaded = async (name: string): Promise<Buffer> => {
  const file = join(downloads, name);
  await eventually(driver, name, async () => existsSync(file) && !existsSync(`${file}.crdownload`));
  return readFileSync(file);
};

const FILES = [
  ['pdf', 'Warden roster.pdf', '%PDF-'],
  ['pages', 'Warden roster.html', '<!doctype html>'],
  ['svg', 'Warden roster.zip', 'PK'],
  ['tiff', 'Warden roster.tif', 'II*'],
  ['xlsx', 'Warden roster.xlsx', 'PK'],
  ['ods', 'Warden roster.ods', 'PK'],
  ['docx', 'Warden roster.docx', 'PK'],
  ['odt', 'Warden roster.odt', 'PK'],
  ['pptx', 'Warden roster.pptx', 'PK'],
  ['html', 'Warden roster (1).html', '<!doctype html>'],
  ['markdown', 'Warden roster.md', '**Warden'],
  ['text', 'Warden roster.txt', 'Warden roster'],
  ['csv', 'Warden roster.csv', '\u00ef\u00bb\u00bf'],
  ['ods-data', 'Warden roster (1).ods', 'PK'],
  ['tsv', 'Warden roster.tsv', '\u00ef\u00bb\u00bf'],
  ['json', 'Warden roster.json', '{"'],
  ['xml', 'Warden roster.xml', '<?xml'],
] as const;

describe('exporting', () => {
  it('gives a file in each format, which is what it says it is', async () => {
    await visit('/reports/warden-roster');
    for (const [format, name, start] of FILES) {
      await exportAs(format);
      const file = await downloaded(name);
      expect(file.subarray(0, start.length).toString('latin1'), format).toBe(start);
    }
    const names = readdirSync(downloads);
    for (const [, name] of FILES) expect(names).toContain(name);
  });

  it('is offered by the designer, for what is on the board', async () => {
    await visit('/reports/warden-roster/design');
    await (await button(driver, 'Run and export')).click();
    await find(driver, '.panel [data-output="xlsx"]');
    expect(await driver.getCurrentUrl()).toMatch(/\/reports\/warden-roster$/);
    await press(driver, Key.ESCAPE);
    await eventually(driver, 'the pages alone', async () => (await driver.findElements(By.css('.panel'))).length === 0);
  });

  it('takes options, says what is wrong with them, and remembers them', async () => {
    await visit('/reports/warden-roster');
    await chooseFormat('jpeg');
    const box = async (label: string, value: string): Promise<void> => {
      await (await find(driver, `.panel input[aria-label="${label}"]`)).sendKeys(Key.chord(Key.CONTROL, 'a'), value);
    };
    await box('From page', '2');
    await box('To page', '1');
    await (await find(driver, '[data-testid="export-start"]')).click();
    await eventually(driver, 'what is wrong', async () =>
      (await textOf(driver, '.panel [role="alert"]')).includes('“from” comes after “to”'),
    );
    await box('From page', '1');
    await box('To page', '1');
    await box('Resolution (dpi)', '40');
    await (await find(driver, '[data-testid="export-start"]')).click();
    const picture = await downloaded('Warden roster.jpg');
    expect(picture.subarray(0, 2)).toEqual(Buffer.from([0xff, 0xd8]));
    await visit('/reports/warden-roster');
    await openFormats();
    const dpi = await find(driver, '.panel input[aria-label="Resolution (dpi)"]');
    expect(await dpi.getAttribute('value')).toBe('40');
    // Pages are those of one report.
    expect(await (await find(driver, '.panel input[aria-label="From page"]')).getAttribute('value')).toBe('');
    await (await find(driver, '[data-output="csv"]')).click();
    await choose('First line', 'field names', '.panel');
    await (await find(driver, '[data-testid="export-start"]')).click();
    await eventually(
      driver,
      'the panel closed',
      async () => (await driver.findElements(By.css('.panel'))).length === 0,
    );
    const again = join(downloads, 'Warden roster (1).csv');
    await eventually(driver, 'the second file', async () => existsSync(again));
    expect(readFileSync(again, 'utf8')).toContain('region_name');
  });

  it('can be given up half way: there is no file, and nothing is being made', async () => {
    await visit('/reports/season-ledger');
    await exportAs('png');
    await eventually(driver, 'pages that are done', async () =>
      /^[1-9]\d* of \d+ pages$/.test(await textOf(driver, '[data-testid="export-progress"]')),
    );
    await (await button(driver, 'Cancel')).click();
    await find(driver, '[data-testid="export-start"]');
    const run = await driver.executeScript<string>(
      `return performance.getEntriesByType('resource').map(({ name }) => /runs\\/([0-9a-f-]{36})\\/files/.exec(name)?.[1]).findLast(Boolean)`,
    );
    await eventually(driver, 'nothing being made', async () =>
      driver.executeScript<boolean>(
        `return fetch('/api/runs/${run}/files').then((answer) => answer.json()).then((made) => made.length === 0)`,
      ),
    );
    const names = existsSync(downloads) ? readdirSync(downloads) : [];
    expect(names.filter((name) => name.startsWith('Season ledger'))).toEqual([]);
  });

  it('gives several at once under a name of one’s own, and remembers both', async () => {
    await visit('/reports/nights-matrix?season=2025');
    await openFormats();
    await (await find(driver, '[data-output="pdf"]')).click();
    await (await find(driver, '.panel input[placeholder="{report}"]')).sendKeys('{report} {sason}');
    await eventually(driver, 'what is wrong with the name', async () =>
      (await textOf(driver, '.panel [role="alert"]')).includes('sason'),
    );
    const name = await find(driver, '.panel input[placeholder="{report}"]');
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), Key.BACK_SPACE);
    await (await button(driver, '{season}')).click();
    await (await driver.findElement(By.xpath('//label[contains(., "Several formats at once")]'))).click();
    await (await find(driver, '.panel input[aria-label="CSV"]')).click();
    await (await button(driver, 'Export 2 formats')).click();
    const zip = await downloaded('Nights matrix 2025.zip');
    const held = Object.entries(unzipSync(zip)).map(([entry, data]) => `${entry} ${strFromU8(data.subarray(0, 5))}`);
    expect(held).toEqual([
      expect.stringContaining('Nights matrix 2025.pdf %PDF-'),
      expect.stringMatching(/^Nights matrix 2025\.csv /),
    ]);
    await visit('/reports/warden-roster');
    await openFormats();
    await eventually(driver, 'what was chosen before', async () =>
      (await textOf(driver, '.panel')).includes('Export 2 formats'),
    );
    await (await driver.findElement(By.xpath('//label[contains(., "Several formats at once")]'))).click();
    // The name is of a parameter that this report does not have.
    expect(await textOf(driver, '.panel [role="alert"]')).toContain('season');
    await (await find(driver, '.panel input[placeholder="{report}"]')).sendKeys(
      Key.chord(Key.CONTROL, 'a'),
      '{report} again',
    );
    await (await find(driver, '[data-output="pdf"]')).click();
    await (await find(driver, '[data-testid="export-start"]')).click();
    await downloaded('Warden roster again.pdf');
  });
});
