import type { LayoutWork, PageForm } from '../layout/run.ts';
import type { OutlineMark } from '../page/page.ts';
import type { ProblemValue } from '../problems/phrases.ts';
import type { Problem } from '../problems/problem.ts';
import type { FoldState } from '../shape/folds.ts';

/** Width and height in points of the pages from `page` on, 1-based, until the next such entry. */
export interface PageSizeFrom {
  page: number;
  width: number;
  height: number;
}

/** A run as its owner follows it. */
export interface RunState<P extends Problem = Problem> {
  id: string;
  report: string;
  /** `waiting` for its turn, when many run at once. */
  status: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  /** Pages that can be read. */
  pages: number;
  rows: number;
  problems: P[];
  milliseconds: number;
  /** Why it failed, in English. */
  detail: string | null;
  /** The same, as a phrase that has words in each language. */
  said: ProblemValue | null;
  /** Entries of the outline so far. */
  headings: number;
  /** Sizes of the pages so far, in order: each holds for the pages from its own on. */
  sizes: PageSizeFrom[];
  /** Parts of it can be opened and closed. */
  isFoldable: boolean;
  folds: FoldState;
  form: PageForm;
  /** The language that it is in (BCP 47). */
  language: string;
  /** Of one that was laid out anew: where that is now which its reader looked at, as soon as the pages there can be read. */
  place: PlaceInRun | null;
}

/** One query of a run. */
export interface QueryProfile {
  report: string;
  drawer: string;
  /** Null for those who may not see it. */
  sql: string | null;
  rows: number;
  /** Until its last row was read, waiting for it alone. */
  milliseconds: number;
}

/** What a run did, and where its time went. Milliseconds. */
export interface RunProfile extends LayoutWork {
  queries: QueryProfile[];
  /** Checking the definition. */
  planning: number;
  /** The database working the queries out, before the first row. */
  opening: number;
  /** Highest resident memory of the server's process while the report ran, in bytes. */
  peakMemory: number;
}

/** An entry of a run's outline. */
export interface Heading extends Pick<OutlineMark, 'level' | 'title'> {
  /** 1-based. */
  page: number;
  /** Points from the top of the page. */
  y: number;
}

/** A place in a run's pages. */
export type PlaceInRun = Pick<Heading, 'page' | 'y'>;
