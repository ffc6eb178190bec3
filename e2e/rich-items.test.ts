import { describe, expect, it } from 'vitest';
import { By, eventually, find, settled } from './browser.ts';
import { add, driver, HUTS, live, liveHas, liveText, openNew, select, useSession } from './session.ts';

useSession();

const [SET] = HUTS.body;
const hutsWith = (items: object[], more: object = {}) => ({
  ...HUTS,
  ...more,
  body: [{ ...SET!, detail: { height: 44, items } }],
});
const field = (id: string, formula: string, y: number, more: object = {}) => ({
  kind: 'field',
  id,
  x: 4,
  y,
  width: 80,
  height: 5,
  formula,
  ...more,
});
/** Where an item stands on the board, in CSS pixels of the window. */
const topLeft = async (id: string): Promise<[number, number]> => {
  const { x, y } = await (await find(driver, `[data-item="${id}"]`)).getRect();
  return [Math.round(x), Math.round(y)];
};

describe('items that hold or bring more than a word', () => {
  it('a panel takes what lies in it along, and stacks it on the page', async () => {
    await openNew(
      hutsWith([
        { kind: 'panel', id: 'p', x: 0, y: 2, width: 100, height: 30, fill: '#eff6f2' },
        field('description', 'description', 5),
        field('beds', 'beds & " beds"', 20),
        { ...field('out', 'id', 36), width: 20 },
      ]),
    );
    const [field0, out0] = await Promise.all([topLeft('description'), topLeft('out')]);
    const frame = await find(driver, '[data-item="p"]');
    const { width, height } = await frame.getRect();
    const edge = { x: Math.round(width / 2 - 8), y: Math.round(height / 2 - 6) };
    await driver
      .actions()
      .move({ origin: frame, ...edge })
      .press()
      .move({ origin: frame, x: edge.x + 30, y: edge.y })
      .release()
      .perform();
    await eventually(driver, 'the field to follow', async () => (await topLeft('description'))[0] > field0[0] + 15);
    expect(await topLeft('out')).toEqual(out0);
    // A description takes several lines, and the beds stand right below them.
    const gap = await eventually(driver, 'the stack', () =>
      driver.executeScript<number | null>(
        `const of = (id) => [...document.querySelectorAll('[data-live-page="1"] text[data-item="' + id + '"]')].map((t) => Number(t.getAttribute('y')));
         const [beds] = of('beds'), above = of('description').filter((y) => y < beds);
         return above.length > 1 ? beds - Math.max(...above) : null;`,
      ),
    );
    expect(gap).toBeLessThan(25);
  });

  it('a field becomes formatted text, which shows its lists as lists', async () => {
    await openNew(hutsWith([field('name', 'name', 1), field('notice', 'notice', 10, { width: 120 })]));
    await select('notice');
    await settled(driver);
    await eventually(driver, 'the choice', async () => {
      const choice = By.xpath(`//*[@cmdk-item][starts-with(normalize-space(), "Formatted text")]`);
      const [found] = await driver.findElements(choice);
      if (found) await found.click();
      else await driver.findElement(By.xpath(`//button[contains(., "Turn into")]`)).click();
      return found !== undefined;
    });
    await liveHas('•');
    // Pages out of sight follow later.
    await eventually(driver, 'no tag', async () => !(await liveText()).includes('<ul>'));
  });

  it('contents list the headings of the report with their pages', async () => {
    const heading = {
      kind: 'text',
      id: 'h',
      x: 0,
      y: 0,
      width: 100,
      height: 8,
      content: [{ formula: 'name' }],
      outline: 1,
    };
    const report = hutsWith([heading], { header: { height: 40, items: [] } });
    await openNew(report);
    await (await find(driver, '[data-band="header"]')).click();
    await add('contents');
    await live();
    await eventually(driver, 'an entry with its page', () =>
      driver.executeScript<boolean>(
        `const made = document.querySelector('[aria-label^="Contents"][data-item]')?.dataset.item;
         const words = [...document.querySelectorAll('[data-live-page="1"] text[data-item="' + made + '"]')].map((t) => t.textContent);
         return words.includes('Alminhas') && words.includes('2') && words.some((one) => one.includes(' . . .'));`,
      ),
    );
  });
});
