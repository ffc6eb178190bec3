import { writeFileSync } from 'node:fs';
import { By, eventually, find, openBrowser } from './browser.ts';
import { startServers } from './servers.ts';

const s = await startServers();
const { driver } = await openBrowser();
try {
  await driver.get(`${s.gaveta}/demo/sign-in`);
  const shot = async (name: string) => writeFileSync(`/tmp/shot-${name}.png`, await driver.takeScreenshot(), 'base64');
  const state = () =>
    driver.executeScript<string>(`return document.querySelector('[data-testid="rows-state"]')?.textContent ?? ''`);
  await driver.get(`${s.gaveta}/data`);
  await find(driver, '.react-flow__node');
  await driver.sleep(800);
  await shot('map');
  await driver.get(`${s.gaveta}/data/tables/cumeeira/stay`);
  await eventually(driver, 'rows', async () => (await state()).includes('rows in'));
  await driver.sleep(1200);
  await shot('table');
  await driver.get(`${s.gaveta}/data/recipes/nights-by-hut-and-month`);
  await eventually(driver, 'rows', async () => (await state()).includes('rows in'));
  await (await find(driver, '[data-step="3"] button')).click();
  await driver.sleep(1500);
  await shot('recipe');
  await driver.get(`${s.gaveta}/data/connections/new`);
  await (await find(driver, 'main button')).click();
  await driver.sleep(300);
  await shot('connection');
  await driver.get(`${s.gaveta}/reports/ridge-weather`);
  await eventually(driver, 'page', async () => (await driver.findElements(By.css('[data-page="1"] text'))).length > 3);
  await (await find(driver, 'nav button:nth-child(3)')).click();
  await find(driver, '[role="option"]');
  await driver.sleep(300);
  await shot('chips');
  const logs = await driver.manage().logs().get('browser');
  for (const l of logs) console.log(l.level.name, l.message.slice(0, 300));
} finally {
  await driver.quit();
  await s.close();
}
process.exit(0);
