import { existsSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { PGlite } from '@electric-sql/pglite';
import {
  createGaveta,
  type DatabaseConnection,
  defineModel,
  pgliteConnection,
  postgresConnection,
} from '@gaveta/server';
import pg from 'pg';
import { By, eventually, find, Key, openBrowser } from '../e2e/browser.ts';
import { startPostgres } from '../packages/server/src/connection/server.test-support.ts';
import { line, median, time } from './measure.ts';

/** A sketch over a million rows: its first screen, grouping, scrolling and a drag across its chart, against statements by hand. */
const ROWS = 1_000_000;
const FRAMES = 180;
const ROUNDS = 5;

/** The rows, made where they lie. */
const MADE = `
  create table region (id int primary key, name text);
  create table hut (id int primary key, region_id int, name text);
  create table reading (id int primary key, hut_id int, day date, wind numeric(5,1), battery int);
  insert into region select i, 'Region ' || i from generate_series(1, 4) i;
  insert into hut select i, 1 + i % 4, 'Hut ' || lpad(i::text, 2, '0') from generate_series(1, 24) i;
  insert into reading select i, 1 + i % 24, date '2023-01-01' + (i / 1440), (i::bigint * 7919 % 1400) / 10.0, i % 100 from generate_series(1, ${ROWS}) i;
  create index on reading (hut_id); analyze;
`;
const number = { label: 'Number', type: 'number' as const };
const name = { label: 'Name', type: 'text' as const };
const model = defineModel({
  name: 'ridge',
  label: 'Ridge',
  connection: 'main',
  entities: {
    region: { label: 'Region', plural: 'Regions', key: 'id', fields: { id: number, name } },
    hut: {
      ...{
        label: 'Hut',
        plural: 'Huts',
        key: 'id',
        fields: { id: number, region_id: { ...number, hidden: true }, name },
      },
      relations: { region: { label: 'Region', to: 'region', kind: 'one', on: { region_id: 'id' } } },
    },
    reading: {
      ...{ label: 'Reading', plural: 'Readings', key: 'id' },
      fields: {
        id: number,
        hut_id: { ...number, hidden: true },
        day: { label: 'Day', type: 'date' },
        wind: { label: 'Wind', type: 'number' },
        battery: { label: 'Battery', type: 'number' },
      },
      relations: { hut: { label: 'Hut', to: 'hut', kind: 'one', on: { hut_id: 'id' } } },
    },
  },
});
/** A database with the rows, and how Gaveta and a person by hand ask it. */
interface Rows {
  name: string;
  connection: DatabaseConnection;
  /** Asks it a statement as it is. */
  run: (text: string) => Promise<unknown>;
  close: () => Promise<void>;
}

const embedded = async (): Promise<Rows> => {
  const database = new PGlite();
  await database.exec(MADE);
  return {
    name: 'the embedded database',
    connection: pgliteConnection(database),
    run: (text) => database.query(text),
    close: () => database.close(),
  };
};

/** Debian's PostgreSQL, where it is installed. */
const onServer = async (): Promise<Rows | null> => {
  if (!existsSync('/usr/lib/postgresql')) return null;
  const { stop, ...address } = await startPostgres();
  const client = new pg.Client(address);
  await client.connect();
  await client.query(MADE);
  const connection = postgresConnection(address);
  return {
    name: 'a PostgreSQL server',
    connection,
    run: (text) => client.query(text),
    close: async () => {
      await client.end();
      await connection.close?.();
      await stop();
    },
  };
};

const measure = async ({ name: where, connection, run, close: closeRows }: Rows): Promise<void> => {
  const gaveta = await createGaveta({
    store: new PGlite(),
    models: [model],
    connections: { main: connection },
    secret: 'nobody else asks this server for anything',
    authenticate: () => ({ user: 'Inês', rights: ['view', 'design'], claims: {} }),
    doctor: false,
  });
  const server = createServer(gaveta.handler);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const base = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const { driver, close } = await openBrowser();

  /** Seconds that a statement takes by hand. */
  const byHand = async (text: string): Promise<number> => {
    const seconds: number[] = [];
    for (let i = 0; i < ROUNDS; i++) seconds.push((await time(() => run(text))).seconds);
    return median(seconds);
  };
  /** Seconds from the question to its first lines, as the screen says it, once `count` lines are there. */
  const said = async (count: string): Promise<number> => {
    const text = await eventually(driver, `${count} lines`, async () => {
      const words = await (await find(driver, '[data-testid="lines-state"]')).getText();
      return words.startsWith(`${count} line`) && words.endsWith(' ms') && words;
    });
    return Number(/([\d,]+) ms$/.exec(text)![1]!.replaceAll(',', '')) / 1000;
  };
  const undone = async (count: string): Promise<void> => {
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await said(count);
  };
  const show = (what: string, seconds: number, baseline: number): void =>
    line(
      what,
      seconds,
      `${(seconds / baseline).toFixed(1)} times the statement by hand (${(baseline * 1000).toFixed(0)} ms)`,
    );

  /** Gaps between frames in milliseconds, while the lines are scrolled by so many pixels a frame. */
  const frames = (by: number): Promise<number[]> =>
    driver.executeAsyncScript<number[]>(
      `const [by, count, done] = arguments;
     const box = document.querySelector('[data-testid="lines"]');
     const gaps = [];
     let last = performance.now();
     let n = 0;
     const step = (now) => {
       gaps.push(now - last);
       last = now;
       if (n++ >= count) return done(gaps.slice(2));
       box.scrollTop += by;
       requestAnimationFrame(step);
     };
     requestAnimationFrame(step);`,
      by,
      FRAMES,
    );
  const rate = (gaps: readonly number[]): number => 1000 / (gaps.reduce((a, b) => a + b, 0) / gaps.length);

  try {
    await driver.manage().setTimeouts({ script: 120_000 });
    await driver.manage().window().setRect({ width: 1280, height: 943 });
    console.log(`A sketch over ${ROWS.toLocaleString('en')} rows, in ${where}`);
    await driver.get(`${base}/sketches/new?from=${encodeURIComponent('table ridge reading')}`);
    await said('1,000,000');
    const first: number[] = [];
    const pick = async (id: string, words: string): Promise<void> => {
      await (await find(driver, `[data-pick="${id}"]`)).click();
      await driver.switchTo().activeElement().sendKeys(words, Key.ENTER);
    };
    for (let i = 0; i < ROUNDS; i++) {
      // Another order is another question.
      await (await find(driver, '[data-caption="day"]')).click();
      const way = i % 2 === 0 ? 'Earliest first' : 'Latest first';
      await (await driver.findElement(By.xpath(`//button[normalize-space()='${way}']`))).click();
      first.push(await said('1,000,000'));
      await driver.actions().sendKeys(Key.ESCAPE).perform();
      await undone('1,000,000');
    }
    const rows = 'select day, wind, battery from reading order by day, id limit 100';
    show('First screen of all rows, sorted by day', median(first), await byHand(rows));

    const idle = await frames(0);
    for (const by of [84, 5_000, 100_000]) {
      const gaps = await frames(by);
      console.log(
        `  Scrolling ${by.toLocaleString('en')} pixels a frame: ${rate(gaps).toFixed(0)} frames a second, ${(rate(gaps) / rate(idle)).toFixed(2)} times those of an idle page (aim: at least 50 frames)`,
      );
    }
    await driver.executeScript(`document.querySelector('[data-testid="lines"]').scrollTop = 0`);

    await pick('group', 'region');
    const one = await said('4');
    const totals = 'sum(wind), sum(battery)';
    const joined = 'reading r join hut h on h.id = r.hut_id join region g on g.id = h.region_id';
    show('Grouped by region', one, await byHand(`select g.name, ${totals} from ${joined} group by 1 order by 1`));
    await pick('group', 'hut name');
    const two = await said('28');
    show(
      'Grouped by region and hut',
      two,
      (await byHand(`select g.name, ${totals} from ${joined} group by 1 order by 1`)) +
        (await byHand(
          `select g.name, h.name, sum(wind), sum(battery), count(*) from ${joined} group by 1, 2 order by 2`,
        )),
    );
    await pick('across', 'day');
    const across = await said('28');
    const months = `select g.name, date_trunc('month', r.day), ${totals} from ${joined} group by 1, 2`;
    show('And across by month', across, await byHand(months));
    const gaps = await frames(84);
    console.log(`  Scrolling so, 24 months across: ${rate(gaps).toFixed(0)} frames a second`);
    await undone('28');
    await (await driver.findElement(By.xpath(`//button[normalize-space()='Chart']`))).click();
    await find(driver, '.sketch-chart [data-cell]');
    const picture = await find(driver, '.sketch-chart');
    const { time: brushed } = await (async () => {
      await driver.actions().move({ origin: picture, x: -300 }).press().move({ origin: picture, x: -80 }).perform();
      await driver.executeScript(
        `window.released = null;
       addEventListener('pointerup', () => { window.released = performance.now(); }, { capture: true, once: true });
       window.kept = new Promise((resolve) => {
         new MutationObserver((_, watch) => {
           if (window.released === null || !document.querySelector('[data-chip]')) return;
           if (document.querySelector('[data-testid="lines"] > .opacity-60')) return;
           watch.disconnect();
           requestAnimationFrame(() => resolve(performance.now() - window.released));
         }).observe(document.querySelector('main'), { subtree: true, childList: true, attributes: true });
       });`,
      );
      await driver.actions().release().perform();
      return { time: await driver.executeAsyncScript<number>('window.kept.then(arguments[0])') };
    })();
    const kept = `h.name in ('Hut 01', 'Hut 02', 'Hut 03', 'Hut 04', 'Hut 05')`;
    show(
      'A drag across the chart, to the lines that it keeps',
      brushed / 1000,
      await byHand(`select g.name, ${totals} from ${joined} where ${kept} group by 1 order by 1`),
    );
  } finally {
    await close();
    server.closeAllConnections();
    server.close();
    await gaveta.close();
    await closeRows();
  }
};

await measure(await embedded());
const served = await onServer();
if (served) await measure(served);
else console.log('No PostgreSQL server is installed: nothing was measured over one.');
process.exit(0);
