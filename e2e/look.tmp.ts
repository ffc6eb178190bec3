import { writeFileSync } from 'node:fs';
import { By, button, eventually, find, Key, openBrowser, press } from './browser.ts';
import { startServers } from './servers.ts';

const servers = await startServers();
const { driver } = await openBrowser();
const shot = async (name: string) => writeFileSync(`/tmp/shots/${name}.png`, await driver.takeScreenshot(), 'base64');
try {
  await driver.get(`${servers.gaveta}/demo/sign-in`);
  const steps = await import(process.argv[2]!);
  await steps.default({ driver, servers, shot, By, Key, find, press, eventually, button });
} catch (e) {
  console.error(e);
  await shot('failure');
} finally {
  const logs = await driver
    .manage()
    .logs()
    .get('browser')
    .catch(() => []);
  for (const l of logs.slice(-12)) console.log(l.level.name, l.message.slice(0, 400));
  await driver.quit();
  await servers.close();
}
process.exit(0);
