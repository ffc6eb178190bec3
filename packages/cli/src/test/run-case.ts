import { dirname, resolve } from 'node:path';
import {
  keptPage,
  Moment,
  type Page,
  type Problem,
  phrase,
  planReport,
  problem,
  problemLine,
  problemText,
  type Report,
  readParameters,
  runReport,
  saidValue,
  takeValues,
  valueOfProblem,
  withValues,
} from '@gaveta/core/internal';
import { type Equipment, pictureFile } from '@gaveta/output';
import {
  type Claims,
  type Connection,
  ConnectionError,
  type GivenRows,
  givenConnection,
  openRows,
  type RowsConnection,
  type Workbench,
} from '@gaveta/server';
import { type Definitions, findDefinition } from '../definitions.ts';
import type { ReportCase } from './case-file.ts';
import { CaseFormulas } from './case-formulas.ts';
import type { Kept } from './kept.ts';

export interface Bench {
  definitions: Definitions;
  connections: ReadonlyMap<string, Connection>;
  claims: Claims;
  equipment: Equipment;
  workbench: () => Workbench;
}

export interface CaseRun {
  now: Kept;
  /** What fails whatever is kept: checks that do not hold, problems. */
  failures: string[];
  /** Picture files by their hash. */
  pictures: Map<string, Uint8Array>;
}

/** Rows a run may bring for each drawer. */
const MAX_ROWS = 5_000_000;

const definitionOf = (one: ReportCase, definitions: Definitions): Promise<Report | null> =>
  findDefinition(one.report.endsWith('.json') ? resolve(dirname(one.file), one.report) : one.report, definitions);

/** Runs a case; says why it cannot be run. */
export const runCase = async (one: ReportCase, bench: Bench): Promise<CaseRun | { failed: string }> => {
  const { definitions, equipment } = bench;
  const report = await definitionOf(one, definitions);
  if (!report) return { failed: `There is no report “${one.report}” that can be read.` };
  const asked = new CaseFormulas(one);
  const plan = planReport(withValues(report, asked.formulas), definitions.context);
  const runAt = one.runAt === undefined ? null : Moment.parse(one.runAt);
  const { values: parameters, problems: unfit } = readParameters(
    report,
    one.parameters as never,
    runAt ? { now: runAt.ms } : {},
  );
  if (unfit.length > 0) return { failed: unfit.map(problemText).join(' ') };
  const pages: Page[] = [];
  const pictures = new Map<string, Uint8Array>();
  const { late, allProblems, prepared } = await runReport({
    plan,
    book: await equipment.book(),
    parameters,
    folds: { base: one.folds, turned: [] },
    ...(runAt ? { runAt } : {}),
    open: () =>
      openRows(plan, {
        models: definitions.models,
        connections: connectionsOf(one, bench),
        claims: (one.claims as Claims | undefined) ?? bench.claims,
        parameters,
        maxRows: MAX_ROWS,
        workbench: bench.workbench,
      }),
    onPage: (page) => void pages.push(page),
    onPicture: (picture) => void pictures.set(picture.hash, pictureFile(picture)),
  });
  const { pages: whole, values } = takeValues(pages, late, asked.formulas.length);
  const cut = [...prepared.cutOff].map((item) => problem('text-cut-off', { item }, {}, 'warning'));
  const problems = [...allProblems, ...cut];
  return {
    failures: [...asked.failures(values, problems), ...problemsOf(one, problems)],
    pictures,
    now: {
      kept: 1,
      pageCount: pages.length,
      totals: asked.totalsOf(values),
      pages: whole.filter(({ number }) => isAsked(one.pages, number)).map(keptPage),
    },
  };
};

const isAsked = (pages: ReportCase['pages'], number: number): boolean =>
  typeof pages === 'boolean' ? pages : number >= pages.from && number <= (pages.to ?? Number.POSITIVE_INFINITY);

/** Where rows are given with the case, and none of an entity are among them. */
const NO_ROWS: RowsConnection = {
  kind: 'rows',
  // biome-ignore lint/correctness/useYield: it has none to give
  async *read(entity) {
    throw new ConnectionError(phrase('rows-not-among', { entity }));
  },
};

/** Rows that the case gives stand in the place of every connection. */
const connectionsOf = ({ rows }: ReportCase, { connections }: Bench): ReadonlyMap<string, Connection> =>
  rows === null
    ? connections
    : new Map([...connections.keys()].map((name) => [name, givenConnection(rows as GivenRows, NO_ROWS)]));

/** What is wrong with the report that its case does not allow, in words. */
const problemsOf = (one: ReportCase, problems: readonly Problem[]): string[] => {
  const found = problems
    .filter((wrong) => valueOfProblem(wrong) === null && !one.allow.includes(wrong.code))
    .map((wrong) => {
      if (wrong.code === 'connection-failed' && one.rows)
        return `The rows of the case cannot be used: ${saidValue(wrong.data.detail ?? '')}.`;
      const { item, path } = wrong.place;
      const at =
        item !== undefined && path === undefined ? `item “${item}”: ${problemText(wrong)}` : problemLine(wrong);
      return `${at} (${wrong.code})`;
    });
  return [...new Set(found)];
};
