import { createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { planReport, readDefinition, runReport } from '@gaveta/core/internal';
import { createPdfWriter, loadShippedFonts } from '@gaveta/output';
import { type Connection, type defineModel, openRows } from '@gaveta/server';

type Model = ReturnType<typeof defineModel>;

/** Lays reports over one connection out and writes them as PDFs: gives the pages and the bytes of the file. */
export const toPdf = async (model: Model, connection: Connection) => {
  const book = await loadShippedFonts();
  const { name } = model.model;
  const file = join(tmpdir(), 'gaveta-bench.pdf');
  return async (definition: object): Promise<{ pages: number; bytes: number }> => {
    const read = readDefinition({ gaveta: 2, model: name, body: [], ...definition });
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const plan = planReport(read.report, { models: [model.model], report: () => null, rowsFromDatabase: true });
    if (plan.problems.length > 0) throw new Error(JSON.stringify(plan.problems));
    const models = new Map([[name, model]]);
    const connections = new Map([[model.connection, connection]]);
    const opened = await openRows(plan, { models, connections, claims: {}, parameters: {}, maxRows: 3_000_000 });
    const pdf = createPdfWriter(createWriteStream(file), book, { title: 'Bench' });
    const result = await runReport({
      plan,
      book,
      parameters: {},
      open: () => opened,
      regions: true,
      onPage: (page) => pdf.page(page),
    });
    if (result.allProblems.length > 0) throw new Error(JSON.stringify(result.allProblems));
    await pdf.end(result.late);
    const { size } = await stat(file);
    return { pages: result.pages, bytes: size };
  };
};
