import {
  EMBEDDING_VERSION,
  type FrameCalls,
  type FrameMethod,
  readToHost,
  type ToFrame,
  type ToHost,
} from '@gaveta/core/embedding';
import { GavetaFailure } from './events.ts';

type Said<T> = T extends unknown ? Omit<T, 'gaveta'> : never;

/** Milliseconds that a screen may take to be ready for what it is asked. */
const PATIENCE = 60_000;

/** Talks with one frame or window of Gaveta: whoever else sends messages is not heard. */
export class Conversation {
  private readonly calls = new Map<number, { resolve: (value: unknown) => void; reject: (error: unknown) => void }>();
  private count = 0;
  private readonly listen = (event: MessageEvent): void => {
    const partner = this.partner();
    if (partner === null || event.source !== partner || event.origin !== this.origin) return;
    const message = readToHost(event.data);
    if (!message) return;
    if (message.kind === 'answer') this.end(message.call)?.resolve(message.value);
    else if (message.kind === 'refusal')
      this.end(message.call)?.reject(new GavetaFailure(message.code, message.detail));
    else this.heard(message);
  };

  constructor(
    private readonly partner: () => Window | null,
    private readonly origin: string,
    private readonly heard: (message: Exclude<ToHost, { kind: 'answer' | 'refusal' }>) => void,
  ) {
    window.addEventListener('message', this.listen);
  }

  say(message: Said<ToFrame>): void {
    this.partner()?.postMessage({ gaveta: EMBEDDING_VERSION, ...message }, this.origin);
  }

  call<M extends FrameMethod>(method: M, given: FrameCalls[M]['given']): Promise<FrameCalls[M]['gives']> {
    return new Promise((resolve, reject) => {
      const call = ++this.count;
      const late = setTimeout(
        () => this.end(call)?.reject(new GavetaFailure('no-answer', `Gaveta gave no answer to “${method}”.`)),
        // A file of a long report takes what it takes.
        method === 'export' ? 20 * PATIENCE : PATIENCE,
      );
      const ended =
        <T>(then: (value: T) => void) =>
        (value: T): void => {
          clearTimeout(late);
          then(value);
        };
      this.calls.set(call, { resolve: ended(resolve) as (value: unknown) => void, reject: ended(reject) });
      this.say({ kind: 'call', call, method, given });
    });
  }

  close(): void {
    window.removeEventListener('message', this.listen);
    for (const call of [...this.calls.keys()])
      this.end(call)?.reject(new GavetaFailure('closed', 'The element was removed.'));
  }

  private end(call: number) {
    const waiting = this.calls.get(call);
    this.calls.delete(call);
    return waiting;
  }
}
