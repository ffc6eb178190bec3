import type { Run } from './run.ts';
import type { RunRequest } from './run-request.ts';

/** The runs of a server, by whom they belong to. */
export interface RunBook {
  /**
   * Starts a run, or lets it wait for its turn; gives the same one to whoever asks for the same. Null when too many wait.
   * `before`: the run that it is laid out from.
   */
  start(request: RunRequest, before?: Run | null): Run | null;
  /** Only to whom it belongs: pages hold rows of the owner's scope. */
  get(id: string, owner: string): Run | null;
  /** The file of a picture that one of the owner’s runs shows, by its hash; null when none does. */
  picture(hash: string, owner: string): Promise<Buffer | null>;
  /** Ends a run for one of its owners; it goes on for the others. */
  cancel(run: Run, owner: string): Promise<void>;
  close(): Promise<void>;
}
