import { expect, it } from 'vitest';
import { By, eventually, find, Key } from './browser.ts';
import { asked, bring, firstPage, saveAndRun, take } from './job-parts.ts';
import { maker } from './maker.ts';
import { openGroup, tags } from './parts.ts';
import { driver, liveHas, saveState, useSession, visit } from './session.ts';

useSession();

/** A new report that begins with the rows of a table. */
const begun = async (rows: string): Promise<ReturnType<typeof maker>> => {
  await visit('/start');
  const hand = maker();
  await hand.press('[data-testid="start"] button:nth-of-type(2)');
  await hand.add(rows);
  return hand;
};
const number = (digits = 0): Intl.NumberFormat =>
  new Intl.NumberFormat('en', { minimumFractionDigits: digits, maximumFractionDigits: digits });
const sumOf = (values: readonly (string | undefined)[]): number =>
  values.reduce((sum, value) => sum + Number(value), 0);

it('three reports nested in one, each made from within, are built and run in fewer than 45 interactions', async () => {
  const nested = [
    { label: 'Flights', entity: 'flight', fields: ['flown_on', 'kg'] },
    { label: 'Wardens', entity: 'warden', fields: ['name', 'from_date'] },
    { label: 'Inspections', entity: 'inspection', fields: ['inspected_on', 'inspector'] },
  ];
  const hand = await begun('huts');
  await hand.place(':name');
  await hand.key(Key.CONTROL, 's');
  await hand.type('input[placeholder="Stays by hut and month"]', 'Huts with three lists');
  await saveState('Saved, revision');
  for (const { label, fields } of nested) {
    await hand.press('[aria-label="Band Hut detail"]');
    await hand.add('subreport');
    await hand.button('Create a new one');
    await hand.choose('Rows', `${label} of this hut`);
    await hand.type('input[aria-label="Name of the new report"]', `${label} in a hut`);
    // It is opened at once: what was done last in the report around stays.
    await hand.button('Open it');
    for (const field of fields) await hand.place(`:${field}`);
    await hand.key(Key.CONTROL, 's');
    await saveState('Saved, revision 2');
    await hand.button('Huts with three lists');
  }
  await hand.key(Key.CONTROL, 's');
  await saveState('Saved, revision 2');
  await hand.button('Run');

  const texts = await firstPage();
  const huts = (await asked([take('hut')], ['name'])).map(([name]) => name!);
  const [first, second] = texts.filter((text) => huts.includes(text));
  const own = texts.slice(texts.indexOf(first!) + 1, texts.indexOf(second!));
  // Each list stands below the one before it, with all of its rows.
  let from = 0;
  for (const { label, entity, fields } of nested) {
    const rows = await asked([take(entity), bring('hut')], ['hut_name', ...fields]);
    const heading = own.indexOf(`${label} in a hut`, from);
    expect(heading, label).toBeGreaterThanOrEqual(from);
    // Of each list the column that stands on the page as the database gives it; kilograms with one decimal.
    const at = entity === 'warden' ? 1 : 2;
    const written = (value: string): string => (entity === 'flight' ? number(1).format(Number(value)) : value);
    const values = rows.filter(([hut]) => hut === first).map((row) => written(row[at]!));
    const shown = own.slice(heading + 1, heading + 1 + values.length * 2);
    for (const value of values) expect(shown, label).toContain(value);
    from = heading + values.length * 2;
  }
  expect(hand.interactions).toBeLessThan(45);
});

it('two lists side by side, each with its total, are built and run in fewer than 40 interactions', async () => {
  const hand = await begun('regions');
  await hand.place(':name');
  await hand.place(':hectares');
  await hand.add('region footer');
  await hand.place(':hectares');
  await hand.add('courses, side by side');
  await hand.place(':title');
  await hand.add('course footer');
  await hand.place(':title');
  await saveAndRun(hand, 'Regions and courses');
  const texts = await firstPage();
  const regions = await asked([take('region')], ['name', 'hectares']);
  const courses = await asked([take('course')], ['title']);
  for (const [name, hectares] of regions) {
    expect(texts).toContain(name);
    expect(texts).toContain(number().format(Number(hectares)));
  }
  expect(texts).toContain(number().format(sumOf(regions.map(([, hectares]) => hectares))));
  for (const [title] of courses) expect(texts.some((text) => title!.startsWith(text) && text.length > 3)).toBe(true);
  const left = (words: string): Promise<number> =>
    driver.executeScript<number>(
      `return [...document.querySelectorAll('[data-page="1"] text')].find((text) => text.textContent === arguments[0]).getBoundingClientRect().x`,
      words,
    );
  const title = texts.find((text) => courses.some(([course]) => course!.startsWith(text) && text.length > 3))!;
  expect(await left(title)).toBeGreaterThan((await left(regions[0]![0]!)) + 150);
  expect(hand.interactions).toBeLessThan(40);
});

it('labels with a QR code of each row are built and run in fewer than 25 interactions', async () => {
  await visit('/start');
  const hand = maker();
  await hand.press('[data-testid="start"] button:nth-of-type(3)');
  await hand.type('input[aria-label="Find a table or recipe"]', 'Huts');
  await hand.at('//main//li/button[starts-with(normalize-space(), "Huts ")]');
  await hand.at('//main//button[b="Labels"]');
  await liveHas('Alminhas');
  await hand.button('Create the report');
  await find(driver, '[data-testid="board"]');
  await hand.press('[aria-label="Band Hut detail"]');
  await hand.add('QR');
  await hand.choose('Code', 'QR');
  await hand.write('Content', 'name');
  await eventually(driver, 'the codes', async () => (await driver.findElements(By.css('.live-pages path'))).length > 0);
  await saveAndRun(hand, 'Labels of huts');
  const texts = await firstPage();
  const names = (await asked([take('hut')], ['name'])).map(([name]) => name!);
  // A long name goes on in a second line.
  const shown = names.filter((name) => texts.some((text) => text.length > 4 && name.startsWith(text)));
  expect(shown.length).toBeGreaterThan(8);
  const codes = await driver.executeScript<number>(
    `return [...document.querySelectorAll('[data-page="1"] path')].filter((path) => path.getAttribute('d').length > 500).length`,
  );
  expect(codes).toBe(shown.length);
  expect(hand.interactions).toBeLessThan(25);
});

it('a crosstab of sums by two fields is built and run in fewer than 20 interactions', async () => {
  await visit('/start');
  const hand = maker();
  await hand.press('[data-testid="start"] button:nth-of-type(2)');
  await hand.add('crosstab');
  await openGroup('Stays');
  await hand.drop('cumeeira/stay:nights', 'cells');
  await hand.drop('rows of stay:hut.name', 'down');
  await hand.drop('rows of stay:arrival', 'across');
  expect(await tags()).toEqual(['across Arrival, by month', 'down Hut: Name', 'in the cells sum of Nights']);
  await hand.press('[data-tag="across-0"]');
  await hand.choose('By', 'each year', '.panel');
  await hand.key(Key.ESCAPE);
  await liveHas('2025');
  await saveAndRun(hand, 'Nights by hut and year');
  const texts = await firstPage();
  const summed = await asked(
    [
      take('stay'),
      bring('hut'),
      { step: 'add', name: 'season', formula: 'YEAR(arrival)' },
      { step: 'summarise', by: [{ field: 'hut_name' }], totals: [{ total: 'SUM', of: 'nights', name: 'nights' }] },
    ],
    ['hut_name', 'nights'],
  );
  const values = texts.map((text) => Number(text.replace(/,/g, '')));
  for (const [hut, nights] of summed) {
    if (hut === 'null') continue;
    expect(texts).toContain(hut);
    expect(values, hut).toContain(Number(nights));
  }
  expect(values).toContain(sumOf(summed.map(([, nights]) => nights)));
  expect(hand.interactions).toBeLessThan(20);
});
