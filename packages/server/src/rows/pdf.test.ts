import { createWriteStream, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Mark, type Page, runReport } from '@gaveta/core/internal';
import { createPdfWriter, loadShippedFonts, pictureFile } from '@gaveta/output';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { checkConformance } from '../../../output/src/pdf/conformance.test-support.ts';
import { FEW_PAGES, openDemo } from './demo-runs.test-support.ts';

const folder = mkdtempSync(join(tmpdir(), 'gaveta-tagged-'));
const book = await loadShippedFonts();
let demo: Awaited<ReturnType<typeof openDemo>>;
beforeAll(async () => {
  demo = await openDemo();
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
});

/** Pages of each report that are read: the ledger has hundreds that are alike. */
const MOST_PAGES = 12;

const readable = (mark: Mark): string[] =>
  mark.kind === 'text' && mark.as !== 'artifact' ? [mark.text.replace(/[\s\u00a0]/g, '')] : [];

const letters = (texts: readonly string[]): string =>
  [...texts.join('').replace(/[\s\u00a0\u200b]/g, '')].sort().join('');

it('writes every report for keeping and for everybody, and reads aloud what its pages show', async () => {
  for (const id of demo.reports) {
    const { plan, parameters, open } = demo.prepared(id, FEW_PAGES[id]);
    const file = join(folder, `${id}.pdf`);
    const files = new Map<string, Uint8Array>();
    const pictures = async (hash: string) => files.get(hash) ?? null;
    const { name, language } = plan.report;
    const writer = createPdfWriter(createWriteStream(file), book, { title: name, language, author: 'Ana', pictures });
    const pages: Page[] = [];
    const { late } = await runReport({
      plan,
      book,
      parameters,
      open,
      regions: true,
      maxPages: MOST_PAGES,
      onPicture: (picture) => void files.set(picture.hash, pictureFile(picture)),
      onPage: async (page) => {
        pages.push(page);
        await writer.page(page);
      },
    });
    const fills = [...late].filter(({ page }) => page <= MOST_PAGES);
    await writer.end(fills);
    const { complaints, read } = checkConformance(file);
    expect(complaints, id).toEqual([]);
    const shown = [...pages, ...fills].flatMap(({ marks }) => marks.flatMap(readable));
    expect(letters(read.map(({ text }) => text)) === letters(shown), id).toBe(true);
  }
});
