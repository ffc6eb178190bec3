import type { Model, Problem, Recipe, Report } from '@gaveta/core';
import type { DesignRows } from '../api/client.ts';

/** What the page and the layout worker say to each other. Every job has a number; only the newest one matters. */
export type ToWorker =
  | {
      kind: 'start';
      fonts: { family: string; weight: 400 | 700; italic: boolean; data: ArrayBuffer }[];
      models: Model[];
      recipes: Recipe[];
    }
  | { kind: 'layout'; job: number; report: Report; nested: Record<string, Report> }
  | { kind: 'rows'; job: number; signature: string; rows: DesignRows };

export type FromWorker =
  /** The plan needs rows that the worker does not have. */
  | { kind: 'need-rows'; job: number; signature: string }
  | { kind: 'problems'; job: number; problems: (Problem & { text: string })[] }
  /** `count` is the number of all pages, null while they are still being counted; `pages` holds the first of them. */
  | {
      kind: 'pages';
      job: number;
      pages: string[];
      count: number | null;
      /** Until the first pages were laid out, and until all of them were; null before that. */
      milliseconds: number;
      whole: number | null;
      partRows: number | null;
    }
  | { kind: 'failed'; job: number; detail: string };
