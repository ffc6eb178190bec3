import type { MessagePort } from 'node:worker_threads';
import { type ProblemValue, RowProblem } from '@gaveta/core/internal';
import { ConnectionError, StatementEnded, StatementError } from '../connection/connection.ts';

/** Functions that one thread offers another; what they take and give is copied on the way. */
export type Calls<T> = {
  [K in keyof T]: T[K] extends (...args: infer A) => Promise<infer R> ? (...args: A) => Promise<R> : never;
};

type Message =
  | { call: number; name: string; args: unknown[] }
  | { answer: number; value: unknown }
  | { answer: number; error: PlainError };

/** Errors that mean something to whoever asked keep their kind. */
type PlainError =
  | { kind: 'row'; code: RowProblem['code']; data: RowProblem['data'] }
  | { kind: 'statement' | 'ended'; said: ProblemValue; position: number | null }
  | { kind: 'connection'; said: ProblemValue }
  | { kind: 'other'; message: string };

const plainError = (error: unknown): PlainError => {
  if (error instanceof RowProblem) return { kind: 'row', code: error.code, data: error.data };
  if (error instanceof StatementError) {
    const kind = error instanceof StatementEnded ? 'ended' : 'statement';
    return { kind, said: error.said, position: error.position };
  }
  if (error instanceof ConnectionError) return { kind: 'connection', said: error.said };
  return { kind: 'other', message: error instanceof Error ? error.message : String(error) };
};

const errorOf = (plain: PlainError): Error => {
  switch (plain.kind) {
    case 'row':
      return new RowProblem(plain.code, plain.data);
    case 'statement':
      return new StatementError(plain.said, plain.position);
    case 'ended':
      return new StatementEnded(plain.said, plain.position);
    case 'connection':
      return new ConnectionError(plain.said);
    case 'other':
      return new Error(plain.message);
    default:
      return plain satisfies never;
  }
};

/**
 * Joins two threads over a port: each calls what the other offers. Calls that are open when the port closes, as because
 * the other thread ended, fail.
 */
export const joined = <Theirs extends object>(port: MessagePort, ours: object): Calls<Theirs> => {
  const open = new Map<number, { resolve: (value: never) => void; reject: (error: Error) => void }>();
  let made = 0;
  let isClosed = false;
  const answer = async ({ call, name, args }: Extract<Message, { call: number }>): Promise<void> => {
    let said: Message;
    try {
      const offered = Object.hasOwn(ours, name)
        ? (ours as Record<string, (...args: unknown[]) => unknown>)[name]
        : null;
      if (!offered) throw new Error(`there is no “${name}”`);
      said = { answer: call, value: await offered(...args) };
    } catch (error) {
      said = { answer: call, error: plainError(error) };
    }
    if (isClosed) return;
    try {
      port.postMessage(said);
    } catch (error) {
      // What the host's code gives may be nothing that can be copied.
      port.postMessage({ answer: call, error: plainError(error) } satisfies Message);
    }
  };
  port.on('message', (message: Message) => {
    if ('call' in message) {
      void answer(message);
      return;
    }
    const waiting = open.get(message.answer);
    open.delete(message.answer);
    if ('error' in message) waiting?.reject(errorOf(message.error));
    else waiting?.resolve(message.value as never);
  });
  port.on('close', () => {
    isClosed = true;
    for (const { reject } of open.values()) reject(new Error('the other thread ended'));
    open.clear();
  });
  const call = (name: string, args: unknown[]): Promise<never> =>
    new Promise((resolve, reject) => {
      if (isClosed) {
        reject(new Error('the other thread ended'));
        return;
      }
      const id = ++made;
      open.set(id, { resolve, reject });
      port.postMessage({ call: id, name, args } satisfies Message);
    });
  return new Proxy({} as Calls<Theirs>, {
    get: (_, name) =>
      typeof name === 'string' && name !== 'then' ? (...args: unknown[]) => call(name, args) : undefined,
  });
};
