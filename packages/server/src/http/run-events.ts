import type { Response } from 'express';
import type { Run } from '../runs/runs.ts';

/** Those who follow runs, as server-sent events: what there is to say of a change is written once for all of them. */
export class RunEvents {
  private readonly followers = new Map<Run, Set<Response>>();

  /** `textOf`: the state of a run as JSON. */
  constructor(private readonly textOf: (run: Run) => string) {}

  /** Tells the state now, and at each change until the run has ended or nobody listens any more. */
  follow(run: Run, response: Response): void {
    const letGo = run.hold();
    response.set({ 'Content-Type': 'text/event-stream', Connection: 'keep-alive' });
    const stop = (): void => {
      letGo();
      this.followers.get(run)?.delete(response);
    };
    response.on('close', stop);
    response.on('error', stop);
    const followers = this.followers.get(run) ?? this.begin(run);
    followers.add(response);
    this.tell(run, response, this.said(run));
  }

  private begin(run: Run): Set<Response> {
    const followers = new Set<Response>();
    this.followers.set(run, followers);
    const told = (): void => {
      const text = this.said(run);
      for (const response of followers) this.tell(run, response, text);
      if (followers.size > 0 && !run.hasEnded) return;
      run.changes.off('change', told);
      this.followers.delete(run);
    };
    run.changes.on('change', told);
    return followers;
  }

  private said(run: Run): string {
    return `data: ${this.textOf(run)}\n\n`;
  }

  private tell(run: Run, response: Response, text: string): void {
    if (response.writableEnded || response.destroyed) return;
    // Whoever reads slowly gets the newest state later, not all of them.
    if (response.writableNeedDrain && !run.hasEnded) return;
    response.write(text);
    if (run.hasEnded) response.end();
  }
}
