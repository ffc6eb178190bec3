import { describe, expect, it } from 'vitest';
import { By, eventually, find, Key, press, settled, textOf } from './browser.ts';
import { drop, openGroup, tags } from './parts.ts';
import { add, choose, driver, HUTS, liveHas, openNew, saveByKeys, select, useSession, visit } from './session.ts';

useSession();

const BLANK = { gaveta: 2, name: 'Nights', model: 'cumeeira', body: [], header: { height: 90, items: [] } };

/** The sentence that says the first figure of the live page. */
const said = (): Promise<string> =>
  driver.executeScript<string>(
    `return document.querySelector('.live-pages [role="img"]')?.getAttribute('aria-label') ?? ''`,
  );
const sayingOf = async (wanted: string): Promise<void> => {
  await eventually(driver, `“${wanted}”`, async () => (await said()).includes(wanted));
};

const type = async (label: string, text: string): Promise<void> => {
  const box = await find(driver, `[aria-label="${label}"] .cm-content, [aria-label="${label}"].cm-content`);
  await box.click();
  await driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).sendKeys(text).perform();
  await driver.actions().sendKeys(Key.ESCAPE, Key.TAB).perform();
};

const blankChart = async (): Promise<void> => {
  await openNew(BLANK);
  await (await find(driver, '[data-band="header"]')).click();
  await add('chart');
  await settled(driver);
  await openGroup('Stays');
};

describe('a chart', () => {
  it('is built from blank as a pie, each drop undone, and turned into other kinds by their pictures', async () => {
    await blankChart();
    await drop('cumeeira/stay:nights', 'measures');
    await drop('rows of stay:hut.region.name', 'along');
    await eventually(driver, 'both tags', async () => (await tags()).length === 2);
    expect(await tags()).toEqual(['measured sum of Nights', 'along Region: Name']);
    await sayingOf('Column chart of Nights: 4 values along its axis');
    await (await find(driver, '[data-type="pie"]')).click();
    await sayingOf('Pie chart of Nights');
    await liveHas('Alto Norte');
    // Each kind shows itself, drawn from the same rows.
    await find(driver, '[data-type="ring"] svg path');
    await press(driver, Key.CONTROL, 'z');
    await sayingOf('Column chart of Nights');
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'the axis to be empty', async () => (await tags()).length === 1);
    // By keyboard a field goes where it suits.
    await (await find(driver, '[data-field="rows of stay:arrival"]')).sendKeys(Key.ENTER);
    await eventually(driver, 'the axis', async () => (await tags())[1] === 'along Arrival, by month');
  });

  it('is built from blank as lines with a reference line, and mends what is wrong', async () => {
    await blankChart();
    await drop('cumeeira/stay:nights', 'measures');
    await drop('rows of stay:arrival', 'along');
    await drop('rows of stay:hut.region.name', 'split');
    await (await find(driver, '[data-type="line"]')).click();
    await sayingOf('Line chart of Nights');
    await sayingOf('series: Alto Norte');
    await (await driver.findElement(By.xpath('//button[normalize-space()="Add a line"]'))).click();
    await settled(driver);
    await type('Line at', 'SUM(nights) / 100');
    const caption = await find(driver, '[aria-label="Caption of the line"]');
    await caption.sendKeys('a hundredth', Key.TAB);
    await liveHas('a hundredth');
    // Turned into a pie, it has nothing below 0, and no problem.
    expect(await textOf(driver, 'header')).toContain('No problems');
  });

  it('takes a line over a second scale, and zones', async () => {
    await blankChart();
    await drop('cumeeira/stay:nights', 'measures');
    await drop('rows of stay:party_size', 'measures');
    await drop('rows of stay:hut.region.name', 'along');
    await sayingOf('series: Nights, Party');
    await (await find(driver, '[data-tag="measures-1"]')).click();
    await choose('Drawn as', 'a line');
    await (await driver.findElement(By.xpath('//label[normalize-space(.)="On a second scale"]//input'))).click();
    await press(driver, Key.ESCAPE);
    await eventually(
      driver,
      'the settings of the second scale',
      async () => (await driver.findElements(By.css('[data-section="secondScale"]'))).length === 1,
    );
    await (await driver.findElement(By.xpath('//button[normalize-space()="Add a zone"]'))).click();
    await settled(driver);
    await type('Zone from', '1000');
    await type('Zone to', '2000');
    const caption = await find(driver, '[aria-label="Caption of the zone"]');
    await caption.sendKeys('quiet', Key.TAB);
    await liveHas('quiet');
    expect(await textOf(driver, 'header')).toContain('No problems');
  });

  it('says what it cannot measure, and counts it instead with one press', async () => {
    await openNew({
      ...BLANK,
      header: {
        height: 60,
        items: [
          {
            kind: 'chart',
            id: 'c',
            x: 0,
            y: 0,
            width: 160,
            height: 55,
            rows: { entity: 'stay' },
            along: { name: 'status', by: 'status' },
            measures: [{ formula: 'MAX(status)' }],
          },
        ],
      },
    });
    await (await driver.findElement(By.xpath('//button[contains(., "1 problem")]'))).click();
    await (await driver.findElement(By.xpath('//button[normalize-space()="Count them instead"]'))).click();
    await sayingOf('Column chart');
    await eventually(driver, 'no problem', async () => (await textOf(driver, 'header')).includes('No problems'));
  });
});

describe('in the viewer', () => {
  it('pointing shows a value, and a press on the map cuts the table of the report, pressed again no more', async () => {
    await visit('/reports/board-day');
    const region = By.css('[data-page="1"] a[data-link] path[data-tip^="Encosta Sul"]');
    /** Pages may come anew while the run goes on. */
    const pointAt = async (): Promise<void> => {
      await eventually(driver, 'the value under the pointer', async () => {
        try {
          const path = await driver.findElement(region);
          await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', path);
          await driver.actions().move({ x: 1, y: 1 }).move({ origin: path }).perform();
          return /^Encosta Sul: [\d,]+$/.test(await textOf(driver, '[role="tooltip"]'));
        } catch {
          return false;
        }
      });
    };
    await pointAt();
    await driver.actions().click().perform();
    await eventually(driver, 'the address with the region', async () =>
      (await driver.getCurrentUrl()).includes('region_name=Encosta+Sul'),
    );
    const rows = (): Promise<string> =>
      driver.executeScript<string>(`return document.querySelector('[data-page="2"]')?.textContent ?? ''`);
    const toTable = async (): Promise<void> => {
      const second = await find(driver, '[data-page="2"]');
      await driver.executeScript('arguments[0].scrollIntoView()', second);
    };
    await toTable();
    await eventually(driver, 'the table of that region alone', async () => {
      const text = await rows();
      return text.includes('The huts: Encosta Sul') && text.includes('Cântaro Verde') && !text.includes('Alminhas');
    });
    await driver.executeScript(`document.querySelector('main').scrollTop = 0`);
    await pointAt();
    await driver.actions().click().perform();
    await eventually(
      driver,
      'the address without it',
      async () => !(await driver.getCurrentUrl()).includes('region_name'),
    );
    await toTable();
    await eventually(driver, 'all huts', async () => (await rows()).includes('Alminhas'));
  });

  it('a chart filters the rows of a drawer, which is one choice in the tray', async () => {
    const chart = {
      kind: 'chart',
      id: 'regions',
      x: 0,
      y: 0,
      width: 120,
      height: 50,
      type: 'bar',
      rows: { entity: 'stay' },
      along: { name: 'region', by: 'hut.region.name', caption: 'Region' },
      measures: [{ formula: 'SUM(nights)' }],
    };
    const id = await openNew({ ...HUTS, header: { height: 52, items: [chart] } });
    await liveHas('Alminhas');
    await select('regions');
    await choose('A press on a part of it', 'hut, by Region');
    await find(driver, '[data-section="on-press"] p');
    expect(await textOf(driver, '[data-section="on-press"]')).toContain('It filters hut, by Region.');
    // One step back takes the parameter and the filter along.
    await press(driver, Key.CONTROL, 'z');
    await eventually(
      driver,
      'nothing pressed',
      async () => !(await textOf(driver, '[data-section="on-press"]')).includes('It filters'),
    );
    await choose('A press on a part of it', 'hut, by Region');
    await saveByKeys();
    await visit(`/reports/${id}`);
    const bar = async (): Promise<void> => {
      await eventually(driver, 'the bar', async () => {
        try {
          await driver.findElement(By.css('[data-page="1"] a[data-link] [data-tip^="Ilha de Pedra"]')).click();
          return true;
        } catch {
          return false;
        }
      });
    };
    const pageHas = (words: string, isThere: boolean): Promise<boolean> =>
      eventually(driver, words, async () => (await textOf(driver, '[data-page="1"]')).includes(words) === isThere);
    await pageHas('Alminhas', true);
    await bar();
    await pageHas('Alminhas', false);
    expect(await driver.getCurrentUrl()).toContain('region=Ilha+de+Pedra');
    await bar();
    await pageHas('Alminhas', true);
  });

  it('the legend switches a series off and on, by keyboard too', async () => {
    await visit('/reports/board-day');
    const bars = (): Promise<number> =>
      driver.executeScript<number>(
        `return document.querySelectorAll('[data-page="1"] rect[data-item="months"][data-tip*=", 2024"]').length`,
      );
    await eventually(driver, 'both seasons', async () => (await bars()) > 3);
    const entry = (isOn: boolean): Promise<unknown> =>
      find(driver, `[data-page="1"] [role="switch"][aria-label="2024"][aria-checked="${isOn}"]`);
    await eventually(driver, 'the last page', async () =>
      / of /.test(await textOf(driver, '[data-testid="page-place"]')),
    );
    await entry(true);
    await driver.executeScript(
      `document.querySelector('[data-page="1"] [role="switch"][aria-label="2024"]').dispatchEvent(new MouseEvent('click', { bubbles: true }))`,
    );
    await entry(false);
    expect(await bars()).toBe(0);
    await driver.executeScript(`document.querySelector('[data-page="1"] [role="switch"][aria-label="2024"]').focus()`);
    await driver.actions().sendKeys(Key.ENTER).perform();
    await entry(true);
    expect(await bars()).toBeGreaterThan(3);
  });
});

describe('a gauge, a sparkline, a map', () => {
  it('take fields by dropping, and show them at once', async () => {
    await openNew(BLANK);
    await (await find(driver, '[data-band="header"]')).click();
    await add('gauge');
    await settled(driver);
    await openGroup('Stays');
    await drop('cumeeira/stay:nights', 'value');
    await eventually(driver, 'the gauge', async () => /^Nights: \d+$/.test(await said()));
    await (await find(driver, '[data-type="figure"]')).click();
    await eventually(driver, 'the big figure', async () => /^Nights: \d+$/.test(await said()));
    await openNew(BLANK);
    await (await find(driver, '[data-band="header"]')).click();
    await add('map');
    await settled(driver);
    await openGroup('Regions');
    await drop('cumeeira/region:name', 'along');
    await drop('rows of region:outline', 'shape');
    await drop('rows of region:hectares', 'measure');
    await liveHas('18,400');
    expect(await tags()).toEqual(['a place for each Name', 'shape Outline', 'measured sum of Hectares']);
  });
});
