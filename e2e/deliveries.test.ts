import { execFileSync } from 'node:child_process';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, it } from 'vitest';
import { By, button, eventually, find, Key, textOf } from './browser.ts';
import { choose, downloads, driver, useSession, visit } from './session.ts';

useSession({ alone: true });

const says = (what: string, css: string, words: string): Promise<boolean> =>
  eventually(driver, what, async () => (await textOf(driver, css)).includes(words)) as Promise<boolean>;
const count = async (css: string): Promise<number> => (await driver.findElements(By.css(css))).length;
const pressText = async (what: string, tag = 'button'): Promise<void> => {
  await eventually(driver, what, async () => {
    await (await driver.findElement(By.xpath(`//${tag}[normalize-space()="${what}"]`))).click();
    return true;
  });
};
const write = async (label: string, words: string): Promise<void> => {
  await (await find(driver, `[aria-label="${label}"]`)).sendKeys(Key.chord(Key.CONTROL, 'a'), words);
};
/** Saves, lets it go, and waits until it is over. */
const saveAndRun = async (outcome: string): Promise<void> => {
  await (await find(driver, 'form button[type="submit"]')).click();
  await eventually(driver, 'the delivery', async () => (await textOf(driver, 'main h2')) !== '');
  await pressText('Run now');
  await eventually(driver, outcome, async () => (await count(`[data-run] > button [data-outcome="${outcome}"]`)) > 0);
};
/** The words of a PDF that the page can fetch. */
const pdfAt = async (path: string): Promise<string> => {
  const base64 = await driver.executeScript<string>(
    `const bytes = new Uint8Array(await (await fetch('/api' + arguments[0])).arrayBuffer());
     let text = '';
     for (const byte of bytes) text += String.fromCharCode(byte);
     return btoa(text);`,
    path,
  );
  mkdirSync(downloads, { recursive: true });
  const file = join(downloads, 'delivered.pdf');
  writeFileSync(file, base64, 'base64');
  return execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8', maxBuffer: 50_000_000 });
};

it('sends each region its part, whose mail is opened in the outbox and has the rows of that region alone', async () => {
  await visit('/');
  await (await find(driver, 'main input[type="search"]')).sendKeys('Season');
  // The list is drawn anew when what was typed has been looked for.
  await eventually(driver, 'its menu', async () => {
    await (await driver.findElement(By.css('button[aria-label="What to do with Season ledger"]'))).click();
    await (await driver.findElement(By.xpath('//*[@role="menuitem"][normalize-space()="Deliver …"]'))).click();
    return true;
  });
  await says('the next ten times', '[data-testid="next-times"]', ':');
  await pressText('Each row gets a part of its own', 'label');
  await choose('Each of', 'Regions');
  await says('how many', 'main', '4 parts');
  await choose('How Region is set', 'A formula');
  await says('the first of them', 'aside', 'The first of 4 parts');
  await write('Subject', 'The ledger of {name}');
  await says('its words', 'aside', 'The ledger of Alto Norte');
  await saveAndRun('done');
  await eventually(driver, 'all four', async () => (await count('[data-part="done"]')) === 4);

  await pressText('Outbox', 'a');
  await eventually(driver, 'four mails', async () => (await count('ul[aria-label="Outbox"] li')) === 4);
  const regions = ['Alto Norte', 'Encosta Sul', 'Ilha de Pedra', 'Vale Escuro'];
  for (const region of regions) {
    await (await driver.findElement(By.xpath(`//ul[@aria-label="Outbox"]//button[contains(., "${region}")]`))).click();
    await says(region, 'article h2', `The ledger of ${region}`);
    const mails = await driver.executeScript<{ id: string; subject: string }[]>(
      `return await (await fetch('/api/outbox')).json()`,
    );
    const { id } = mails.find(({ subject }) => subject.endsWith(region))!;
    const words = await pdfAt(`/outbox/${id}/attachments/0`);
    expect(words).toContain(region);
    for (const other of regions) if (other !== region) expect(words).not.toContain(other);
  }
  // The file opens in a tab of its own.
  const before = await driver.getAllWindowHandles();
  await (await find(driver, 'ul[aria-label="Attachments"] button')).click();
  await eventually(driver, 'the file', async () => (await driver.getAllWindowHandles()).length === before.length + 1);
  const opened = (await driver.getAllWindowHandles()).find((one) => !before.includes(one))!;
  await driver.switchTo().window(opened);
  await driver.close();
  await driver.switchTo().window(before[0]!);
});

it('has its times put in words, with the next ten of them', async () => {
  await visit('/deliveries/new');
  await choose('Report', 'Radio calls');
  await choose('Which days', 'A weekday of the month');
  await choose('Which one', 'second');
  await choose('Day of the week', 'Thursday');
  await choose('Which months', 'every quarter');
  await (await find(driver, '[aria-label="Add a time"]')).click();
  await says(
    'in words',
    'aside h2',
    'On the second Thursday of January, April, July, and October at 7:00 AM and 12:00 PM',
  );
  const times = (await textOf(driver, '[data-testid="next-times"]')).split('\n');
  expect(times).toHaveLength(10);
  expect(times.every((time) => /^Thu, (Jan|Apr|Jul|Oct) ([89]|1[0-4]), /.test(time))).toBe(true);
  await (await button(driver, 'Undo')).click();
  await says('undone', 'aside h2', 'October at 7:00 AM');
  await choose('It goes', 'On an event');
  await says('without times of its own', 'aside', 'When the event “season closed” comes');
});

it('shows what failed, is mended, and prints to the stand-in printer', async () => {
  await visit('/deliveries/new?report=radio-calls');
  await (await button(driver, 'Remove PDF')).click();
  await choose('Add a format', 'CSV');
  await pressText('Add a place');
  await pressText('Printer', '*[@role="menuitem"]');
  await (await button(driver, 'Remove: Mail')).click();
  await saveAndRun('failed');
  await says('why', '[data-run]', 'text/csv is not printed here');
  await pressText('Edit');
  await (await button(driver, 'Remove CSV')).click();
  await choose('Add a format', 'PDF');
  await saveAndRun('done');
  await pressText('Printer tray', 'a');
  await eventually(driver, 'the job', async () => (await count('[data-job]')) === 1);
  await says('it', '[data-job]', 'Radio calls');
  expect(await pdfAt('/printer-tray/1/document')).toContain('Radio calls');
});

it('keeps results as they were, and compares two of them', async () => {
  await visit('/deliveries/new?report=tariff-check');
  await pressText('Add a place');
  await pressText('Kept result', '*[@role="menuitem"]');
  await (await button(driver, 'Remove: Mail')).click();
  await saveAndRun('done');
  await pressText('Run now');
  await eventually(driver, 'two of them', async () => (await count('[data-run] > button [data-outcome="done"]')) === 2);
  await pressText('Kept results', 'a');
  await eventually(driver, 'both', async () => (await count('[data-kept]')) === 2);
  for (const box of await driver.findElements(By.css('[data-kept] input'))) await box.click();
  await pressText('Compare');
  await says('the same', '[data-testid="differences"]', '0 places');
  await eventually(driver, 'pages of both', async () => (await count('[data-page="1"]')) === 2);
  await visit('/kept');
  await (await find(driver, '[data-kept] a')).click();
  await says('its page', '[data-page="1"]', 'Tariff');
});

it('is paused, goes on, and is deleted after a question', async () => {
  await visit('/deliveries');
  await (await find(driver, '[data-delivery] a')).click();
  await pressText('Pause');
  await eventually(driver, 'paused', async () => (await count('[data-state="paused"]')) === 1);
  await pressText('Resume');
  await eventually(driver, 'on', async () => (await count('[data-state="on"]')) === 1);
  const name = await textOf(driver, 'main h2');
  await (await button(driver, 'More about this delivery')).click();
  await pressText('Delete', '*[@role="menuitem"]');
  await pressText('Delete', '*[@role="alertdialog"]//button');
  await eventually(driver, 'the list without it', async () => {
    const words = await textOf(driver, 'main');
    return words.includes('Last time') && !words.includes(name);
  });
});
