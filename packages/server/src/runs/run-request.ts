import type { FoldState, PageForm, Report } from '@gaveta/core/internal';
import type { Output } from '@gaveta/output';
import type { PlaceAsked } from '../pages/place-finder.ts';
import type { RowSpool } from '../pages/row-spool.ts';
import type { ReportJob } from '../threads/job.ts';
import type { FileAsked } from '../threads/report-threads.ts';
import type { ReportRows } from '../threads/row-server.ts';

export interface RunRequest {
  job: ReportJob;
  /** The report as its readers have it: in their language. */
  report: Report;
  rows: ReportRows;
  /** The person, with the claims that decide on their rows. */
  owner: string;
  /** Who it is, by name. */
  user: string;
  /** Equal for two requests that give the same pages; null for one that must be made by itself. */
  sameAs: string | null;
  /** The run goes on when nobody follows it. */
  keep: boolean;
  form: PageForm;
  /** Id of the stored report that it is; null of a definition. */
  stored: string | null;
  /** The report before its reader arranged the rows of it. */
  asMade: Report;
  /** Its connections were opened with somebody’s password, for this run alone. */
  isSignedIn: boolean;
  /** Lets go of connections that were opened for this run alone. */
  close?: () => Promise<void>;
  /** A run before it that is laid out anew. */
  again?: {
    folds: FoldState;
    at: PlaceAsked | null;
    /** Its rows, held for this run; null when they are read again. */
    rows: RowSpool | null;
  };
}

/** A file that is wanted of a run. */
export type OutputAsked = Pick<FileAsked, 'output' | 'options'>;

/** An output that a run is to become. */
export interface FileOfOutput {
  output: Output;
  options: Record<string, unknown>;
  /** The file of rows that goes with it; null when none does. */
  attached: FileOfOutput | null;
}

/** Names a file among those of a run. */
export const fileKey = ({ output, options }: OutputAsked): string => JSON.stringify([output, options]);

/** Seconds past its limit after which a run that does not end by itself is ended. */
export const GRACE = 5;
