import { createServer, type Server } from 'node:http';
import { type Session, signToken } from '@gaveta/server';
import express from 'express';
import { officePage } from './page.ts';

/** The people of the made-up office application. A real one has a sign-in of its own. */
export const PEOPLE: Record<string, Session & { label: string }> = {
  ines: {
    label: 'Inês, office',
    user: 'Inês Quintanilha',
    groups: ['office'],
    rights: ['view', 'design', 'deliver', 'data', 'sql', 'develop'],
    claims: { role: 'office' },
  },
  rui: {
    label: 'Rui, warden in Encosta Sul',
    user: 'Rui Varela',
    groups: ['wardens'],
    rights: ['view'],
    claims: { role: 'warden', region: 2 },
  },
};

export interface OfficeOptions {
  /** Gaveta's address. */
  gaveta: string;
  /** The secret shared with Gaveta's server; it never leaves this one. */
  secret: string;
  /** How long tokens are good for. */
  tokenSeconds?: number;
}

/** The host application: a site of its own, of another origin, that shows Gaveta in its pages. */
export const createOffice = ({ gaveta, secret, tokenSeconds = 300 }: OfficeOptions): Server => {
  const app = express();
  app.get('/token', async (request, response) => {
    const person = PEOPLE[String(request.query.as)];
    if (!person) {
      response.status(403).json({ error: 'Nobody of that name works here.' });
      return;
    }
    const { label: _, ...session } = person;
    response.json({ token: await signToken(secret, session, tokenSeconds) });
  });
  app.get('/', (request, response) => {
    const as = String(request.query.as ?? 'ines');
    const person = PEOPLE[as] ? as : 'ines';
    const report = String(request.query.report ?? 'season-ledger');
    const screen = request.query.screen === 'designer' ? 'designer' : 'viewer';
    response.type('html').send(officePage({ gaveta, person, people: PEOPLE, report, screen }));
  });
  return createServer(app);
};
