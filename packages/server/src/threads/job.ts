import type { MessagePort } from 'node:worker_threads';
import type {
  AskedValue,
  Explanation,
  FoldState,
  GivenParameters,
  GivenValue,
  LateFill,
  LayoutLimits,
  LayoutWork,
  PageForm,
  PlaceInRun,
  Problem,
  ProblemValue,
  QueryProfile,
  Recipe,
  Report,
  Step,
  WireRow,
  WireValue,
} from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { WantedField } from '../connection/connection.ts';
import type { Statement } from '../connection/statement.ts';
import type { RegisteredModel, RowScope, TableBinding } from '../model/define.ts';
import type { Navigation } from '../pages/navigation.ts';
import type { PlaceAsked } from '../pages/place-finder.ts';
import type { PlainRowProblem } from '../pages/row-spool.ts';
import type { PageHeader } from '../pages/spool.ts';
import type { StageColumn } from '../staging/workbench.ts';

/** A report to be planned, and what it is planned with. Everything in it can be copied to another thread. */
export interface ReportJob {
  /** As it is written. */
  report: Report;
  /** The language that it is shown in, and those that it nests as far as they speak it. */
  language: string;
  /** Stored reports that it nests, at any depth, by id. */
  nested: ReadonlyMap<string, Report>;
  recipes: readonly Recipe[];
  /** As given by whoever asks. */
  parameters: GivenParameters;
  use: 'run' | 'design';
  /** Values of parameters that only the host sets. */
  host: GivenParameters;
  claims: Claims;
  /** The moment that parameters go by, in milliseconds since 1970. */
  now: number;
  /** Most rows of a level, and most rows of one source that are copied. */
  maxRows: number;
  maxStaged: number;
  /** Seconds that a statement may take. */
  seconds: number;
}

/** What a run gives no more of. */
export interface RunLimits {
  maxPages: number;
  maxSeconds: number;
  /** Bytes of the rows of one run that are kept. */
  keepRowBytes: number;
  layout: LayoutLimits;
}

/** A run that is laid out anew, with other parts of it closed. */
export interface RunAgain {
  folds: FoldState;
  at: PlaceAsked | null;
  /** Its rows as they were kept; null when they are read again. */
  rows: KeptRows | null;
}

/** Rows that were kept: what tells them from others, and their bytes. */
export interface KeptRows {
  id: string;
  bytes: number;
}

/** What a thread is asked to do with a report. */
export type ReportTask =
  | { kind: 'run'; limits: RunLimits; form: PageForm; again: RunAgain | null }
  | ListTask
  | ExplainTask
  | PartsTask
  /** Its rows, as the designer's live page takes them. */
  | { kind: 'rows' }
  /** What is wrong with it. */
  | { kind: 'check' }
  /** The models that its rows come from. */
  | { kind: 'models' };

/** A report that becomes a file without pages in between, over rows that were kept or are read again. */
export interface ListTask {
  kind: 'list';
  output: string;
  options: Record<string, unknown>;
  rows: KeptRows | null;
  /** What the reader has closed. */
  folds: FoldState;
  limits: RunLimits;
}

/** Says where a value comes from, over rows that were kept or are read again. */
export interface ExplainTask {
  kind: 'explain';
  asked: AskedValue;
  rows: KeptRows | null;
  folds: FoldState;
  limits: RunLimits;
}

/** A report that becomes files once for each row of some steps, whose rows are read together; see core/run/split.ts. */
export interface PartsTask {
  kind: 'parts';
  steps: readonly Step[];
  /** Formulas over the row, by parameter. */
  links: Readonly<Record<string, string>>;
  /** Values that are the same for all. */
  values: Readonly<Record<string, GivenValue>>;
  /** What each part is expected to be read with, in the order of the rows; null where one is not wanted. */
  parts: readonly (GivenParameters | null)[];
  files: readonly { output: string; options: Record<string, unknown> }[];
  /** Who runs it. */
  author: string;
  limits: RunLimits;
}

/** A part that was made. */
export interface MadePart {
  /** From 0. */
  place: number;
  pages: number;
  rows: number;
  problems: Problem[];
  /** In the order in which they were asked for; empty where it is not whole. */
  files: Uint8Array[];
}

/** Where parts go as they are made. */
export interface PartCalls {
  part(made: MadePart): Promise<void>;
}

export interface TaskAnswers {
  /** How many rows were gone through: none where they cannot be read together, fewer where they are others than was expected. */
  parts: number;
  run: RunResult;
  /** `complete`: false when a limit ended it early. `refused`: why there is no file. */
  list: { rows: number; complete: boolean; refused: ProblemValue | null };
  /** `queries`: of rows that were read again. Null when no page has the value. */
  explain: { explanation: Explanation; queries: QueryProfile[] } | null;
  /** JSON. */
  rows: Uint8Array;
  check: Problem[];
  models: string[];
}

/** What a run came to. */
export interface RunResult {
  rows: number;
  /** What comes closest to what a reader looked at on pages before. */
  place: PlaceInRun | null;
  problems: Problem[];
  late: LateFill[];
  queries: QueryProfile[];
  work: LayoutWork & { planning: number; opening: number };
}

/** A task as a thread gets it. */
export interface ThreadTask {
  task: ReportTask;
  job: ReportJob;
  connections: PlainConnection[];
  /** Changes when the models do, so that a thread need not be given them each time. */
  modelsKey: string;
  port: MessagePort;
}

/** A model without what only its host's thread can do. */
export interface PlainModel {
  model: RegisteredModel['model'];
  connection: string;
  tables: Map<string, Omit<TableBinding, 'scope'>>;
}

/** What a table's row scope gives for the caller's claims, or why it gave nothing. */
export type PlainScope = RowScope | { failed: string };

export interface PlainConnection {
  name: string;
  kind: 'database' | 'rows';
  reader: string[] | null;
}

/** Stands for the workbench where a connection's name does. No connection is called so. */
export const WORKBENCH = '\0workbench';

/** What a report's thread asks of the thread in which connections are. Streams of rows are known by number. */
export interface RowCalls {
  models(): Promise<PlainModel[]>;
  /** Row scopes by model and entity. */
  scopes(models: string[]): Promise<Map<string, Map<string, PlainScope>>>;
  unfitClaim(model: string, entity: string, claim: string, wanted: string): Promise<void>;
  textOrder(connection: string): Promise<string | null>;
  open(connection: string, queries: readonly Statement[], byHand: boolean): Promise<number[]>;
  read(connection: string, entity: string, asked: AskedRows): Promise<number>;
  /** The next batch; null at the end. */
  next(stream: number): Promise<WireRow[] | null>;
  end(stream: number): Promise<void>;
  make(columns: readonly StageColumn[], apart: boolean): Promise<string>;
  copy(table: string, csv: string): Promise<void>;
  ready(table: string): Promise<void>;
  drop(tables: readonly string[]): Promise<void>;
}

/** Which fields of an entity are wanted, and the values of the report's parameters. */
export interface AskedRows {
  fields: WantedField[];
  parameters: Record<string, WireValue>;
}

/** A picture of a run, as a file. */
export interface WrittenPicture {
  hash: string;
  data: Uint8Array;
}

/** Pages as they leave a thread: their bytes behind one another, and what is known of them. */
export interface WrittenPages {
  /** Those that no page before has shown. */
  pictures: WrittenPicture[];
  data: Uint8Array;
  /** Their words, behind one another as well. */
  words: Uint8Array;
  pages: PageHeader[];
  navigation: Navigation;
  /** What a reader looked at on pages before; null as long as it is not found. */
  place: PlaceInRun | null;
}

/** Rows that are kept so that a run can be laid out anew; levels are known by number. */
export interface KeepCalls {
  /** Keeps a batch; false when no more is kept. */
  keep(level: number, data: Uint8Array): Promise<boolean>;
  broke(level: number, problem: PlainRowProblem): Promise<void>;
  /** All rows were given; tells whether all were kept. */
  keptAll(): Promise<boolean>;
  /** A kept batch by its 0-based place; null after the last. */
  kept(level: number, place: number): Promise<Uint8Array | null>;
}

/** What writing rows to a file asks of the thread in which the run is. */
export interface ListCalls extends Pick<KeepCalls, 'kept'> {
  write(data: Uint8Array): Promise<void>;
  progress(rows: number): Promise<void>;
}

/** Where a run tells how it goes on. */
export interface RunCalls extends KeepCalls {
  /** `folds`: whether there is something to open and close. */
  planned(problems: Problem[], folds: boolean): Promise<void>;
  pages(written: WrittenPages): Promise<void>;
  progress(rows: number): Promise<void>;
  /** The first pages are those of the run before. */
  reuse(count: number): Promise<void>;
  /** What the run before noted, as JSON; null when that is not known. */
  traceBefore(): Promise<Uint8Array | null>;
  trace(data: Uint8Array): Promise<void>;
}
