import { expect, it } from 'vitest';
import { By, button, eventually, find, textOf } from './browser.ts';
import { driver, servers, useSession } from './session.ts';

useSession();

const open = (place: string) => driver.get(`${servers.gaveta}/embedding/${place}`);

/** Does something inside the frame of the element that is tried. */
const inFrame = async <T>(what: () => Promise<T>): Promise<T> => {
  await driver.switchTo().frame(await find(driver, '[aria-label="The element"] iframe'));
  try {
    return await what();
  } finally {
    await driver.switchTo().defaultContent();
  }
};

const check = async (label: string): Promise<void> => {
  await driver.findElement(By.xpath(`//form//label[normalize-space()="${label}"]/input`)).click();
};

const code = (): Promise<string> => textOf(driver, 'figure pre');

it('says what is registered and what is missing, and holds the models against their databases', async () => {
  await driver.get(servers.gaveta);
  await (await button(driver, 'Embedding')).click();
  await eventually(driver, 'the models', async () => (await textOf(driver, 'main')).includes('Cumeeira huts'));
  expect(await textOf(driver, '[aria-label="What is missing"]')).toContain('authorize: (caller, action, report)');
  await (await button(driver, 'Check now')).click();
  await eventually(driver, 'what was found', async () => (await textOf(driver, 'main')).includes('Everything fits.'));
});

it('tries an element with its parts, look and rights, and gives the code of what is tried', async () => {
  await open('playground');
  await inFrame(async () => {
    await button(driver, 'Print');
    // The token has the right “view” alone.
    expect(await driver.findElements(By.xpath('//button[normalize-space()="Edit report"]'))).toEqual([]);
  });
  await check('print');
  await inFrame(() =>
    eventually(driver, 'no printing', async () => {
      const found = await driver.findElements(By.xpath('//button[normalize-space()="Print"]'));
      return found.length === 0;
    }),
  );
  await driver.findElement(By.xpath('//form//label[normalize-space()="action"]/input')).sendKeys('#225588');
  await inFrame(() =>
    eventually(driver, 'the colour', async () => {
      const shown = await (await button(driver, 'Export')).getCssValue('background-color');
      return shown.replaceAll(' ', '').includes('34,85,136');
    }),
  );
  expect(await code()).toContain('hide="print"');
  expect(await code()).toContain('--gaveta-action: #225588');
  await check('design');
  await inFrame(() => button(driver, 'Edit report'));
  await (await button(driver, 'React')).click();
  expect(await code()).toContain("hide={['print']}");
  await (await button(driver, 'Server')).click();
  expect(await code()).toContain("rights: ['view', 'design'],");
  await driver.findElement(By.xpath('//button[starts-with(normalize-space(), "Events")]')).click();
  await eventually(driver, 'the events', async () => (await textOf(driver, 'ol')).includes('run-ended'));
});

it('looks into a token without sending it', async () => {
  await open('token');
  const text = await find(driver, 'textarea');
  await driver.executeScript('performance.clearResourceTimings()');
  const part = (value: object): string => Buffer.from(JSON.stringify(value)).toString('base64url');
  const content = { sub: 'Inês', aud: 'gaveta', exp: 1_700_000_000, rights: ['veiw'], claims: { region: 2 } };
  await text.sendKeys(`${part({ alg: 'HS256' })}.${part(content)}.c2ln`);
  await eventually(driver, 'what it says', async () => (await textOf(driver, 'main')).includes('Inês'));
  const said = await textOf(driver, 'main');
  expect(said).toContain('“veiw” is not a right. There are: view, design');
  expect(said).toContain('It has expired.');
  expect(said).toContain('region = 2');
  expect(await driver.executeScript('return performance.getEntriesByType("resource").length')).toBe(0);
  await text.clear();
  await text.sendKeys('not a token');
  await eventually(driver, 'that it is none', async () => (await textOf(driver, '[role=alert]')).includes('no token'));
});

it('shows the last errors of the log', async () => {
  await driver.executeAsyncScript(
    `fetch('api/session', { headers: { Authorization: 'Bearer ' + 'x.y.z' } }).then(() => arguments[0]())`,
  );
  await open('errors');
  await eventually(driver, 'the error', async () => (await textOf(driver, 'main')).includes('no JSON Web Token'));
});
