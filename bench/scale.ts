import { spawnSync } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { planReport, runReport } from '@gaveta/core/internal';
import { createPdfWriter, loadShippedFonts } from '@gaveta/output';
import { chargeModel, chargeReport, chargesOf } from './charges.ts';
import { median, peak, time } from './measure.ts';

/** Time and memory as the number of rows grows: each size in a process of its own, its rows made as they are read. */
const SIZES = [10_000, 100_000, 1_000_000] as const;

const run = async (charges: number): Promise<number> => {
  const plan = planReport(chargeReport, { models: [chargeModel], report: () => null });
  const book = await loadShippedFonts();
  const file = createWriteStream(join(tmpdir(), 'gaveta-bench-scale.pdf'));
  const writer = createPdfWriter(file, book, { title: 'Charges' });
  const result = await runReport({
    plan,
    book,
    parameters: {},
    open: () => ({ source: chargesOf(charges) }),
    regions: true,
    onPage: (page) => writer.page(page),
  });
  await writer.end(result.late);
  return result.rows;
};

const [, , asked] = process.argv;
if (asked) {
  const charges = Number(asked);
  // What the first run costs for loading and compiling is not a matter of rows.
  await run(10_000);
  const rounds = charges > 100_000 ? 1 : 3;
  const seconds: number[] = [];
  const { megabytes, value: rows } = await peak(async () => {
    let count = 0;
    for (let i = 0; i < rounds; i++) {
      const { seconds: took, value } = await time(() => run(charges));
      seconds.push(took);
      count = value;
    }
    return count;
  });
  console.log(JSON.stringify({ seconds: median(seconds), megabytes, rows }));
  process.exit(0);
}

console.log('Rows by the number of charges, to PDF, each size in a process of its own');
const results = SIZES.map((charges) => {
  const child = spawnSync(process.execPath, ['--import', 'tsx', fileURLToPath(import.meta.url), String(charges)], {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  const result = JSON.parse(child.stdout) as { seconds: number; megabytes: number; rows: number };
  const each = (result.seconds / result.rows) * 1e6;
  console.log(
    `  ${charges.toLocaleString('en').padStart(10)} charges: ${result.seconds.toFixed(2)} s, ${each.toFixed(1)} µs a row, peak ${result.megabytes} MB`,
  );
  return { ...result, each };
});
const [small, middle, large] = results;
console.log(
  `  Time a row at 1,000,000 is ${(large!.each / small!.each).toFixed(2)} times that at 10,000 (aim: at most 1.2)`,
);
console.log(
  `  Peak memory at 1,000,000 is ${(large!.megabytes / middle!.megabytes).toFixed(2)} times that at 100,000 (aim: at most 1.5)`,
);
