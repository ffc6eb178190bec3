/** Operations (RFC 8011, section 5.4.15). */
export const OPERATIONS = {
  printJob: 0x0002,
  validateJob: 0x0004,
  createJob: 0x0005,
  sendDocument: 0x0006,
  cancelJob: 0x0008,
  getJobAttributes: 0x0009,
  getJobs: 0x000a,
  getPrinterAttributes: 0x000b,
} as const;

/** Statuses (RFC 8011, appendix B). */
export const STATUS = {
  ok: 0x0000,
  badRequest: 0x0400,
  notPossible: 0x0404,
  notFound: 0x0406,
  formatNotSupported: 0x040a,
  attributesNotSupported: 0x040b,
  charsetNotSupported: 0x040d,
  operationNotSupported: 0x0501,
  versionNotSupported: 0x0503,
  busy: 0x0507,
} as const;

/** States of a job (RFC 8011, section 5.3.7). */
export const JOB_STATES = {
  pending: 3,
  held: 4,
  processing: 5,
  stopped: 6,
  canceled: 7,
  aborted: 8,
  completed: 9,
} as const;
export type JobState = keyof typeof JOB_STATES;

export const SIDES = {
  one: 'one-sided',
  'long-edge': 'two-sided-long-edge',
  'short-edge': 'two-sided-short-edge',
} as const;
