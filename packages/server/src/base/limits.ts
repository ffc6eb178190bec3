import { LAYOUT_LIMITS, type LayoutLimits } from '@gaveta/core/internal';

/** Everything that a server gives no more of, each an option of createGaveta. docs/security.md lists them. */
export interface Limits extends LayoutLimits {
  /** Rows of one report, and of one source that is brought together with others. */
  maxRows: number;
  maxPages: number;
  /** A run that takes longer is ended, with what it has so far. */
  maxSeconds: number;
  /** Megabytes that planning and laying out one report may take. */
  reportMemory: number;
  /** Rows of each drawer that the live page gets. */
  designRows: number;
  /** Looking at rows on the Data screen or while designing is ended after so long. */
  previewSeconds: number;

  /** Runs at once on this server; others wait for their turn. */
  runsAtOnce: number;
  /** Runs of one person at once; their others wait. */
  runsEach: number;
  /** Runs of one person that may wait; a further one is refused. */
  runsWaiting: number;
  /** Runs of one person that are kept when they have ended; older ones are let go. */
  keepRuns: number;
  /** Ended runs are let go after so long, unless somebody reads them. */
  keepMinutes: number;
  /** Bytes of rows of one run that are kept, where readers can open and close parts of it; past them, they are read again. */
  keepRowBytes: number;
  /** A run that nobody follows or asks for is ended after so long, unless it is to be kept. */
  abandonSeconds: number;

  /** Bytes of a call’s body; of a file that is uploaded, `maxUpload`. */
  maxBody: number;
  /** Objects and lists of a body inside one another. */
  maxDepth: number;
  maxUpload: number;

  /** Seconds and megabytes that reading a file or an answer of a service may take. */
  fileSeconds: number;
  fileMemory: number;
  /** Of a file: rows and columns of a table, cells of all its tables, elements inside one another, and unpacked bytes. */
  fileRows: number;
  fileColumns: number;
  fileCells: number;
  fileDepth: number;
  fileUnpacked: number;
}

const MEGABYTE = 1024 * 1024;

export const LIMITS: Limits = {
  ...LAYOUT_LIMITS,
  maxRows: 2_000_000,
  maxPages: 20_000,
  maxSeconds: 600,
  reportMemory: 2048,
  designRows: 20_000,
  previewSeconds: 20,
  runsAtOnce: 8,
  runsEach: 3,
  runsWaiting: 20,
  keepRuns: 20,
  keepMinutes: 60,
  keepRowBytes: 64 * MEGABYTE,
  abandonSeconds: 60,
  maxBody: 5 * MEGABYTE,
  maxDepth: 200,
  maxUpload: 64 * MEGABYTE,
  fileSeconds: 30,
  fileMemory: 1024,
  fileRows: 2_000_000,
  fileColumns: 1000,
  fileCells: 20_000_000,
  fileDepth: 100,
  fileUnpacked: 512 * MEGABYTE,
};

/** The limits of a server. Throws when one of them is no number above 0. */
export const limitsWith = (given: Partial<Limits>): Limits => {
  for (const [name, value] of Object.entries(given)) {
    if (!Object.hasOwn(LIMITS, name)) throw new Error(`createGaveta: limits: there is no “${name}”`);
    if (value !== undefined && !(typeof value === 'number' && value > 0))
      throw new Error(`createGaveta: limits.${name} must be a number above 0`);
  }
  const set = Object.entries(given).filter(([, value]) => value !== undefined);
  return { ...LIMITS, ...Object.fromEntries(set) };
};

/** The limits of runs, those of their layout apart. */
export const runLimits = (limits: Limits): Limits & { layout: LayoutLimits } => {
  const { maxText, maxPixels, maxAhead } = limits;
  return { ...limits, layout: { maxText, maxPixels, maxAhead } };
};
