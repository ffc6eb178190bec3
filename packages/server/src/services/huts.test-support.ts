import type { PGlite } from '@electric-sql/pglite';
import { cumeeiraModel, openDemoDatabase } from '@gaveta-examples/cumeeira';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';
import type { GavetaOptions } from '../options.ts';

export const SECRET = 'a secret of at least thirty-two letters';

/** A report over the demo's huts, with a parameter. */
export const HUTS = {
  gaveta: 2,
  name: 'Huts: all/of them',
  model: 'cumeeira',
  parameters: [{ name: 'least', label: 'Beds', type: 'number', default: 0 }],
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      filter: 'beds >= parameters.least',
      detail: {
        height: 6,
        items: [{ kind: 'field', id: 'name', formula: 'name', x: 0, y: 0, width: 60, height: 5 }],
      },
    },
  ],
};

/** Gaveta over the demo's database, with a store of its own, for code: without the web application. */
export const gavetaOver = async (database: PGlite, options: Partial<GavetaOptions> = {}): Promise<Gaveta> =>
  createGaveta({
    // Pictures run reports in the background, which others count.
    firstPages: false,
    store: await openBlank(),
    models: [cumeeiraModel],
    connections: { cumeeira: pgliteConnection(database) },
    secret: SECRET,
    web: false,
    ...options,
  });

let opened: Promise<PGlite> | null = null;

/** The demo’s database, which tests only read: opened once for all files that run one after another, and gone with their process. */
export const demoDatabase = (): Promise<PGlite> => {
  opened ??= openDemoDatabase('.data');
  return opened;
};
