import { By, button, eventually, find, Key } from './browser.ts';
import { drop } from './parts.ts';
import { add, choose, driver, saveByKeys, write } from './session.ts';

/**
 * Hands of a maker that count what they do: each press, each text that is typed, each drag, each choice of a list. A press goes to
 * the place where a thing is drawn, and fails where something else lies over it.
 */
export const maker = () => {
  let count = 0;
  const once = async (css: string): Promise<void> => {
    count++;
    await eventually(driver, `a press on ${css}`, async () => {
      await (await find(driver, css)).click();
      return true;
    });
  };
  return {
    /** How much was done so far. */
    get interactions(): number {
      return count;
    },
    press: once,
    /** Presses a button by its name or its words. */
    button: async (name: string): Promise<void> => {
      count++;
      await eventually(driver, `a press on “${name}”`, async () => {
        await (await button(driver, name)).click();
        return true;
      });
    },
    /** Presses the words of something that opens, or of an option. */
    words: async (words: string, tag = '*'): Promise<void> => {
      count++;
      const path = `//${tag}[normalize-space()="${words}"]`;
      await eventually(driver, `a press on “${words}”`, async () => {
        const shown = await driver.findElements(By.xpath(path));
        await shown.at(-1)!.click();
        return true;
      });
    },
    /** Presses what an XPath finds. */
    at: async (path: string): Promise<void> => {
      count++;
      await eventually(driver, `a press on ${path}`, async () => {
        await driver.findElement(By.xpath(path)).click();
        return true;
      });
    },
    /** Opens a list and picks from it. */
    choose: async (label: string, words: string, within = ''): Promise<void> => {
      count += 2;
      await choose(label, words, within);
    },
    /** Types into a box, over what stands in it. */
    type: async (css: string, text: string): Promise<void> => {
      count++;
      await (await find(driver, css)).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.ENTER);
    },
    /** Writes a formula into its box. */
    write: async (label: string, formula: string): Promise<void> => {
      count += 2;
      await write(label, formula);
    },
    /** Adds something by its name. */
    add: async (words: string): Promise<void> => {
      count += 2;
      await add(words);
    },
    /** Puts a field of the Data list where it belongs. */
    place: async (key: string): Promise<void> => {
      count++;
      await eventually(driver, `the field ${key}`, async () => {
        const all = await driver.findElements(By.css(`[data-field$="${key}"]`));
        for (const one of all) {
          if (!(await one.isDisplayed())) continue;
          await one.sendKeys(Key.ENTER);
          return true;
        }
        return false;
      });
    },
    /** Drags a field of the Data list onto a part of an item. */
    drop: async (field: string, part: string): Promise<void> => {
      count++;
      await drop(field, part);
    },
    key: async (...keys: string[]): Promise<void> => {
      count++;
      await driver
        .switchTo()
        .activeElement()
        .sendKeys(Key.chord(...keys));
    },
    save: saveByKeys,
  };
};
