import { MADE_UP_DATABASE, MADE_UP_MODEL } from './made-up.ts';
import { code, type Files, jsonFile, type StarterContent } from './starter.ts';

/** Which packages the server's side needs, with what they are for nothing else. */
export const serverPackages = ({ database }: StarterContent): string[] => [
  'express',
  '@gaveta/server',
  '@gaveta/cli',
  ...(database ? [] : ['@electric-sql/pglite']),
];

export const ranges = (content: StarterContent, packages: readonly string[]): Record<string, string> =>
  Object.fromEntries(packages.map((name) => [name, content.versions[name]!]));

/** The data model, where its rows come from, the reports, and what the command line needs of them. */
export const sharedFiles = (content: StarterContent, envFile = '.env'): Files => {
  const { database, reports, secret } = content;
  const connection = database
    ? `import { postgresConnection } from '@gaveta/server';

/** The database whose address .env has. */
const office = postgresConnection({ connectionString: process.env.DATABASE_URL });

/** Where rows come from. */
export const connections = { office };

export const close = () => office.close();
`
    : `import { pgliteConnection } from '@gaveta/server';
import { openDatabase } from './database.mjs';

const database = await openDatabase();

/** Where rows come from. For a server: postgresConnection({ connectionString: process.env.DATABASE_URL }). */
export const connections = { office: pgliteConnection(database) };

export const close = () => database.close();
`;
  return {
    [envFile]: `# Signs the tokens that pages carry. Keep it out of pages, logs and repositories.
GAVETA_SECRET=${secret}
${database ? `DATABASE_URL=${database.address}\n` : ''}`,
    'model.mjs': `import { defineModel } from '@gaveta/server';

/**
 * What makers of reports see of the database: entities, fields and relations under names of their own. Change labels, hide fields
 * (hidden: true), and say who sees which rows: scope: (claims) => ({ keep: 'region = CLAIM("region")' }).
 */
export const model = defineModel(${code(database?.model ?? MADE_UP_MODEL)});
`,
    'connections.mjs': connection,
    ...(database ? {} : { 'database.mjs': MADE_UP_DATABASE }),
    'gaveta.config.mjs': `import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { defineConfig } from '@gaveta/cli';
import { model } from './model.mjs';

const folder = import.meta.dirname;
${database ? `process.loadEnvFile(join(folder, '${envFile}'));` : '// The database of the folder is open in one process at a time: stop the server before npx gaveta reads rows.'}
const open = () => import('./connections.mjs');
let isOpen = false;

/** What npx gaveta works on in this folder: render, check, test, types, doctor. */
export default defineConfig({
  models: [model],
  connections: async () => {
    const { connections } = await open();
    isOpen = true;
    return connections;
  },
  reports: async () =>
    Promise.all(
      (await readdir(join(folder, 'reports'))).map(async (file) => ({
        id: file.replace(/\\.json$/, ''),
        definition: JSON.parse(await readFile(join(folder, 'reports', file), 'utf8')),
      })),
    ),
  claims: {},
  close: async () => {
    if (isOpen) await (await open()).close();
  },
});
`,
    ...Object.fromEntries(Object.entries(reports).map(([id, report]) => [`reports/${id}.json`, jsonFile(report)])),
  };
};

/** Gaveta, and the token that pages carry. */
export const gavetaFile = `import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { createGaveta, signToken } from '@gaveta/server';
import { close, connections } from './connections.mjs';
import { model } from './model.mjs';

const secret = process.env.GAVETA_SECRET;
const folder = import.meta.dirname;

const gaveta = await createGaveta({ store: join(folder, 'data', 'store'), models: [model], connections, secret });

// What is in the folder “reports” goes into the store once; what is designed afterwards is kept there.
for (const file of await readdir(join(folder, 'reports'))) {
  const id = file.replace(/\\.json$/, '');
  if (await gaveta.reports.get(id)) continue;
  await gaveta.reports.put(id, JSON.parse(await readFile(join(folder, 'reports', file), 'utf8')));
}

/** Ends Gaveta’s work, and lets go of its files. */
export const closeGaveta = async () => {
  await gaveta.close();
  await close();
};

/** Puts Gaveta under /reports, and its tokens under /token. Call it before express.json(). */
export const mountGaveta = (app) => {
  app.use('/reports', gaveta.router);
  app.get('/token', async (_request, response) => {
    // Everybody is the same person here: put in who is signed in to your application, and what they may do.
    const session = { user: 'Somebody', rights: ['view', 'design'], claims: {} };
    response.json({ token: await signToken(secret, session) });
  });
};
`;

/** Listens, and ends without losing anything. */
export const LISTENING = `const port = process.env.PORT ?? 3000;
const server = app.listen(port, () => console.log(\`http://localhost:\${server.address().port}\`));

for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, async () => {
    server.close();
    await closeGaveta();
    process.exit(0);
  });
`;

export const IGNORED = `node_modules
data
dist
.env
`;
