import { expect, it } from 'vitest';
import { eventually, find, Key } from './browser.ts';
import { asked, bring, firstPage, saveAndRun, take } from './job-parts.ts';
import { maker } from './maker.ts';
import { isDone, openGroup } from './parts.ts';
import { copyOf, driver, liveHas, openDesigner, saveState, useSession, visit } from './session.ts';

useSession();

/** A new report that begins with the rows of a table. */
const begun = async (rows: string): Promise<ReturnType<typeof maker>> => {
  await visit('/start');
  const hand = maker();
  await hand.press('[data-testid="start"] button:nth-of-type(2)');
  await hand.add(rows);
  return hand;
};
/** All texts of all pages of what was run. */
const allPages = async (): Promise<string> => {
  await isDone();
  const id = await driver.executeScript<string>(
    `return performance.getEntriesByType('resource').map(({ name }) => /runs\\/([\\w-]+)\\//.exec(name)?.[1]).filter(Boolean).at(-1);`,
  );
  return driver.executeScript<string>(
    `return (await fetch('/api/runs/' + arguments[0] + '/export?format=csv')).text()`,
    id,
  );
};

it('three reports nested in one, each made from within, are built and run in fewer than 45 interactions', async () => {
  const hand = await begun('huts');
  await hand.place(':name');
  const nested: [string, string, string[]][] = [
    ['Flights', 'flights', [':flown_on', ':kg']],
    ['Wardens', 'wardens', [':name', ':from_date']],
    ['Inspections', 'inspections', [':inspected_on', ':inspector']],
  ];
  await hand.key(Key.CONTROL, 's');
  await hand.type('input[placeholder="Stays by hut and month"]', 'Huts with three lists');
  await saveState('Saved, revision');
  for (const [label, , fields] of nested) {
    await hand.press('[aria-label="Band Hut detail"]');
    await hand.add('subreport');
    await hand.button('Create a new one');
    await hand.choose('Rows', `${label} of this hut`);
    await hand.type('input[aria-label="Name of the new report"]', `${label} in a hut`);
    await hand.button('Open it');
    for (const field of fields) await hand.place(field);
    await hand.key(Key.CONTROL, 's');
    await saveState('Saved, revision 2');
    await hand.button('Huts with three lists');
  }
  await hand.key(Key.CONTROL, 's');
  await hand.button('Run');
  const texts = await firstPage();
  (await import('node:fs')).writeFileSync(`/tmp/shots/run.png`, await driver.takeScreenshot(), 'base64');
  console.log(texts.slice(0, 60).join(' | '), hand.interactions);
  const [first] = await asked([take('hut'), { step: 'sort', by: [{ field: 'name' }] }], ['name', 'id']);
  for (const [, entity, [, field]] of nested) {
    const name = entity.slice(0, -1);
    const rows = await asked([take(name), bring('hut')], ['hut_name', field!.slice(1)]);
    expect(rows.length).toBeGreaterThan(0);
    expect(first).toBeDefined();
    expect(texts.length).toBeGreaterThan(3);
  }
  expect(hand.interactions).toBeLessThan(45);
});
