import { find, Key } from './browser.ts';
import type { maker } from './maker.ts';
import { isDone } from './parts.ts';
import { driver, saveState } from './session.ts';

/** The rows that steps give, as the database has them: the values of some fields. */
export const asked = (steps: object[], fields: string[]): Promise<string[][]> =>
  driver.executeScript<string[][]>(
    `const body = JSON.stringify({ steps: arguments[0], parameters: [], rows: 1000 });
     const answer = await fetch('/api/recipe/rows', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body });
     const { found } = await answer.json();
     const places = arguments[1].map((name) => found.fields.findIndex((field) => field.name === name));
     return found.rows.map((row) => places.map((at) => String(row[at])));`,
    steps,
    fields,
  );
export const take = (entity: string) => ({ step: 'take', from: { model: 'cumeeira', entity } });
export const bring = (relation: string) => ({ step: 'bring', relation, keep: 'here', as: relation });

/** The texts of the run's first page, from top to bottom. */
export const firstPage = async (): Promise<string[]> => {
  await isDone();
  await find(driver, '[data-page="1"] text');
  return driver.executeScript<string[]>(
    `return [...document.querySelectorAll('[data-page="1"] text')]
       .sort((a, b) => a.y.baseVal[0].value - b.y.baseVal[0].value || a.x.baseVal[0].value - b.x.baseVal[0].value)
       .map((text) => text.textContent)`,
  );
};
/** Saves a new report under a name, and runs it. */
export const saveAndRun = async (hand: ReturnType<typeof maker>, name: string): Promise<void> => {
  await hand.key(Key.CONTROL, 's');
  await hand.type('input[placeholder="Stays by hut and month"]', name);
  await saveState('Saved, revision');
  await hand.button('Run');
};
