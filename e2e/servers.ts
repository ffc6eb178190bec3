import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import type { Limits } from '@gaveta/server';
import { listen, startDemo } from '@gaveta-examples/cumeeira';
import { createOffice } from '@gaveta-examples/office';

export interface Servers {
  gaveta: string;
  office: string;
  close: () => Promise<void>;
}

/** What tokens of the tests are signed with. */
export const SECRET = 'a secret that the browser tests share with nobody';

/** Gaveta and the office, on free ports, with a store of their own; pages of files may show Gaveta too. */
export const startServers = async (tokenSeconds?: number, limits?: Partial<Limits>): Promise<Servers> => {
  const secret = SECRET;
  const hosts: string[] = ['file:'];
  const store = mkdtempSync(join(tmpdir(), 'gaveta-store-'));
  const demo = await startDemo({
    data: resolve('.data'),
    store,
    secret,
    hosts,
    ...(limits ? { limits } : {}),
  });
  const gaveta = await listen(demo.server, 0);
  const server = createOffice({ gaveta, secret, ...(tokenSeconds ? { tokenSeconds } : {}) });
  const office = await listen(server, 0);
  hosts.push(office);
  return {
    gaveta,
    office,
    close: async () => {
      server.closeAllConnections();
      server.close();
      await demo.close();
      rmSync(store, { recursive: true, force: true });
    },
  };
};
