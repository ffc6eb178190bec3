import type { Response } from 'express';
import type { Run } from '../runs/runs.ts';

/** What following needs of a run. */
export type FollowedRun = Pick<Run, 'hasEnded' | 'hold' | 'changes'>;

/** Those who follow one run. */
interface Following {
  responses: Set<Response>;
  stop: () => void;
}

/** Those who follow runs, as server-sent events: what there is to say of a change is written once for all of them. */
export class RunEvents<R extends FollowedRun> {
  private readonly followed = new Map<R, Following>();

  /** `textOf`: the state of a run as JSON. */
  constructor(private readonly textOf: (run: R) => string) {}

  /** How many runs are followed. */
  get size(): number {
    return this.followed.size;
  }

  /** Tells the state now, and at each change until the run has ended or nobody listens any more. */
  follow(run: R, response: Response): void {
    response.set({ 'Content-Type': 'text/event-stream', Connection: 'keep-alive' });
    const text = this.said(run);
    if (run.hasEnded) {
      response.end(text);
      return;
    }
    const letGo = run.hold();
    const following = this.followed.get(run) ?? this.begin(run);
    following.responses.add(response);
    const leave = (): void => {
      letGo();
      following.responses.delete(response);
      if (following.responses.size === 0) following.stop();
    };
    response.on('close', leave);
    response.on('error', leave);
    response.write(text);
  }

  private begin(run: R): Following {
    const responses = new Set<Response>();
    const told = (): void => {
      const text = this.said(run);
      for (const response of responses) tell(response, text, run.hasEnded);
      if (run.hasEnded) stop();
    };
    const stop = (): void => {
      run.changes.off('change', told);
      if (this.followed.get(run)?.responses === responses) this.followed.delete(run);
    };
    run.changes.on('change', told);
    const following = { responses, stop };
    this.followed.set(run, following);
    return following;
  }

  private said(run: R): string {
    return `data: ${this.textOf(run)}\n\n`;
  }
}

const tell = (response: Response, text: string, isLast: boolean): void => {
  if (response.writableEnded || response.destroyed) return;
  if (isLast) response.end(text);
  // Whoever reads slowly gets the newest state later, not all of them.
  else if (!response.writableNeedDrain) response.write(text);
};
