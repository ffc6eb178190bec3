import { createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { Readable, type Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { type BodyRead, CONTRACT } from '@gaveta/core/contract';
import type { FoldState, GivenParameters, Problem, RunState } from '@gaveta/core/internal';
import { fileName } from '@gaveta/output/file-name';
import type { Claims } from '../access/claims.ts';
import type { Session } from '../access/session.ts';
import { ApiError } from '../base/api-error.ts';
import { left } from '../runs/run-file.ts';
import type { Run } from '../runs/runs.ts';
import type { GivenRows } from '../sources/given.ts';
import { Caller, readBy } from './call.ts';
import { type RunService, stateOf, waited } from './runs.ts';

/** What a report is rendered as, and for whom. */
export interface RenderOptions {
  /** Name of the output, as `pdf`; see docs/outputs.md. Several, each with its options, come as a zip. */
  format: string | readonly { format: string; options?: Record<string, unknown> }[];
  /** Those of the output, where it is one. */
  options?: Record<string, unknown>;
  /** Pattern of the file’s name, as `{report} {date}`; see docs/outputs.md. */
  fileName?: string;
  /** Values of the report's parameters, by name. */
  parameters?: GivenParameters;
  /** Languages of the reader, as `pt-PT`, the preferred one first: the report is shown in the first of them that it speaks. */
  language?: string | readonly string[];
  /** Values that row scopes read, as a token would carry them; none when left out. */
  claims?: Claims;
  /** Who runs it; “code” when left out. */
  user?: string;
  /** Values of parameters that only the host sets. */
  hostParameters?: Session['parameters'];
  /** What is open or closed: as it starts when left out. */
  folds?: FoldState['base'];
  /**
   * Rows of entities of the report's model, whose connection gives rows and is no database: lists, streams, or functions that make
   * them. They are held to the types of the model's fields.
   */
  data?: GivenRows;
  /** Told how far the run is, whenever that changes. */
  onProgress?: (state: RunState) => void;
  /** Where the file goes: a path, which is there only when all of it is, or a stream; left out: it is read from the result. */
  to?: string | Writable;
  /** Also where the run is not whole: its problems are in the result. It is refused otherwise. */
  incomplete?: boolean;
  /** Gives it up. */
  signal?: AbortSignal;
}

export interface Rendered {
  /** Of the file, made of the report’s name. */
  name: string;
  /** Media type. */
  mime: string;
  /** Bytes. */
  size: number;
  /** Read. */
  rows: number;
  /** Laid out; a file of rows has them too. */
  pages: number;
  /** What was found wrong, with words. */
  problems: Problem[];
  /** The file, to be read or destroyed; null where it went to `to`. */
  stream: Readable | null;
}

/**
 * Runs a stored report, by its id, or a definition, and writes it to a file of an output, as those do who ask for one over the API.
 * Throws ApiError, with a code of docs/errors.md, or the signal’s reason.
 */
export const renderReport = async (
  service: RunService,
  report: string | object,
  asked: RenderOptions,
): Promise<Rendered> => {
  const { format, options = {}, folds, to, incomplete = false } = asked;
  // What the host’s own code throws while it is told of progress ends the run, as its signal does.
  const failed = new AbortController();
  const signal = asked.signal ? AbortSignal.any([asked.signal, failed.signal]) : failed.signal;
  signal.throwIfAborted();
  const files =
    typeof format === 'string'
      ? [{ output: format, options }]
      : format.map((one) => ({ output: one.format, options: one.options ?? {} }));
  for (const one of files) service.files.output(one.output, one.options);
  const caller = callerOf(asked);
  const body = bodyOf({ ...asked, report });
  const holds: (() => void)[] = [];
  const letGo = (): void => {
    for (const release of holds.splice(0)) release();
  };
  const ended = async (run: Run): Promise<RunState> => {
    holds.push(
      run.hold(),
      followed(run, asked.onProgress, (error) => failed.abort(error)),
    );
    const state = await Promise.race([run.finished(), left(signal)]);
    if (state !== null) return stateOf(run);
    await service.cancel(run, caller);
    throw signal.reason;
  };
  try {
    let run = await service.start(body, caller, signal, asked.data);
    let state = await ended(run);
    if (folds !== undefined && folds !== 'start' && state.isFoldable && state.status === 'done') {
      run = service.turn(run, { folds: { base: folds, turned: [] }, form: null, at: null }, caller);
      state = await ended(run);
    }
    const wanted = { files, pattern: asked.fileName, asIs: incomplete, isZip: typeof format !== 'string' };
    const { type, name, file: made } = service.files.file(run, state, wanted);
    holds.push(made.hold());
    const file = await waited(made.whole(signal));
    if (!file) throw signal.reason;
    const result = {
      name: `${fileName(name, 'report')}.${type.extension}`,
      mime: type.mime,
      size: file.size,
      rows: state.rows,
      pages: state.pages,
      problems: state.problems,
    };
    return await delivered(Readable.from(file.chunks(), { objectMode: true }), result, { to, signal }, holds);
  } catch (error) {
    letGo();
    throw error;
  }
};

/** A report among those that are joined. */
export interface JoinedReport {
  /** Id of a stored report, or a definition. */
  report: string | object;
  parameters?: GivenParameters;
  /** Languages of the reader, as `pt-PT`, the preferred one first. */
  language?: string | readonly string[];
}

/** What reports that are joined become, and for whom. */
export interface JoinOptions
  extends Pick<RenderOptions, 'options' | 'claims' | 'user' | 'hostParameters' | 'to' | 'signal'> {
  /** Name of an output of pages; “pdf” when left out. */
  format?: string;
  /** Of the file; the names of its reports when left out. */
  title?: string;
}

/**
 * Runs reports one after another and writes their pages to one file: numbered on through all of them, each under its title in the
 * outline. Throws as {@link renderReport} does, and where a report is not whole.
 */
export const joinReports = async (
  service: RunService,
  reports: readonly JoinedReport[],
  asked: JoinOptions = {},
): Promise<Rendered> => {
  const { format = 'pdf', options = {}, to } = asked;
  const signal = asked.signal ?? new AbortController().signal;
  signal.throwIfAborted();
  if (reports.length === 0) throw new ApiError('wrong-body', { detail: 'There are no reports to join.' });
  service.files.checkJoined({ output: format, options });
  const caller = callerOf(asked);
  const runs: Run[] = [];
  const holds: (() => void)[] = [];
  try {
    for (const one of reports) {
      const run = await service.start(bodyOf(one), caller, signal);
      holds.push(run.hold());
      runs.push(run);
      if ((await Promise.race([run.finished(), left(signal)])) !== null) continue;
      await service.cancel(run, caller);
      throw signal.reason;
    }
    const title = asked.title ?? runs.map(({ report }) => report.name).join(', ');
    const joined = service.files.joined(runs, { output: format, options, title, asIs: false });
    const { type, name, file: made } = joined;
    holds.push(() => void joined.close?.().catch(() => {}));
    const file = await waited(made.whole(signal));
    if (!file) throw signal.reason;
    const states = runs.map(stateOf);
    const result = {
      name: `${fileName(name, 'reports')}.${type.extension}`,
      mime: type.mime,
      size: file.size,
      rows: states.reduce((sum, { rows }) => sum + rows, 0),
      pages: states.reduce((sum, { pages }) => sum + pages, 0),
      problems: states.flatMap(({ problems }) => problems),
    };
    return await delivered(Readable.from(file.chunks(), { objectMode: true }), result, { to, signal }, holds);
  } catch (error) {
    for (const letGo of holds.splice(0)) letGo();
    throw error;
  }
};

/** Tells how far a run is; gives what ends that. `failed` hears what the host’s code throws. */
export const followed = (
  run: Run,
  onProgress: RenderOptions['onProgress'],
  failed: (error: unknown) => void,
): (() => void) => {
  if (!onProgress) return () => {};
  const tell = (): void => {
    try {
      onProgress(stateOf(run));
    } catch (error) {
      run.changes.off('change', tell);
      failed(error);
    }
  };
  run.changes.on('change', tell);
  return () => run.changes.off('change', tell);
};

/** Code may do what its host lets it: it sees what the claims see. */
export const callerOf = ({
  user = 'code',
  claims = {},
  hostParameters,
}: Pick<RenderOptions, 'user' | 'claims' | 'hostParameters'>): Caller =>
  new Caller(
    {
      user,
      claims,
      rights: ['view', 'design'],
      ...(hostParameters ? { parameters: hostParameters } : {}),
    },
    true,
  );

/** The call that runs a report. */
export const bodyOf = ({ report, parameters = {}, language }: JoinedReport): BodyRead<'POST /runs'> => {
  const facts = { parameters, credentials: {}, keep: true, ...(language === undefined ? {} : { language }) };
  const given = typeof report === 'string' ? { report, ...facts } : { definition: report, ...facts };
  return readBy(CONTRACT['POST /runs'].body, given) as BodyRead<'POST /runs'>;
};

/** A file on its way to where it goes, or to be read; `holds` are let go of when it is there. */
const delivered = async (
  stream: Readable,
  result: Omit<Rendered, 'stream'>,
  { to, signal }: { to: RenderOptions['to']; signal: AbortSignal },
  holds: (() => void)[],
): Promise<Rendered> => {
  const letGo = (): void => {
    for (const release of holds.splice(0)) release();
  };
  if (to === undefined) {
    // Whoever reads it keeps it until it has ended.
    stream.once('close', letGo);
    return { ...result, stream };
  }
  await (typeof to === 'string' ? intoFile(stream, to, signal) : pipeline(stream, to, { signal }));
  letGo();
  return { ...result, stream: null };
};

/** Puts a file at a path once all of it is there; what is no file there, as a device or a pipe, is written to as it is. */
const intoFile = async (stream: Readable, path: string, signal: AbortSignal): Promise<void> => {
  const there = await stat(path).catch(() => null);
  if (there && !there.isFile()) return pipeline(stream, createWriteStream(path), { signal });
  const part = `${path}.part`;
  try {
    await pipeline(stream, createWriteStream(part), { signal });
    await rename(part, path);
  } catch (error) {
    await rm(part, { force: true });
    throw error;
  }
};
