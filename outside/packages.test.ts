import { execFile, spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { button, eventually, find, openBrowser, textOf } from '../e2e/browser.ts';

/** Packed packages, installed in an empty folder: what a stranger has, and nothing else. */
const run = promisify(execFile);
const root = resolve(import.meta.dirname, '..');
const packed = join(root, 'build', 'tarballs');
const bin = (name: string) => join(root, 'node_modules', '.bin', name);
const names = ['core', 'output', 'server', 'web', 'client', 'embed', 'cli'];

let folder: string;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'gaveta-outside-'));
  writeFileSync(join(folder, 'package.json'), JSON.stringify({ name: 'office', private: true, type: 'module' }));
  const tarballs = readdirSync(packed).map((file) => join(packed, file));
  const others = ['express', '@types/express', 'react', '@types/react', 'vue', 'svelte', 'solid-js'];
  // What an application of React and Vite is made with.
  others.push('react-dom', '@types/react-dom', 'vite', '@vitejs/plugin-react', 'typescript@5.9');
  await run('npm', ['install', '--no-audit', '--no-fund', '--prefer-offline', ...others, ...tarballs], {
    cwd: folder,
    maxBuffer: 1e8,
  });
}, 600_000);
afterAll(() => {
  rmSync(folder, { recursive: true, force: true });
});

/** Runs a program of Node in the folder, without any loader; gives what it said. */
const node = async (file: string, text: string): Promise<string> => {
  writeFileSync(join(folder, file), text);
  const { stdout } = await run(process.execPath, [file], { cwd: folder, timeout: 120_000 });
  return stdout;
};

describe('each package', () => {
  it.each(names)('%s says what is in it, and has it', async (name) => {
    const own = join(root, 'build', 'packages', name);
    const manifest = JSON.parse(readFileSync(join(own, 'package.json'), 'utf8'));
    expect(manifest).toMatchObject({ name: `@gaveta/${name}`, license: 'MIT', type: 'module' });
    expect(manifest.private).toBeUndefined();
    expect(manifest.version).toMatch(/^\d+\.\d+\.\d+/);
    for (const file of ['README.md', 'LICENSE', 'CHANGELOG.md'])
      expect(readFileSync(join(own, file), 'utf8').length, file).toBeGreaterThan(100);
    for (const [dependency, range] of Object.entries<string>(manifest.dependencies ?? {}))
      if (dependency.startsWith('@gaveta/')) expect(range).toBe(manifest.version);
    const { stdout } = await run(bin('publint'), ['run', own, '--strict', '--pack', 'npm']);
    expect(stdout).toContain('All good');
    if (name === 'web') return;
    const tarball = join(packed, readdirSync(packed).find((file) => file.startsWith(`gaveta-${name}-`))!);
    // Resolutions of CommonJS and of Node 10 are none of what ESM is for.
    await run(bin('attw'), [tarball, '--profile', 'esm-only'], { maxBuffer: 1e8 });
  });
});

const TYPED = `
import express, { type Request } from 'express';
import { createGaveta, defineModel, postgresConnection, signToken, streamConnection, type Gaveta } from '@gaveta/server';
import { defineElements, type GavetaViewer } from '@gaveta/embed';
import { Viewer } from '@gaveta/embed/react';
import { GavetaClient } from '@gaveta/client';
import { readDefinition } from '@gaveta/core';
import { defineConfig } from '@gaveta/cli';
import { defineOutput } from '@gaveta/output';
export { defineConfig, defineElements, defineModel, defineOutput, postgresConnection, readDefinition, signToken, streamConnection };

const gaveta: Gaveta = await createGaveta({
  store: 'data',
  models: [],
  connections: {},
  secret: 'x'.repeat(40),
  authenticate: (request: Request) => ({ user: String(request.query), rights: ['view'], claims: {} }),
});
express().use('/reports', gaveta.router);
const viewer: GavetaViewer = document.querySelector('gaveta-viewer')!;
viewer.addEventListener('page-count', ({ detail }) => detail.pages.toFixed());
const client = new GavetaClient({ server: 'https://reports.example/', token: () => null });
const [first] = await client.call('GET /reports', {});
export const revision: number = first!.revision;
const file: File = await viewer.export('pdf');
export const shown = <Viewer server="https://reports.example/" report="x" fetchToken={async () => file.name} onSaved={({ revision }) => revision.toFixed()} />;
`;

/** What blocks of the documentation take for granted. */
const CONTEXT = `
import type * as server from '@gaveta/server';
import '@gaveta/embed';
declare global {
  const createGaveta: typeof server.createGaveta;
  const defineModel: typeof server.defineModel;
  const postgresConnection: typeof server.postgresConnection;
  const rowsWithCall: typeof server.rowsWithCall;
  const signToken: typeof server.signToken;
  const Refused: typeof server.Refused;
  type EntityInput = server.EntityInput;
  const gaveta: server.Gaveta;
  const options: server.GavetaOptions;
  const cumeeiraModel: server.RegisteredModel;
  const app: import('express').Express;
  const response: import('express').Response;
  const rows: { id: number }[];
  const store: string;
  const secret: string;
  const text: string;
  const myToken: () => string;
  const expose: (name: string, what: object) => void;
  const ask: (...question: unknown[]) => Promise<string>;
  const office: { token(): Promise<string>; chooseFile(asked: object): Promise<string | null>; writeFile(path: string, bytes: Uint8Array): Promise<void> };
  const saveButton: HTMLButtonElement;
  namespace Express { interface Request { signedInUser: { name: string; region: number } } }
}
declare module './office.ts' {
  export const model: server.RegisteredModel;
  export const openConnection: () => Promise<server.DatabaseConnection>;
}
`;

/** The compilers that strangers have, the older one in JavaScript and the newer one, which is ten times as fast. */
const TYPESCRIPT_5 = join(root, 'node_modules', 'typescript', 'bin', 'tsc');
const TYPESCRIPT_7 = join(root, 'node_modules', '@typescript', 'native', 'bin', 'tsc');

/** Blocks of TypeScript and JavaScript of the documentation, each with where it stands. */
const blocks = (): { name: string; language: string; text: string }[] => {
  const pages = [
    'README.md',
    ...readdirSync(join(root, 'docs')).map((file) => `docs/${file}`),
    ...names.map((name) => `packages/${name}/README.md`),
  ].filter((file) => file.endsWith('.md'));
  return pages.flatMap((page) => {
    const text = readFileSync(join(root, page), 'utf8');
    return [...text.matchAll(/^```(ts|tsx|js)\n([\s\S]*?)^```$/gm)].map(([, language, code], i) => ({
      name: `${page.replace(/\W+/g, '-')}-${i + 1}`,
      language: language!,
      text: code!,
    }));
  });
};

describe('types', () => {
  it.each([
    ['nodenext', 'nodenext', TYPESCRIPT_5],
    ['esnext', 'bundler', TYPESCRIPT_7],
  ])('hold for a strict project that checks its libraries (%s)', async (module, moduleResolution, compiler) => {
    writeFileSync(join(folder, 'host.tsx'), TYPED);
    writeFileSync(
      join(folder, 'page.tsx'),
      `import '@gaveta/embed/react-elements';\nexport const page = <gaveta-viewer report="x" token-url="/token" hide="print" />;\n`,
    );
    const config = `tsconfig.${moduleResolution}.json`;
    const compilerOptions = {
      strict: true,
      target: 'ES2022',
      lib: ['ES2023', 'DOM', 'DOM.Iterable'],
      jsx: 'react-jsx',
      module,
      moduleResolution,
      skipLibCheck: false,
      noEmit: true,
      types: ['node'],
    };
    writeFileSync(join(folder, config), JSON.stringify({ compilerOptions, include: ['*.tsx'] }));
    const { stdout } = await run(process.execPath, [compiler, '-p', config], { cwd: folder }).catch(
      (error: { stdout: string }) => error,
    );
    expect(stdout).toBe('');
  });

  it('hold for every block of code in the documentation', async () => {
    const docs = join(folder, 'docs');
    mkdirSync(docs);
    writeFileSync(join(docs, 'context.d.ts'), CONTEXT);
    writeFileSync(join(docs, 'office.ts'), 'export {};\n');
    const found = blocks();
    expect(found.length).toBeGreaterThan(15);
    for (const { name, language, text } of found)
      writeFileSync(join(docs, `${name}.${language}`), `${text}export {};\n`);
    const compilerOptions = {
      strict: true,
      target: 'ES2022',
      lib: ['ES2023', 'DOM', 'DOM.Iterable'],
      module: 'esnext',
      moduleResolution: 'bundler',
      allowImportingTsExtensions: true,
      allowJs: true,
      skipLibCheck: true,
      noEmit: true,
      types: ['node'],
    };
    const check = async (include: string, more: object): Promise<string> => {
      const config = { compilerOptions: { ...compilerOptions, ...more }, include: ['docs/context.d.ts', include] };
      writeFileSync(join(folder, 'tsconfig.docs.json'), JSON.stringify(config));
      const { stdout } = await run(process.execPath, [TYPESCRIPT_7, '-p', 'tsconfig.docs.json'], { cwd: folder }).catch(
        (error: { stdout: string }) => error,
      );
      return stdout;
    };
    expect(await check('docs/*.ts', {})).toBe('');
    expect(await check('docs/*.js', { checkJs: true, strict: false })).toBe('');
  });
});

it('starts in plain Node, finds the web application by itself, and makes a PDF', async () => {
  const said = await node(
    'start.mjs',
    `import { createServer } from 'node:http';
     import { createGaveta, signToken } from '@gaveta/server';
     const secret = 'a secret of at least thirty-two letters';
     const gaveta = await createGaveta({ store: 'store', models: [], connections: {}, secret });
     const server = createServer(gaveta.handler).listen(0);
     const base = 'http://localhost:' + server.address().port;
     const page = await (await fetch(base + '/')).text();
     const script = await fetch(base + '/embed.js');
     const headers = { Authorization: 'Bearer ' + (await signToken(secret, { user: 'Inês', rights: ['view'], claims: {} })) };
     const session = await (await fetch(base + '/api/session', { headers })).json();
     const item = { kind: 'text', id: 'a', x: 0, y: 0, width: 80, height: 10, content: [{ text: 'Olá' }] };
     const report = { gaveta: 2, name: 'First', header: { height: 20, items: [item] } };
     const { pages, problems } = await gaveta.render(report, { format: 'pdf', to: 'first.pdf' });
     console.log(JSON.stringify({ root: page.includes('<div id="root">'), script: script.status, user: session.user, pages, problems }));
     server.close();
     await gaveta.close();`,
  );
  expect(JSON.parse(said.trim())).toEqual({ root: true, script: 200, user: 'Inês', pages: 1, problems: [] });
  expect(readFileSync(join(folder, 'first.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
});

it('says what to do where a host bundles it', async () => {
  writeFileSync(
    join(folder, 'bundled.mjs'),
    `import { createGaveta } from '@gaveta/server';
    await createGaveta({ store: 'other', models: [], connections: {}, secret: 'x'.repeat(40), web: false }).catch((error) => console.log(error.message));`,
  );
  const outside = [
    '@electric-sql/pglite',
    'libpg-query',
    '@resvg/resvg-js',
    'sharp',
    'pdfkit',
    'subset-font',
    '@expo-google-fonts/*',
    'piscina',
  ];
  await run(
    bin('esbuild'),
    [
      'bundled.mjs',
      '--bundle',
      '--platform=node',
      '--format=esm',
      '--outdir=out',
      '--out-extension:.js=.mjs',
      "--banner:js=import { createRequire as requireOfHost } from 'node:module'; const require = requireOfHost(import.meta.url);",
      ...outside.map((name) => `--external:${name}`),
    ],
    { cwd: folder },
  );
  const { stdout } = await run(process.execPath, ['out/bundled.mjs'], { cwd: folder });
  expect(stdout).toContain('@gaveta/server was bundled into another file');
  expect(stdout).toContain("external: ['@gaveta/*']");
});

it('has a command line that reads a configuration in TypeScript', async () => {
  writeFileSync(
    join(folder, 'gaveta.config.ts'),
    `import { defineConfig } from '@gaveta/cli';
     const close: () => Promise<void> = async () => {};
     export default defineConfig({ models: [], connections: async () => ({}), reports: async () => [], claims: {}, close });`,
  );
  const item = { kind: 'text', id: 'a', x: 0, y: 0, width: 80, height: 10, content: [{ text: 'Olá' }] };
  writeFileSync(
    join(folder, 'hello.json'),
    JSON.stringify({ gaveta: 2, name: 'Hello', header: { height: 20, items: [item] } }),
  );
  const gaveta = join(folder, 'node_modules', '.bin', 'gaveta');
  await run(gaveta, ['render', 'hello.json', '--out', 'hello.pdf'], { cwd: folder });
  expect(readFileSync(join(folder, 'hello.pdf')).subarray(0, 5).toString()).toBe('%PDF-');
  const { stdout } = await run(gaveta, ['check', 'hello.json'], { cwd: folder });
  expect(stdout).toContain('hello.json');
});

/** What a server of a folder says when it has begun, and what ends it. */
const started = async (args: string[], cwd: string): Promise<{ home: string; stop: () => void }> => {
  const child = spawn(process.execPath, args, {
    cwd,
    stdio: ['ignore', 'pipe', 'inherit'],
    env: { ...process.env, PORT: '0' },
  });
  const home = await new Promise<string>((said, failed) => {
    child.stdout.on('data', (chunk) => {
      const address = /http:\/\/localhost:\d+/.exec(String(chunk));
      if (address) said(address[0]);
    });
    child.once('exit', (code) => failed(new Error(`The server ended with ${code}.`)));
  });
  return { home, stop: () => void child.kill() };
};

/** Runs a report of a host as its page does, with the token that it hands out; gives the state of the run, and the headers of calls. */
const runAt = async (home: string, report: string) => {
  const { token } = (await (await fetch(`${home}/token`)).json()) as { token: string };
  const headers = { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' };
  const api = `${home}/reports/api`;
  const asked = await fetch(`${api}/runs`, { method: 'POST', headers, body: JSON.stringify({ report }) });
  const { id } = (await asked.json()) as { id: string };
  let state = { status: '', rows: 0, problems: [] as unknown[] };
  await expect
    .poll(
      async () => {
        state = (await (await fetch(`${api}/runs/${id}`, { headers })).json()) as typeof state;
        return state.status;
      },
      { timeout: 60_000 },
    )
    .toBe('done');
  return { ...state, id, headers };
};

describe('gaveta init', () => {
  const gaveta = (...args: string[]) => run(join(folder, 'node_modules', '.bin', 'gaveta'), args, { cwd: folder });

  it('makes an application that runs, and whose reports the command line reads', async () => {
    const { stdout } = await gaveta('init', 'starter');
    expect(stdout).toContain('npm install\n  npm start');
    const own = join(folder, 'starter');
    const { home, stop } = await started(['--env-file=.env', 'server.mjs'], own);
    try {
      expect(await (await fetch(home)).text()).toContain('<gaveta-designer report="stays"');
      expect(await runAt(home, 'stays')).toMatchObject({ rows: 120, problems: [] });
    } finally {
      stop();
    }
    const read = await run(join(folder, 'node_modules', '.bin', 'gaveta'), ['check', 'reports/stays.json'], {
      cwd: own,
    });
    expect(read.stdout).toContain('no problems');
  });

  it('makes an application of React and Vite that holds its types, is built, and runs while it is worked on', async () => {
    await gaveta('init', 'react-app', '--template', 'react');
    const own = join(folder, 'react-app');
    await run('npm', ['run', 'build'], { cwd: own });
    const built = await started(['--env-file=.env', 'server.mjs'], own);
    const { driver, close } = await openBrowser();
    try {
      await driver.get(built.home);
      await eventually(driver, 'the pages', async () => (await textOf(driver, 'nav')).includes('4 pages'));
      await driver.switchTo().frame(await find(driver, 'iframe'));
      await eventually(driver, 'the report', async () =>
        (await textOf(driver, '.pages, main')).includes('Stays by region'),
      );
      await driver.switchTo().defaultContent();
      await (await button(driver, 'Design')).click();
      await driver.switchTo().frame(await find(driver, 'gaveta-designer iframe'));
      await find(driver, 'input[value="Stays by region"]');
    } finally {
      await close();
      built.stop();
    }
    const worked = await started(['--env-file=.env', 'server.mjs', 'dev'], own);
    try {
      expect(await (await fetch(worked.home)).text()).toContain('/@vite/client');
      expect(await (await fetch(`${worked.home}/src/app.tsx`)).text()).toContain('fetchToken');
    } finally {
      worked.stop();
    }
  });

  it('adds itself to an Express application', async () => {
    const own = join(folder, 'own-app');
    mkdirSync(own);
    writeFileSync(join(own, 'package.json'), JSON.stringify({ name: 'own-app', type: 'module', dependencies: {} }));
    await gaveta('init', 'own-app', '--template', 'express');
    writeFileSync(
      join(own, 'app.mjs'),
      `import express from 'express';
       import { mountGaveta } from './gaveta.mjs';
       const app = express();
       mountGaveta(app);
       app.use(express.json());
       app.get('/', (_request, response) => response.send('mine'));
       const server = app.listen(process.env.PORT, () => console.log('http://localhost:' + server.address().port));`,
    );
    const { home, stop } = await started(['--env-file=.env.gaveta', 'app.mjs'], own);
    try {
      expect(await (await fetch(home)).text()).toBe('mine');
      expect(await runAt(home, 'stays')).toMatchObject({ rows: 120 });
    } finally {
      stop();
    }
  });
});

describe('the documentation', () => {
  it('begins with a host that runs as it stands there', async () => {
    const page = readFileSync(join(root, 'docs', 'embedding.md'), 'utf8');
    const [, text] = /```js\n\/\/ server\.mjs\n([\s\S]*?)```/.exec(page)!;
    writeFileSync(
      join(folder, 'server.mjs'),
      text!
        .replace('app.listen(3000,', 'const server = app.listen(0,')
        .replace("console.log('http://localhost:3000')", "console.log('http://localhost:' + server.address().port)"),
    );
    const { home, stop } = await started(['server.mjs'], folder);
    try {
      expect(await (await fetch(home)).text()).toContain('<gaveta-viewer report="hello"');
      const { id, headers } = await runAt(home, 'hello');
      const file = await fetch(`${home}/reports/api/runs/${id}/files/pdf`, { headers });
      expect(file.headers.get('Content-Type')).toBe('application/pdf');
      expect(
        Buffer.from(await file.arrayBuffer())
          .subarray(0, 5)
          .toString(),
      ).toBe('%PDF-');
      expect((await fetch(`${home}/reports/embed/reports/hello`)).status).toBe(200);
    } finally {
      stop();
    }
  });
});
