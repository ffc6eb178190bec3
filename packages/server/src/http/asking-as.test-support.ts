import type { Express } from 'express';
import request from 'supertest';
import { type Session, signToken } from '../access/session.ts';
import { SECRET } from '../services/huts.test-support.ts';

/** Calls of the API below `/reports` of a host, each with a token of somebody’s. */
export const askingAs =
  (host: () => Express) =>
  async (who: Session, method: 'get' | 'post' | 'put' | 'delete', path: string, body?: object) => {
    const call = request(host())
      [method](`/reports/api${path}`)
      .set('Authorization', `Bearer ${await signToken(SECRET, who)}`);
    return body ? call.send(body) : call;
  };
