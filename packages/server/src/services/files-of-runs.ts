import { type Problem, type Report, type RunState, readParameters, valueText } from '@gaveta/core/internal';
import type { Equipment } from '@gaveta/output/equipment';
import { patternName } from '@gaveta/output/file-name';
import { type FileType, fileTypeOf, type Output } from '@gaveta/output/output';
import { ApiError } from '../base/api-error.ts';
import { type Limits, runLimits } from '../base/limits.ts';
import { withText } from '../base/problem-text.ts';
import { joinedFile } from '../runs/joined-file.ts';
import type { RunFile } from '../runs/run-file.ts';
import type { FileOfOutput } from '../runs/run-request.ts';
import type { Run } from '../runs/runs.ts';
import type { ReportJob } from '../threads/job.ts';
import type { ReportThreads } from '../threads/report-threads.ts';
import { issuesOf } from './call.ts';

/** Files that are wanted of a run. */
export interface FilesAsked {
  files: readonly { output: string; options: Record<string, unknown> }[];
  /** Of the name, as `{report} {date}`; that of the host when it is left out. */
  pattern?: string | undefined;
  /** Also of a run that is not whole. */
  asIs: boolean;
  /** All of them in one, also where there is one alone. */
  isZip?: boolean;
}

/** A file in which runs are joined. */
export interface JoinAsked {
  /** Name of an output of pages. */
  output: string;
  options: Record<string, unknown>;
  title: string;
  /** Also of runs that are not whole. */
  asIs: boolean;
}

const ZIP: FileType = { mime: 'application/zip', extension: 'zip' };

/** A run that becomes a file. */
export interface FileOfRun {
  type: FileType;
  name: string;
  /** Its problems that are errors. */
  errors: number;
  file: RunFile;
  /** Lets go of a file that no run keeps. */
  close?: () => Promise<void>;
}

export interface FileParts {
  equipment: Equipment;
  threads: ReportThreads;
  limits: Limits;
  /** The pattern of the names of files where nobody gives one. */
  fileNames: string;
}

/** What runs that have ended become: files, zips of several, and files in which runs are joined. */
export class FilesOfRuns {
  constructor(private readonly parts: FileParts) {}

  /** Throws when there is no such output, it does not take its options, or the pattern names nothing that there is. */
  checkFiles(run: Run, { files, pattern }: Omit<FilesAsked, 'asIs'>): FileOfOutput[] {
    this.nameOf(run, pattern);
    return files.map(({ output, options }) => this.withAttached(this.output(output, options), options));
  }

  /** A run that has ended as a file, or several as a zip. Throws as {@link checkFiles} does, and when it is not whole and `asIs` is not said. */
  file(run: Run, state: RunState, asked: FilesAsked): FileOfRun {
    const wanted = this.checkFiles(run, asked);
    const errors = errorsOf(state, asked.asIs);
    const { threads, limits } = this.parts;
    const name = this.nameOf(run, asked.pattern);
    const [only] = wanted;
    if (only && !asked.isZip) {
      const file = run.file(only, threads, runLimits(limits));
      return { type: fileTypeOf(only.output, only.options), name, errors: errors.length, file };
    }
    return { type: ZIP, name, errors: errors.length, file: run.zip(wanted, name, threads, runLimits(limits)) };
  }

  /** The name of a file by its pattern, without an extension. Throws when one that was given names what there is not. */
  nameOf({ report, request: { job } }: { report: Report; request: { job: ReportJob } }, pattern?: string): string {
    const { name, timeZone } = report;
    const [date, time] = new Date(job.now).toLocaleString('sv-SE', { timeZone }).split(' ') as [string, string];
    const given = readParameters(report, job.parameters, { host: job.host, now: job.now }).values;
    const parameters = Object.entries(given).map(([key, value]) => [key, valueText(value)]);
    const values = { ...Object.fromEntries(parameters), report: name, date, time: time.slice(0, 5).replace(':', '-') };
    const { name: made, unknown } = patternName(pattern?.trim() || this.parts.fileNames, values);
    const [part] = unknown;
    if (pattern && part !== undefined)
      throw new ApiError('unknown-name-part', { name: part, names: Object.keys(values).join(', ') });
    return made;
  }

  /** Throws when there is no such output, it takes no pages, or not its options. */
  checkJoined(asked: Omit<JoinAsked, 'asIs' | 'title'>): Output {
    const output = this.output(asked.output, asked.options);
    if (output.takes !== 'pages') throw new ApiError('not-joined', { name: output.name });
    return output;
  }

  /** Several runs that have ended as one file. Throws as {@link checkJoined} does, and where one is not whole and `asIs` is not said. */
  joined(runs: readonly Run[], { asIs, ...asked }: JoinAsked): FileOfRun {
    const output = this.checkJoined(asked);
    const errors = runs.flatMap(({ state }) => errorsOf(state, asIs));
    const { threads, limits } = this.parts;
    const file = joinedFile(runs, asked, threads, runLimits(limits).maxSeconds);
    const type = fileTypeOf(output, asked.options);
    return { type, name: asked.title, errors: errors.length, file, close: () => file.close() };
  }

  /** An output with the file of rows that is to be attached to it. Throws where that one is not offered. */
  private withAttached(output: Output, options: Record<string, unknown>): FileOfOutput {
    const inside = output.attaches?.(options) ?? null;
    const attached = inside && this.withAttached(this.output(inside.output, inside.options), inside.options);
    return { output, options, attached };
  }

  /** Throws when there is no output of the name, or it does not take the options. */
  output(name: string, options: Record<string, unknown>): Output {
    const { equipment } = this.parts;
    const output = equipment.output(name);
    if (!output) {
      const names = equipment.outputs.map((one) => one.name).join(', ');
      throw new ApiError('unknown-output', { name, names });
    }
    const read = output.options.safeParse(options);
    if (!read.success) throw new ApiError('wrong-body', { detail: issuesOf(read.error) });
    return output;
  }
}

/** The problems of a run that has ended that are errors. Throws when it has no whole file, unless `asIs` is said. */
const errorsOf = ({ status, said, problems }: RunState, asIs: boolean): Problem[] => {
  if (status === 'cancelled') throw new ApiError('run-cancelled');
  if (status === 'failed') throw new ApiError('run-failed', { detail: said ?? '' });
  const errors = problems.filter((p) => p.severity === 'error');
  if (errors.length > 0 && !asIs) throw new ApiError('run-incomplete', {}, { problems: withText(errors) });
  return errors;
};
