import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { type Limits, signToken } from '@gaveta/server';
import { listen, startDemo } from '@gaveta-examples/cumeeira';
import { createOffice } from '@gaveta-examples/office';
import { roundsModel } from './rounds-model.ts';

export interface Servers {
  gaveta: string;
  office: string;
  /** Another office, whose tokens run out after a few seconds. */
  hasty: string;
  /** A host whose policy forbids everything that Gaveta’s documentation does not ask for. */
  strict: string;
  close: () => Promise<void>;
}

/** What tokens of the tests are signed with. */
export const SECRET = 'a secret that the browser tests share with nobody';

/** A page with a viewer, under the policy that docs/embedding.md names. */
const strictHost = (gaveta: string): Server =>
  createServer(async (request, response) => {
    if (request.url === '/token') {
      const claims = { role: 'office' };
      const token = await signToken(SECRET, { user: 'Inês', rights: ['view'], claims });
      response.setHeader('Content-Type', 'application/json').end(JSON.stringify({ token }));
      return;
    }
    const policy = `default-src 'none'; script-src ${gaveta}; frame-src ${gaveta}; connect-src 'self' ${gaveta}; style-src 'nonce-own'; img-src data:`;
    response.setHeader('Content-Security-Policy', policy).setHeader('Content-Type', 'text/html; charset=utf-8');
    response.end(`<!doctype html><title>Strict</title><link rel="icon" href="data:,">
      <style nonce="own">gaveta-viewer { height: 600px; --gaveta-action: rgb(122, 31, 92) }</style>
      <script type="module" src="${gaveta}/embed.js"></script>
      <gaveta-viewer report="board-day" token-url="/token"></gaveta-viewer>
      <gaveta-export-button report="board-day" token-url="/token">Board day as PDF</gaveta-export-button>`);
  });

/** Gaveta and the office, on free ports, with a store of their own; pages of files may show Gaveta too. */
export const startServers = async (limits?: Partial<Limits>, firstPages = false): Promise<Servers> => {
  const secret = SECRET;
  const hosts: string[] = ['file:'];
  const store = mkdtempSync(join(tmpdir(), 'gaveta-store-'));
  const demo = await startDemo({
    data: resolve('.data'),
    store,
    secret,
    hosts,
    models: [roundsModel],
    firstPages,
    ...(limits ? { limits } : {}),
  });
  const gaveta = await listen(demo.server, 0);
  const officeServer = createOffice({ gaveta, secret });
  const office = await listen(officeServer, 0);
  const hastyServer = createOffice({ gaveta, secret, tokenSeconds: 3 });
  const hasty = await listen(hastyServer, 0);
  const strictServer = strictHost(gaveta);
  const strict = await listen(strictServer, 0);
  hosts.push(office, hasty, strict);
  return {
    gaveta,
    office,
    hasty,
    strict,
    close: async () => {
      for (const one of [officeServer, hastyServer, strictServer]) {
        one.closeAllConnections();
        one.close();
      }
      await demo.close();
      rmSync(store, { recursive: true, force: true });
    },
  };
};
