import { expect, it } from 'vitest';
import { eventually, find, Key } from './browser.ts';
import { maker } from './maker.ts';
import { isDone } from './parts.ts';
import { driver, liveHas, liveSays, saveState, useSession, visit } from './session.ts';

useSession();

const TRAY = '[data-testid="settings"]';

/** Names of huts, those of a region alone where one is given, as the database has them. */
const huts = (region?: string): Promise<string[]> =>
  driver.executeScript<string[]>(
    `const steps = [
       { step: 'take', from: { model: 'cumeeira', entity: 'hut' } },
       { step: 'bring', relation: 'region', keep: 'here', as: 'region' },
     ];
     if (arguments[0]) steps.push({ step: 'keep', where: { field: 'region_name', is: 'equal', to: { value: arguments[0] } } });
     const body = JSON.stringify({ steps, parameters: [], rows: 100 });
     const answer = await fetch('/api/recipe/rows', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });
     const { found, steps: planned } = await answer.json();
     const at = found.fields.findIndex((field) => field.name === 'name');
     return found.rows.map((row) => String(row[at + row.length - found.fields.length]));`,
    region,
  );

it('parameters with choices that follow one another are built, tried and run in fewer than 40 interactions', async () => {
  await visit('/start');
  const hand = maker();
  await hand.press('[data-testid="start"] button:nth-of-type(2)');
  await hand.add('huts');

  // Both parameters are made where they are asked for, with their choices.
  await hand.press(`${TRAY} [data-add="condition"]`);
  await hand.choose('Field', 'Region: Name', TRAY);
  await hand.choose('Compared with', 'a parameter', TRAY);
  await hand.press(`${TRAY} [data-add="condition"]`);
  const second = `${TRAY} [data-condition="1"]`;
  await hand.choose('Field', 'Name', second);
  await hand.choose('Compared with', 'new parameter', second);
  await hand.place(':name');
  await liveHas('Alminhas');

  // The hut is one of the region that is chosen.
  await hand.button('Report');
  await hand.words('Hut :hut_name', 'summary');
  await hand.press(`${TRAY} [data-section="parameters"] details[open] [data-add="condition"]`);
  const where = `${TRAY} [data-section="parameters"] details[open]`;
  await hand.choose('Field', 'Region: Name', where);
  await hand.choose('Compared with', 'a parameter', where);
  const offered = () =>
    driver.executeScript<string>(`return document.querySelector('[data-testid="offered"]')?.textContent ?? ''`);
  await eventually(driver, 'the choices', async () => (await offered()).includes('24 choices'));

  // Tried in place.
  await hand.words('Region :region_name', 'summary');
  await hand.button('region_name: Sample value');
  await hand.words('Encosta Sul', 'button');
  await hand.words('Hut :hut_name', 'summary');
  const inRegion = await huts('Encosta Sul');
  await eventually(driver, 'fewer choices', async () => (await offered()).includes(`${inRegion.length} choices`));
  for (const name of inRegion.slice(0, 5)) await liveHas(name);

  // No choice has a word in texts too.
  await hand.press('[aria-label="Band Report header"]');
  await hand.press('[data-group="parameters"]');
  await hand.place('hut_name');
  await liveSays('all');
  await hand.key(Key.CONTROL, 's');
  await hand.type('input[placeholder="Stays by hut and month"]', 'Huts of a region');
  await saveState('Saved, revision');

  // What is chosen follows, and is taken back where it no longer fits.
  await hand.button('Run');
  await isDone();
  const chip = async (name: string, value: string): Promise<void> => {
    await hand.press(`nav [data-chip="${name}"]`);
    await hand.words(value, 'button');
  };
  await chip('region_name', 'Encosta Sul');
  await chip('hut_name', 'Pedra Longa');
  const shown = () =>
    driver.executeScript<string>(
      `return [...document.querySelectorAll('main [data-page] text')].map((text) => text.textContent).join(' ')`,
    );
  await eventually(driver, 'one hut', async () => {
    const text = await shown();
    return text.includes('Pedra Longa') && !inRegion.some((name) => name !== 'Pedra Longa' && text.includes(name));
  });
  await chip('region_name', 'Alto Norte');
  expect(await (await find(driver, '[data-testid="unfit"]')).getText()).toBe(
    'Hut: “Pedra Longa” was removed, because it is not offered for Region “Alto Norte”.',
  );
  const others = await huts('Alto Norte');
  await eventually(driver, 'the huts of that region', async () => {
    const text = await shown();
    return others.every((name) => text.includes(name)) && !inRegion.some((name) => text.includes(name));
  });
  expect(hand.interactions).toBeLessThan(40);
});
