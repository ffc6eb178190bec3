import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { strToU8, zipSync } from 'fflate';
import { expect, it } from 'vitest';
import { By, button, eventually, find, Key, press, textOf, type WebElement } from './browser.ts';
import { chooseFor, isDone } from './parts.ts';
import { downloads, driver, saveState, servers, store, useSession, visit } from './session.ts';

useSession({ alone: true, firstPages: true });

const signIn = (as: string): Promise<void> => driver.get(`${servers.gaveta}/demo/sign-in?as=${as}`);
const names = (): Promise<string[]> =>
  driver.executeScript<string[]>(
    `return [...document.querySelectorAll('main [data-thing] a')].map((a) => a.textContent)`,
  );
const namesAre = (what: string, fits: (found: string[]) => boolean): Promise<string[]> =>
  eventually(driver, what, async () => {
    const found = await names();
    return fits(found) && found;
  }) as Promise<string[]>;
const place = async (label: string): Promise<WebElement> =>
  driver.findElement(By.xpath(`//nav//button[span[normalize-space()="${label}"]]`));
/** Goes to a place of the left column. */
const goTo = async (label: string): Promise<void> => {
  await eventually(driver, label, async () => {
    await (await place(label)).click();
    return true;
  });
  await eventually(
    driver,
    `${label}, opened`,
    async () => (await (await place(label)).getAttribute('aria-current')) === 'page',
  );
};
const inAside = (css: string): Promise<WebElement> => find(driver, `aside ${css}`);
const choose = async (label: string, choice: string): Promise<void> => {
  await (await find(driver, `[role="combobox"][aria-label="${label}"]`)).click();
  await (await driver.findElement(By.xpath(`//*[@role="option"][normalize-space()="${choice}"]`))).click();
};
const newFolder = async (name: string): Promise<void> => {
  await (await button(driver, 'New folder')).click();
  await (await find(driver, 'nav input')).sendKeys(name, Key.ENTER);
  await eventually(
    driver,
    name,
    async () => (await driver.findElements(By.xpath(`//nav//button[span="${name}"]`))).length === 1,
  );
};
const text = (words: string, name: string) => ({
  ...{ gaveta: 2, name },
  header: { height: 20, items: [{ kind: 'text', id: 't', x: 0, y: 0, width: 100, height: 10, content: [words] }] },
});
const moveTo = async (id: string, folder: string): Promise<void> => {
  await driver.executeScript(
    `await fetch('/api/library/' + arguments[0], { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ folder: arguments[1] }) })`,
    id,
    folder,
  );
};
const folderId = async (): Promise<string> => new URL(await driver.getCurrentUrl()).searchParams.get('folder')!;

it('keeps a new report in a folder with a note, and shows its first page', async () => {
  await visit('/');
  await newFolder('Summer fair');
  await goTo('Summer fair');
  await (await button(driver, 'New report')).click();
  await (await find(driver, '[data-testid="start"] button:nth-of-type(2)')).click();
  await (await find(driver, '[data-testid="board"]')).sendKeys('/');
  await (await find(driver, '[cmdk-input]')).sendKeys('courses', Key.ENTER);
  await (await find(driver, '[data-field$=":title"]')).sendKeys(Key.ENTER);
  await press(driver, Key.CONTROL, 's');
  await (await find(driver, 'input[placeholder="Stays by hut and month"]')).sendKeys('Courses at the fair');
  // The folder that was looked into last is offered.
  expect(await textOf(driver, '.panel button[aria-label^="Folder"]')).toBe('Summer fair');
  await (await find(driver, '.panel textarea')).sendKeys('For the stand');
  await (await find(driver, '.panel button[type="submit"]')).click();
  await saveState('Saved, revision 1');
  await (await button(driver, 'Reports')).click();
  await goTo('Summer fair');
  await namesAre('the report', (found) => found.length === 1 && found[0] === 'Courses at the fair');
  await (await find(driver, '[data-thing]')).click();
  expect(await (await inAside('textarea')).getAttribute('value')).toBe('For the stand');
  expect(await find(driver, '[data-thing] [data-picture="ready"] img')).toBeTruthy();
});

it('lets a group in and nobody else, and says so', async () => {
  await visit('/');
  await goTo('Summer fair');
  await (await button(driver, 'About this folder')).click();
  await (await inAside('input[type="checkbox"]')).click();
  await eventually(
    driver,
    'nothing from around',
    async () => !(await textOf(driver, 'aside')).includes('From the folder'),
  );
  await (await button(driver, 'Add people')).click();
  await (await inAside('input[aria-label="Name of the group"]')).sendKeys('regional leads');
  await (await inAside('button[type="submit"]')).click();
  await eventually(driver, 'the group', async () => (await textOf(driver, 'aside')).includes('regional leads'));
  await signIn('lead');
  await visit('/');
  await namesAre('the report of the fair', (found) => found.includes('Courses at the fair'));
  await goTo('Summer fair');
  await signIn('auditor');
  await visit('/');
  const others = await namesAre('reports of others', (found) => found.length > 5);
  expect(others).not.toContain('Courses at the fair');
  expect(await textOf(driver, 'nav')).not.toContain('Summer fair');
  await (await find(driver, 'input[type="search"]')).sendKeys('courses at the fair');
  await eventually(driver, 'nothing found', async () => (await textOf(driver, 'main')).includes('No reports match'));
  await signIn('office');
});

it('shows readers what is published while makers go on, compares, publishes, and takes back', async () => {
  await visit('/');
  await newFolder('Price lists');
  await goTo('Price lists');
  await (await button(driver, 'About this folder')).click();
  await choose('For readers', 'Published by hand');
  await eventually(driver, 'the way of publishing', async () =>
    (await textOf(driver, 'aside')).includes('Published by hand'),
  );
  const folder = await folderId();
  const id = await store(text('Prices of spring', 'Price list'));
  await moveTo(id, folder);
  const save = (definition: object, base: number) =>
    driver.executeScript(
      `await fetch('/api/reports/' + arguments[0], { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ definition: arguments[1], base: arguments[2] }) })`,
      id,
      definition,
      base,
    );
  await save(text('Prices of summer', 'Price list'), 1);
  const shown = async (): Promise<string> => {
    await driver.get(`${servers.gaveta}/reports/${id}`);
    await isDone();
    return textOf(driver, 'main [data-page="1"]');
  };
  expect(await shown()).toContain('spring');
  await (await find(driver, '[data-which="published"]')).click();
  await eventually(driver, 'the newest', async () => (await textOf(driver, 'main')).includes('summer'));
  await signIn('auditor');
  expect(await shown()).toContain('spring');
  expect(await driver.findElements(By.css('[data-which]'))).toEqual([]);
  await signIn('office');
  await visit(`/reports/${id}/revisions?older=1`);
  await eventually(driver, 'what changed', async () => (await textOf(driver, '[data-testid="changes"]')) !== '');
  for (const side of ['left', 'right']) await find(driver, `section[aria-label$="${side}"] [data-differs="changed"]`);
  await eventually(driver, 'how many places', async () =>
    (await textOf(driver, '[data-testid="differences"]')).includes('1 place differs'),
  );
  expect(await textOf(driver, '[data-testid="compared"]')).toContain('Pages');
  await (await find(driver, 'input[aria-label="Note for this publication"]')).sendKeys('For the summer');
  await (await button(driver, 'Publish revision 2')).click();
  await eventually(driver, 'published', async () =>
    (await textOf(driver, 'main')).includes('Readers see revision 2, the newest'),
  );
  await signIn('auditor');
  expect(await shown()).toContain('summer');
  await signIn('office');
  await visit(`/reports/${id}/revisions`);
  await (await button(driver, 'Take back')).click();
  await (await find(driver, '[role="alertdialog"] button:last-of-type')).click();
  await eventually(driver, 'taken back', async () => (await textOf(driver, 'main')).includes('Readers do not see it'));
  await signIn('auditor');
  await driver.get(`${servers.gaveta}/reports/${id}`);
  await eventually(driver, 'nothing', async () => (await textOf(driver, 'body')).includes('There is no report'));
  await signIn('office');
});

it('puts things in order by mouse and by keyboard, and undoes it', async () => {
  await store(text('one', 'Tidied up'));
  await visit('/');
  await newFolder('Archive');
  await namesAre('it', (found) => found.includes('Tidied up'));
  const tile = await driver.findElement(By.xpath('//main//*[@data-thing][.//span[normalize-space()="Tidied up"]]'));
  const to = await place('Archive');
  const drag = driver.actions().move({ origin: tile }).press().move({ origin: tile, x: 20, y: 8 });
  await drag.move({ origin: to }).release().perform();
  await eventually(driver, 'moved', async () =>
    (await textOf(driver, 'main')).includes('“Tidied up” was moved to Archive.'),
  );
  await goTo('Archive');
  await namesAre('in the folder', (found) => found[0] === 'Tidied up');
  await (await button(driver, 'Undo')).click();
  await namesAre('an empty folder', (found) => found.length === 0);
  await goTo('All');
  await (await find(driver, 'input[type="search"]')).sendKeys('tid');
  await namesAre('what was found', (found) => found.length === 1);
  await (await find(driver, '[data-thing]')).click();
  await press(driver, Key.F2);
  await (await find(driver, 'aside input[aria-label="Name"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Tidy', Key.ENTER);
  await namesAre('another name', (found) => found[0] === 'Tidy');
  await chooseFor('Tidy', 'Star');
  await chooseFor('Tidy', 'Duplicate');
  await namesAre('a copy', (found) => found.length === 2);
  await goTo('Starred');
  await namesAre('starred', (found) => found.length === 1 && found[0] === 'Tidy');
  await (await find(driver, '[data-thing]')).sendKeys(Key.DELETE);
  await eventually(driver, 'deleted', async () => (await names()).length === 0);
  await goTo('Bin');
  await (await button(driver, 'Restore Tidy')).click();
  await goTo('Starred');
  await namesAre('back', (found) => found[0] === 'Tidy');
});

it('shares a report by a link that opens without signing in, until it is revoked, and keeps a record of it', async () => {
  await driver.get(`${servers.gaveta}/reports/inspection-watchlist`);
  await isDone();
  await (await button(driver, 'More')).click();
  await (await driver.findElement(By.xpath('//*[@role="menuitem"][normalize-space()="Share …"]'))).click();
  await (await inAside('input[aria-label="Who it is for"]')).sendKeys('The mountain rescue', Key.ENTER);
  const address = (await (await inAside('[data-link] input')).getAttribute('value'))!;
  expect(address).toContain('/shared/inspection-watchlist#');
  await driver.manage().deleteAllCookies();
  await driver.get(address);
  await isDone();
  expect(await textOf(driver, 'main [data-page="1"]')).toContain('Inspection watchlist');
  // Nothing but what the link is for.
  expect(await driver.findElements(By.xpath('//button[normalize-space()="Edit report"]'))).toEqual([]);
  expect(await driver.executeScript(`return (await fetch('/api/library')).status`)).toBe(401);
  await signIn('office');
  await driver.get(`${servers.gaveta}/reports/inspection-watchlist`);
  await isDone();
  await (await button(driver, 'More')).click();
  await (await driver.findElement(By.xpath('//*[@role="menuitem"][normalize-space()="Share …"]'))).click();
  await eventually(driver, 'that it was opened', async () => (await textOf(driver, 'aside')).includes('opened once'));
  await (await button(driver, 'Revoke the link for The mountain rescue')).click();
  await eventually(driver, 'revoked', async () => (await textOf(driver, 'aside')).includes('revoked'));
  await driver.get('about:blank');
  await driver.get(address);
  await eventually(driver, 'its end', async () => (await textOf(driver, 'body')).includes('This link has ended'));
  await driver.get(servers.gaveta);
  await (await find(driver, 'header a[href$="/record"]')).click();
  await find(driver, '[data-act="unshared"]');
  await choose('Did', 'shared by a link');
  await eventually(driver, 'what was shared', async () =>
    (await textOf(driver, 'main tbody')).includes('label: The mountain rescue'),
  );
});

it('brings in a folder from a zip, after showing what it would change', async () => {
  mkdirSync(downloads, { recursive: true });
  const zip = join(downloads, 'brought.zip');
  writeFileSync(
    zip,
    zipSync({
      'folder.json': strToU8(JSON.stringify({ name: 'Elsewhere' })),
      'Fairs/folder.json': strToU8(JSON.stringify({ name: 'Fairs', things: { fair: { note: 'Brought along' } } })),
      'Fairs/fair.report.json': strToU8(JSON.stringify(text('Stands', 'Fair stands'))),
      'Fairs/broken.report.json': strToU8('{"gaveta":2}'),
    }),
  );
  await visit('/');
  await newFolder('Brought in');
  await goTo('Brought in');
  await (await button(driver, 'About this folder')).click();
  await (await inAside('input[type="file"]')).sendKeys(zip);
  const plan = await eventually(driver, 'the plan', async () => {
    const found = await textOf(driver, '[data-testid="zip-plan"]');
    return found.includes('This would happen') && found;
  });
  expect(plan).toContain('add Fair stands');
  expect(plan).toContain('refused');
  await (
    await driver.findElement(By.xpath('//*[@data-testid="zip-plan"]//button[normalize-space()="Import"]'))
  ).click();
  await eventually(driver, 'that it was done', async () =>
    (await textOf(driver, '[data-testid="zip-plan"]')).includes('This was done'),
  );
  await eventually(driver, 'the folder that was brought', async () => {
    await (
      await driver.findElement(By.xpath('//main//ul[@aria-label="Folders"]//button[contains(., "Fairs")]'))
    ).click();
    return true;
  });
  await namesAre('what was brought', (found) => found[0] === 'Fair stands');
  await eventually(driver, 'its details', async () => {
    await (await find(driver, '[data-thing]')).click();
    return true;
  });
  await eventually(
    driver,
    'its note',
    async () => (await (await inAside('textarea')).getAttribute('value')) === 'Brought along',
  );
});
