import { expect, it } from 'vitest';
import { By, eventually, find, Key } from './browser.ts';
import { asked, bring, firstPage, saveAndRun, take } from './job-parts.ts';
import { maker } from './maker.ts';
import { driver, liveHas, useSession, visit } from './session.ts';

useSession();

/** What stands under each of some headings, up to the next one; what the page ends with may go on. */
const under = (texts: readonly string[], headings: readonly string[]): Map<string, string[]> => {
  const parts = new Map<string, string[]>();
  let open: string[] | null = null;
  for (const text of texts) {
    if (headings.includes(text)) {
      open = [];
      parts.set(text, open);
    } else open?.push(text);
  }
  parts.delete([...parts.keys()].at(-1) ?? '');
  return parts;
};
/** A new report of regions with the huts of each. */
const hutsOfRegions = async (): Promise<ReturnType<typeof maker>> => {
  await visit('/start');
  const hand = maker();
  await hand.press('[data-testid="start"] button:nth-of-type(2)');
  await hand.add('regions');
  await hand.place(':name');
  await hand.add('huts');
  await hand.place(':name');
  await hand.place(':beds');
  return hand;
};
it('a master-detail report of three levels with totals is built and run in fewer than 40 interactions', async () => {
  const hand = await hutsOfRegions();
  await hand.add('flights');
  await hand.place(':flown_on');
  await hand.place(':kg');
  await hand.add('footer');
  await hand.place(':kg');
  await liveHas('Alminhas');
  const total = await driver.executeScript<number[]>(
    `const item = (formula) => [...document.querySelectorAll('[data-testid="board"] [data-item]')].find((i) => i.textContent.trim() === formula);
     return [item('kg'), item('SUM(kg)')].map((i) => Math.round(i.getBoundingClientRect().right));`,
  );
  // The total stands under what it adds up.
  expect(total[1]).toBe(total[0]);
  await saveAndRun(hand, 'Flights of huts');
  const texts = await firstPage();
  const flights = await asked([take('flight'), bring('hut')], ['hut_name', 'kg']);
  const huts = [...new Set(flights.map(([name]) => name!))];
  const shown = under(texts, huts);
  expect(shown.size).toBeGreaterThan(2);
  for (const [hut, lines] of shown) {
    const kg = flights.filter(([name]) => name === hut).map(([, weight]) => Number(weight));
    const sum = kg.reduce((all, one) => all + one, 0);
    const format = new Intl.NumberFormat('en', { minimumFractionDigits: 1, maximumFractionDigits: 1 });
    expect(lines, hut).toContain(format.format(sum));
    for (const weight of kg) expect(lines, hut).toContain(format.format(weight));
  }
  expect(hand.interactions).toBeLessThan(40);
});

it('the first rows of each group with the others summed up are built and run in fewer than 40 interactions', async () => {
  const hand = await hutsOfRegions();
  await hand.button('Hut: sort');
  await hand.button('Sort by …');
  await hand.words('Beds', '*[@role="menuitem" or @role="option" or self::button]');
  await hand.button('Smallest first');
  await hand.key(Key.ESCAPE);
  expect(await (await find(driver, '[data-band$="detail"] [aria-pressed="true"]')).getText()).toBe('beds');
  await hand.button('Hut: first N');
  await hand.type('[data-radix-popper-content-wrapper] input', '3');
  await hand.key(Key.ESCAPE);
  await hand.button('Band Hut detail');
  await hand.add('remaining rows');
  await hand.place(':beds');
  await eventually(driver, 'three of each', async () => {
    const shown = await driver.findElements(By.css('.live-pages text'));
    return shown.length > 0;
  });
  await saveAndRun(hand, 'Largest huts');
  const texts = await firstPage();
  const huts = await asked([take('hut'), bring('region')], ['region_name', 'name', 'beds']);
  const regions = [...new Set(huts.map(([region]) => region!))];
  const shown = under(texts, regions);
  expect(shown.size).toBe(regions.length - 1);
  for (const [region, lines] of shown) {
    const own = huts.filter(([name]) => name === region).sort((a, b) => Number(b[2]) - Number(a[2]));
    const beds = own.map(([, , count]) => Number(count));
    const numbers = lines.filter((line) => /^\d+$/.test(line)).map(Number);
    expect(numbers.slice(0, 3), region).toEqual(beds.slice(0, 3));
    expect(numbers.at(-1), region).toBe(beds.slice(3).reduce((sum, one) => sum + one, 0));
    expect(numbers, region).toHaveLength(4);
  }
  expect(hand.interactions).toBeLessThan(40);
});
