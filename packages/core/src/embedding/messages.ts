/**
 * What a host page and an embedded frame say to each other, by `postMessage`. The frame says `ready` first and gets no
 * rows before a `token` has come; when that runs out it asks again with `need-token`. Either side leaves alone what it does not know,
 * so that the two may be of different releases.
 */
export const EMBEDDING_VERSION = 1;

export type HostValue = string | number | boolean | null | (string | number)[];
/** Values by parameter name; dates as `2025-07-12`, ranges as `2025-06-01..2025-09-30`, null for none. */
export type HostValues = Record<string, HostValue>;

/** Parts of the screens that a host may leave out. */
export const PARTS = [
  'export',
  'print',
  'outline',
  'wing',
  'find',
  'origin',
  'arrange',
  'refresh',
  'window',
  'parameters',
  'folds',
  'zoom',
  'problems',
  'design',
  'revisions',
  'language',
  'title',
] as const;
export type Part = (typeof PARTS)[number];

/** What a host’s style may say, each by a CSS custom property of the element: `--gaveta-action` and so on. */
export const LOOK_TOKENS = [
  'paper',
  'surface',
  'desk',
  'rule',
  'ink',
  'muted',
  'action',
  'on-action',
  'drawer',
  'error',
  'font',
  'radius',
  'density',
  'scheme',
] as const;
export type LookToken = (typeof LOOK_TOKENS)[number];

/** A button of the host’s own; `place`: in the strip above the report, or in the menu behind it. */
export interface HostAction {
  id: string;
  label: string;
  place: 'bar' | 'menu';
}

export interface HostSettings {
  look: Partial<Record<LookToken, string>>;
  hide: Part[];
  actions: HostAction[];
  /** Words of the interface by key, in place of its own. */
  words: Record<string, string>;
  /** The frame is as high as what it shows. */
  isAutoHeight: boolean;
}

/** What a host may ask of a frame, and what it gets. */
export interface FrameCalls {
  /** Runs the report anew. */
  run: { given: Record<string, never>; gives: null };
  print: { given: Record<string, never>; gives: null };
  export: {
    given: { format: string; options: Record<string, string | number | boolean>; fileName: string };
    gives: { name: string; blob: Blob };
  };
  goTo: { given: { page: number } | { anchor: string }; gives: boolean };
  find: { given: { text: string }; gives: { count: number; pages: number[] } };
  setParameters: { given: { values: HostValues }; gives: null };
  save: { given: { note: string }; gives: null };
}
export type FrameMethod = keyof FrameCalls;

type Gaveta = { gaveta: typeof EMBEDDING_VERSION };

export type ToFrame = Gaveta &
  (
    | { kind: 'token'; token: string }
    | { kind: 'parameters'; values: HostValues }
    | ({ kind: 'settings' } & HostSettings)
    | { kind: 'call'; call: number; method: FrameMethod; given: object }
  );

/** What happens in a frame, as its host hears of it: each is an event of the element. */
export interface FrameEvents {
  /** A screen shows a report; null: the list of reports, or a new one. */
  opened: { report: string | null; screen: 'viewer' | 'designer' | 'revisions' | 'library' };
  /** A run begins. */
  'run-started': { report: string; run: string };
  /** All its pages are there, or as many as there will be. */
  'run-ended': { report: string; run: string; status: string; pages: number; rows: number; problems: number };
  /** All pages are there. */
  'page-count': { report: string; pages: number };
  /** The page that is looked at, from 1. */
  'page-shown': { report: string; page: number };
  /** The values that a run is made with, as they stand in an address. */
  'parameters-changed': { report: string; values: HostValues };
  /** A file was made. */
  exported: { report: string; format: string; name: string };
  /** The browser’s window for printing was opened. */
  printed: { report: string };
  /** A revision was saved. */
  saved: { report: string; revision: number };
  /** Whether there is work that is not saved; null for a report that never was. */
  unsaved: { report: string | null; isUnsaved: boolean };
  /** Whether Gaveta’s server is reached. */
  connection: { isOnline: boolean };
  /** A button of the host’s own was pressed. */
  action: { id: string; report: string; run: string | null; page: number; values: HostValues };
  /** Something went wrong: a code of docs/errors.md, or of the elements, and words. */
  error: { code: string; detail: string };
}
export type FrameEvent = keyof FrameEvents;

type EventMessage = { [K in FrameEvent]: { kind: K } & FrameEvents[K] }[FrameEvent];

export type ToHost = Gaveta &
  (
    | { kind: 'ready' }
    | { kind: 'need-token' }
    | { kind: 'height'; height: number }
    | { kind: 'leave' }
    | { kind: 'detach'; address: string }
    | { kind: 'answer'; call: number; value: unknown }
    | { kind: 'refusal'; call: number; code: string; detail: string }
    | EventMessage
  );

const isMessage = (data: unknown): data is { gaveta: number; kind: string } =>
  typeof data === 'object' && data !== null && 'gaveta' in data && data.gaveta === EMBEDDING_VERSION && 'kind' in data;

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

/** Takes messages of our own contract only; anything else on the page's channel gives null. */
export const readToFrame = (data: unknown): ToFrame | null => {
  if (!isMessage(data)) return null;
  const message = data as ToFrame;
  switch (message.kind) {
    case 'token':
      return typeof message.token === 'string' ? message : null;
    case 'parameters':
      return isRecord(message.values) ? message : null;
    case 'settings':
      return isRecord(message.look) && Array.isArray(message.hide) && Array.isArray(message.actions) ? message : null;
    case 'call':
      return typeof message.call === 'number' && isRecord(message.given) ? message : null;
    default:
      message satisfies never;
      return null;
  }
};

/** Kinds of events, for whoever passes them on without knowing each. */
export const FRAME_EVENTS = Object.keys({
  opened: true,
  'run-started': true,
  'run-ended': true,
  'page-count': true,
  'page-shown': true,
  'parameters-changed': true,
  exported: true,
  printed: true,
  saved: true,
  unsaved: true,
  connection: true,
  action: true,
  error: true,
} satisfies Record<FrameEvent, true>) as FrameEvent[];

/** By kind, so that the compiler names one that is missing. */
const OTHER_TO_HOST: Record<Exclude<ToHost['kind'], FrameEvent>, true> = {
  ready: true,
  'need-token': true,
  height: true,
  leave: true,
  detach: true,
  answer: true,
  refusal: true,
};
const TO_HOST: readonly string[] = [...Object.keys(OTHER_TO_HOST), ...FRAME_EVENTS];

export const readToHost = (data: unknown): ToHost | null =>
  isMessage(data) && TO_HOST.includes(data.kind) ? (data as ToHost) : null;
