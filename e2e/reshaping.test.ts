import { describe, expect, it } from 'vitest';
import { By, button, dragBy, eventually, find, Key, middleOf, press, settled, textOf } from './browser.ts';
import {
  add,
  choose,
  columnsOf,
  command,
  driver,
  HUTS,
  liveHas,
  liveSays,
  openNew,
  select,
  useSession,
  visit,
  write,
} from './session.ts';

useSession();

const openBlank = async (): Promise<void> => {
  await visit('/start');
  await (await find(driver, '[data-testid="start"] button:nth-of-type(2)')).click();
  await find(driver, '[data-testid="board"]');
};
const tray = (label: string) => find(driver, `[data-testid="settings"] [aria-label="${label}"]`);
const retype = async (label: string, words: string): Promise<void> =>
  (await tray(label)).sendKeys(Key.chord(Key.CONTROL, 'a'), words, Key.ENTER);
const pick = async (label: string, words: string): Promise<void> => {
  await (await button(driver, label)).click();
  await (await find(driver, '[cmdk-input]')).sendKeys(words, Key.ENTER);
};
const texts = (item: string): Promise<string[]> =>
  driver.executeScript<string[]>(
    `return [...document.querySelectorAll('.live-pages text[data-item="' + arguments[0] + '"]')].map((t) => t.textContent)`,
    item,
  );
const noProblems = () => button(driver, 'No problems');

/** Stays with their nights and arrivals. */
const STAYS = {
  gaveta: 2,
  name: 'Stays',
  model: 'cumeeira',
  body: [
    {
      id: 'stays',
      name: 'stay',
      rows: { entity: 'stay' },
      first: 300,
      sort: [{ by: 'arrival' }],
      calculated: [{ name: 'weeks', formula: 'nights / 7' }],
      detail: {
        height: 8,
        items: [
          { kind: 'field', id: 'arrival', x: 0, y: 1, width: 40, height: 5, formula: 'arrival' },
          { kind: 'field', id: 'nights', x: 50, y: 1, width: 30, height: 5, formula: 'weeks * 7' },
          { kind: 'field', id: 'at', x: 90, y: 1, width: 60, height: 5, formula: 'hut.name' },
        ],
      },
      footer: {
        height: 8,
        items: [{ kind: 'field', id: 'sum', x: 50, y: 1, width: 40, height: 5, formula: 'SUM(nights)' }],
      },
    },
  ],
};

describe('a blank report', () => {
  it('begins with a field that is dropped anywhere on the board, or with rows that are taken', async () => {
    await openBlank();
    await liveHas('Untitled report');
    await (await find(driver, '[data-testid="trays"] button[aria-expanded="false"]')).click();
    const field = await eventually(driver, 'its fields', () =>
      driver.findElement(By.css('[data-field="cumeeira/region:name"]')),
    );
    const from = await middleOf(field);
    const board = await (await find(driver, '[data-testid="board"]')).getRect();
    await dragBy(driver, field, Math.round(board.x + 300) - from.x, Math.round(board.y + 500) - from.y);
    await liveHas('Alto Norte');
    await liveHas('Name');
    await press(driver, Key.CONTROL, 'z');
    await pick('Take rows of …', 'wardens');
    await eventually(driver, 'the drawer', async () =>
      (await textOf(driver, '[data-drawer-line]')).includes('Wardens'),
    );
  });
});

describe('another name', () => {
  it('for a calculated field is taken over by every formula, refused when it is taken, and undone at once', async () => {
    await openNew(STAYS);
    const before = await texts('nights');
    expect(before.length).toBeGreaterThan(10);
    await (await button(driver, 'Stays: select the drawer Stay')).click();
    await retype('Name of calculated field 1', 'nights');
    await eventually(driver, 'the refusal', async () =>
      (await textOf(driver, '[data-testid="settings"] [role="alert"]')).includes('“nights” is taken already.'),
    );
    await retype('Name of calculated field 1', 'in weeks');
    await select('nights');
    await eventually(driver, 'the formula', async () =>
      (await textOf(driver, '[data-setting="formula"] .cm-content')).includes('in_weeks * 7'),
    );
    await noProblems();
    expect((await texts('nights')).slice(0, 10)).toEqual(before.slice(0, 10));
    await press(driver, Key.CONTROL, 'z');
    await select('nights');
    await eventually(driver, 'the formula before', async () =>
      (await textOf(driver, '[data-setting="formula"] .cm-content')).includes('weeks * 7'),
    );
  });
});

describe('groups and order', () => {
  it('go by years and then months of one date, with headings that suit', async () => {
    await openNew(STAYS);
    await (await button(driver, 'Stay: group')).click();
    await pick('Group by …', 'arrival');
    await choose('by_arrival: a group for', 'each year');
    await pick('Group by …', 'arrival');
    await choose('by_arrival2: a group for', 'each month');
    await press(driver, Key.ESCAPE);
    await liveSays('2024');
    await liveSays('February 2024');
    expect(await textOf(driver, '[data-drawer-line="stays"]')).toContain('year of arrival, then month of arrival');
    await noProblems();
  });

  it('go by fields of related rows and by formulas', async () => {
    await openNew(STAYS);
    await (await button(driver, 'Stay: oldest arrival first')).click();
    await (await button(driver, 'Remove')).click();
    await pick('Sort by …', 'hut name');
    const names = async (): Promise<string[]> => [...new Set(await texts('at'))];
    await eventually(driver, 'huts by name', async () => (await names())[0] === 'Alminhas');
    await (
      await driver.findElement(By.xpath('//*[@data-radix-popper-content-wrapper]//button[contains(., "a formula")]'))
    ).click();
    await write('a formula', 'nights * -1');
    await press(driver, Key.ESCAPE);
    await eventually(driver, 'the longest stays first', async () => {
      const nights = (await texts('nights')).slice(0, 10).map(Number);
      return nights.length === 10 && nights.every((n, i) => i === 0 || n <= nights[i - 1]!);
    });
    expect(await textOf(driver, '[data-drawer-line="stays"]')).toContain('by hut: name');
  });
});

describe('totals', () => {
  it('are chosen by what they are and by the rows that they count', async () => {
    const set = {
      ...STAYS.body[0]!,
      groups: [
        {
          name: 'at',
          by: 'hut.name',
          footer: {
            height: 7,
            items: [{ kind: 'field', id: 'part', x: 50, y: 1, width: 40, height: 5, formula: 'SUM(nights)' }],
          },
        },
      ],
    };
    await openNew({ ...STAYS, body: [set] });
    const shown = async (): Promise<number[]> => (await texts('part')).map((t) => Number(t.replace(/,/g, '')));
    const sums = await eventually(driver, 'sums', async () => {
      const all = await shown();
      return all.length > 1 && all;
    });
    await select('part');
    const formula = (words: string) =>
      eventually(driver, words, async () =>
        (await textOf(driver, '[data-setting="formula"] .cm-content')).includes(words),
      );
    await choose('Total', 'average');
    await formula('AVERAGE(nights)');
    await eventually(driver, 'means', async () => (await shown()).some((mean, i) => mean < sums[i]!));
    await choose('Total', 'sum');
    await formula('SUM(nights)');
    await choose('Rows counted', 'the whole report, its first 300 alone');
    await formula('SUM(nights; report)');
    const whole = await eventually(driver, 'the same everywhere', async () => {
      const all = new Set(await shown());
      return all.size === 1 && [...all][0]! > Math.max(...sums) && [...all];
    });
    // Stays of the first pages are among those of the whole.
    expect(whole[0]).toBeGreaterThanOrEqual(sums.reduce((a, b) => a + b, 0));
  });
});

describe('bands', () => {
  it('are moved by a command and copied from the menu of their name, and get higher by keys', async () => {
    await openNew(STAYS);
    const bands = (): Promise<string[]> =>
      driver.executeScript<string[]>(
        `return [...document.querySelectorAll('[data-testid="board"] [data-band]')].map((b) => b.dataset.band)`,
      );
    await (await button(driver, 'Band Stay footer')).click();
    await command('move stay footer to report footer');
    await eventually(driver, 'the moved band', async () => (await bands()).join() === 'stays/detail,footer');
    await liveHas('2024');
    const height = async (): Promise<number> => (await (await find(driver, '[data-band="footer"]')).getRect()).height;
    const low = await height();
    await (await find(driver, '[data-testid="board"]')).sendKeys(Key.chord(Key.ALT, Key.ARROW_DOWN, Key.ARROW_DOWN));
    await eventually(driver, 'the higher band', async () => (await height()) > low + 2);
    await driver
      .actions()
      .contextClick(await button(driver, 'Band Report footer'))
      .perform();
    await (
      await eventually(driver, 'the menu', () =>
        driver.findElement(By.xpath('//*[@role="menuitem"][contains(., "Copy to")]')),
      )
    ).sendKeys(Key.ARROW_RIGHT);
    await (
      await eventually(driver, 'the places', () =>
        driver.findElement(By.xpath('//*[@role="menuitem"][normalize-space()="Stay header"]')),
      )
    ).click();
    await eventually(driver, 'the copy', async () => (await bands()).join() === 'stays/header,stays/detail,footer');
    await press(driver, Key.CONTROL, 'z');
    await press(driver, Key.CONTROL, 'z');
    await press(driver, Key.CONTROL, 'z');
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'all as before', async () => (await bands()).join() === 'stays/detail,stays/footer');
  });
});

describe('items', () => {
  it('are turned into a barcode and back, and a check mark says where a condition holds', async () => {
    await openNew(HUTS);
    await select('beds');
    await pick('Turn into …', 'barcode');
    await eventually(driver, 'barcodes', () =>
      driver.executeScript<boolean>(
        `return document.querySelectorAll('.live-pages path[data-item="beds"]').length > 10`,
      ),
    );
    await press(driver, Key.CONTROL, 'z');
    await eventually(driver, 'beds again', async () => (await texts('beds')).length > 10);
    const many = (await texts('beds')).filter((beds) => Number(beds) > 50).length;
    await (await button(driver, 'Band Hut detail')).click();
    await add('check mark');
    await write('Checked when', 'beds > 50');
    const marks = (title: string): Promise<number> =>
      driver.executeScript<number>(
        `return [...document.querySelectorAll('.live-pages path title')].filter((t) => t.textContent === arguments[0]).length`,
        title,
      );
    await eventually(
      driver,
      'the check marks',
      async () => (await marks('TRUE')) === many && (await marks('FALSE')) > 0,
    );
    await noProblems();
  });

  it('of a column take their caption from the label of its field', async () => {
    await openNew(columnsOf('name', 'altitude'));
    await liveSays('altitude');
    await select('value-altitude');
    await (await button(driver, 'Use the field’s label as the caption')).click();
    await liveSays('Altitude (m)');
    await press(driver, Key.CONTROL, 'z');
    await liveSays('altitude');
  });

  it('of a column move and widen by keys, and push the others', async () => {
    await openNew(columnsOf('name', 'beds', 'altitude'));
    const place = async (name: string): Promise<[number, number]> => {
      await settled(driver);
      await select(`value-${name}`);
      await settled(driver);
      const read = async (label: string): Promise<number> => Number(await (await tray(label)).getAttribute('value'));
      return [await read('From left'), await read('Width')];
    };
    await select('value-name');
    await press(driver, Key.CONTROL, Key.ARROW_RIGHT);
    await eventually(driver, 'the other order', async () => (await place('name'))[0] === 42);
    expect((await place('beds'))[0]).toBe(0);
    await press(driver, Key.ALT, Key.ARROW_RIGHT);
    await eventually(driver, 'the wider column', async () => (await place('beds'))[1] === 41);
    expect((await place('name'))[0]).toBe(43);
    expect((await place('altitude'))[0]).toBe(85);
  });
});

describe('formulas', () => {
  it('take names as people see them, complete them, and say what is missing between two', async () => {
    await openNew(HUTS);
    await select('beds');
    const formula = () => textOf(driver, '[data-setting="formula"] .cm-content');
    await write('Formula', 'Wind limit (km/h) + beds');
    await eventually(driver, 'the name', async () => (await formula()) === 'wind_limit + beds');
    await noProblems();
    const box = await find(driver, '[data-setting="formula"] .cm-content');
    await box.click();
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'beds * Wind lim');
    await find(driver, '.cm-tooltip-autocomplete [aria-selected]');
    await box.sendKeys(Key.ENTER);
    await eventually(driver, 'the completed name', async () => (await formula()) === 'beds * wind_limit');
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'IF(beds > 1 "many"; "few")');
    await eventually(driver, 'what is missing', async () =>
      (await textOf(driver, '[data-testid="settings"]')).includes(
        'There is nothing between “1” and “many”. Expected a semicolon between two values, or an operator such as + or &.',
      ),
    );
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'beds', Key.ESCAPE, Key.ESCAPE);
  });
});

describe('parameters', () => {
  it('are made, asked for by a filter, renamed in it, and tried with a sample value', async () => {
    await openNew(HUTS);
    const all = (await texts('name')).length;
    await (await button(driver, 'Hut: filter')).click();
    await (await driver.findElement(By.xpath('//summary[.="As a formula"]'))).click();
    await write('filter', 'beds >= parameters.parameter');
    await press(driver, Key.ESCAPE);
    await (await button(driver, 'Report')).click();
    await (await button(driver, 'Parameter')).click();
    await choose('parameter: Asks for', 'a number');
    await retype('parameter: Sample value', '45');
    await eventually(driver, 'fewer huts', async () => {
      const beds = (await texts('beds')).map(Number);
      return beds.length > 0 && beds.length < all && beds.every((b) => b >= 45);
    });
    await retype('parameter: Name', 'Beds at least');
    await retype('parameter: In formulas', 'least beds');
    await eventually(driver, 'the name in the filter', async () =>
      (await textOf(driver, '[data-drawer-line="huts"]')).includes('“Beds at least”'),
    );
    await noProblems();
    await retype('least_beds: Sample value', 'many');
    await eventually(driver, 'why not', async () =>
      (await textOf(driver, '[data-testid="settings"] [role="alert"]')).includes('“many” does not fit. Enter a number'),
    );
    await noProblems();
  });
});
