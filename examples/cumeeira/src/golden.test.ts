import { createHash } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { type Mark, Moment, type Page, type Report, readDefinition } from '@gaveta/core';
import { beforeAll, expect, it } from 'vitest';
import { DEMO_TODAY, demoReports } from './index.ts';
import { demoSources, runWith } from './run.test-support.ts';

/**
 * The pages of every example report, mark by mark, against those that were seen and accepted before: a line for each page
 * with its marks and their digest. `npx vitest run golden -u` accepts new ones.
 */
const golden = (name: string): string => fileURLToPath(new URL(`../golden/${name}.txt`, import.meta.url));

const reports = new Map<string, Report>();

beforeAll(async () => {
  for (const { id, definition } of await demoReports()) {
    const read = readDefinition(definition);
    if (read.ok) reports.set(id, read.report);
  }
});

const pagesOf = async (report: Report, pictures: Map<string, string>): Promise<Page[]> => {
  const { pages } = await runWith(report, {
    ...(await demoSources()),
    nested: reports,
    runAt: new Moment(DEMO_TODAY + 7.5 * 3_600_000),
    regions: true,
    onPicture: ({ hash, source }) => void pictures.set(hash, source),
  });
  return pages;
};

const withPicture = (mark: Mark, pictures: ReadonlyMap<string, string>): object => {
  if (mark.kind !== 'picture') return mark;
  const { picture, ...rest } = mark;
  return { ...rest, source: pictures.get(picture) };
};

/** What is seen of a mark and what a click finds, with keys in a fixed order. */
const written = (mark: Mark, pictures: ReadonlyMap<string, string>): string =>
  JSON.stringify(
    Object.entries(withPicture(mark, pictures))
      .filter(([, value]) => value !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([key, value]) => [key, typeof value === 'number' ? Number(value.toFixed(6)) : value]),
  );

const digest = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 16);

it('lays every example report out as before, mark by mark', async () => {
  for (const [id, report] of reports) {
    const pictures = new Map<string, string>();
    const lines = (await pagesOf(report, pictures)).map(
      ({ number, width, height, marks }) =>
        `${number} ${width.toFixed(3)} x ${height.toFixed(3)} ${marks.length} marks ${digest(marks.map((mark) => written(mark, pictures)).join('\n'))}`,
    );
    await expect(`${lines.join('\n')}\n`).toMatchFileSnapshot(golden(id));
  }
});
