import type { CallName } from '@gaveta/core/contract';
import type { Request, Response, Router } from 'express';
import { Caller, type Calls, checkRight, contractOf, serve, Written } from '../services/call.ts';
import { callerOf } from './front.ts';
import { goneSignal } from './gone.ts';

const METHODS = { GET: 'get', POST: 'post', PUT: 'put', DELETE: 'delete' } as const;

/** Method and address of a call. */
export const addressOf = (name: CallName): { method: (typeof METHODS)[keyof typeof METHODS]; path: string } => {
  const [method, path] = name.split(' ') as [keyof typeof METHODS, string];
  return { method: METHODS[method], path };
};

/** A route for each call of a service: it reads the call by the contract, and writes the answer. */
export const addCalls = <C extends CallName>(api: Router, calls: Calls<C>): void => {
  for (const name of Object.keys(calls) as C[]) {
    const { method, path } = addressOf(name);
    const { status = 200 } = contractOf(name);
    api[method](path, async (request: Request, response: Response) => {
      const answer = await serve(calls, name, {
        caller: new Caller(callerOf(request)),
        params: request.params as Record<string, string>,
        query: request.query,
        body: request.body,
        signal: goneSignal(response),
      });
      response.status(status);
      if (status === 204) response.end();
      else if (answer instanceof Written) response.type('json').send(Buffer.from(answer.json));
      else response.json(answer);
    });
  }
};

/** A route that answers with something else than JSON, or takes something else. */
export const addRoute = <C extends CallName>(
  api: Router,
  name: C,
  answer: (request: Request, response: Response, caller: Caller) => Promise<void> | void,
): void => {
  const { method, path } = addressOf(name);
  api[method](path, async (request: Request, response: Response) => {
    const caller = new Caller(callerOf(request));
    checkRight(name, caller);
    await answer(request, response, caller);
  });
};
