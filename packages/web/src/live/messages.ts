import type {
  BandAddress,
  FoldState,
  HostFunction,
  Model,
  Probe,
  Problem,
  Recipe,
  Report,
} from '@gaveta/core/internal';
import type { DesignRows } from '../api/client.ts';
import type { PackedPage } from './packed-page.ts';

/** What the page and the layout worker say to each other. Every job has a number; only the newest one matters. */
export type ToWorker =
  | {
      kind: 'start';
      fonts: { family: string; weight: 400 | 700; italic: boolean; data: ArrayBuffer }[];
      models: Model[];
      recipes: Recipe[];
      /** With the whole addresses of their modules. */
      functions: HostFunction[];
    }
  /**
   * `folds`: what was opened and closed on the live page. `sketch`: the chart whose other kinds are shown. `language`: the one that it is
   * shown in; null for its own.
   */
  | {
      kind: 'layout';
      job: number;
      report: Report;
      folds: FoldState;
      sketch: string | null;
      language: string | null;
    }
  /** Values of formulas in a band, for each time that it comes. */
  /** `first`: only up to the first page on which the first of them has a value. */
  | { kind: 'probe'; id: number; report: Report; address: BandAddress; probes: Probe[]; first: boolean }
  | { kind: 'rows'; signature: string; rows: DesignRows | null }
  /** Pictures of the library as `data:` addresses, by their ids; null for those that are not there. */
  | { kind: 'pictures'; sources: Record<string, string | null> };

export type FromWorker =
  /** Rows that the worker does not have. Its `report` names them; a `job` waits for them, or a probe. */
  | { kind: 'need-rows'; signature: string; report: Report; language: string | null; job: number | null }
  /** Pictures of the library that the worker does not have. */
  | { kind: 'need-pictures'; ids: string[] }
  | { kind: 'problems'; job: number; problems: Problem[] }
  /** `count` is the number of all pages, null while they are still being counted; `pages` holds the first of them. */
  | {
      kind: 'pages';
      job: number;
      /** How many pages before these were sent for the job already. */
      from: number;
      pages: PackedPage[];
      /** Small pictures of the kinds that charts could be of, by item and kind. */
      kinds: Record<string, Readonly<Record<string, string>>>;
      count: number | null;
      /** Until the first pages were laid out, and until all of them were; null before that. */
      milliseconds: number;
      whole: number | null;
      partRows: number | null;
      /** How many rows each drawer has, by its id; null before all pages were laid out. */
      rows: Record<string, number> | null;
    }
  | { kind: 'probed'; id: number; values: string[][]; problems: Problem[] }
  /** `isOutdated`: the page is older than the server, and must be loaded anew. */
  | { kind: 'failed'; job: number; detail: string; isOutdated: boolean };
