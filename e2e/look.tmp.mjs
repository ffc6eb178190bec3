import { mkdtempSync, writeFileSync } from 'node:fs';
import { Builder, By } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

const o = new chrome.Options()
  .setChromeBinaryPath('/usr/bin/chromium')
  .addArguments(
    '--headless=new',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--window-size=1280,887',
    `--user-data-dir=${mkdtempSync('/tmp/prof')}`,
  );
const d = await new Builder()
  .forBrowser('chrome')
  .setChromeOptions(o)
  .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
  .build();
try {
  const steps = process.argv.slice(2);
  for (const s of steps) {
    const i = s.indexOf(':');
    const k = s.slice(0, i),
      v = s.slice(i + 1);
    if (k === 'go') await d.get(v);
    else if (k === 'wait') await d.sleep(+v);
    else if (k === 'shot') writeFileSync(v, await d.takeScreenshot(), 'base64');
    else if (k === 'click') await d.findElement(By.css(v)).click();
    else if (k === 'js') console.log(await d.executeScript(v));
    else if (k === 'frame') await d.switchTo().frame(await d.findElement(By.css(v)));
    else if (k === 'log') {
      for (const e of await d.manage().logs().get('browser')) console.log(e.level.name, e.message.slice(0, 300));
    }
  }
} finally {
  await d.quit();
}
