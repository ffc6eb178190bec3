import { execFile, spawn } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

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

describe('types', () => {
  it.each([
    ['nodenext', 'nodenext'],
    ['esnext', 'bundler'],
  ])('hold for a strict project that checks its libraries (%s)', async (module, moduleResolution) => {
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
    const { stdout } = await run(
      process.execPath,
      [join(root, 'node_modules', 'typescript', 'bin', 'tsc'), '-p', config],
      { cwd: folder },
    ).catch((error: { stdout: string }) => error);
    expect(stdout).toBe('');
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
    const child = spawn(process.execPath, ['server.mjs'], { cwd: folder, stdio: ['ignore', 'pipe', 'inherit'] });
    try {
      const home = await new Promise<string>((said) => child.stdout.on('data', (chunk) => said(String(chunk).trim())));
      expect(await (await fetch(home)).text()).toContain('<gaveta-viewer report="hello"');
      const { token } = (await (await fetch(`${home}/token`)).json()) as { token: string };
      const headers = { Authorization: `Bearer ${token}`, 'Content-Type': 'application/json' };
      const api = `${home}/reports/api`;
      const started = await fetch(`${api}/runs`, { method: 'POST', headers, body: '{"report":"hello"}' });
      const { id } = (await started.json()) as { id: string };
      await expect
        .poll(
          async () => ((await (await fetch(`${api}/runs/${id}`, { headers })).json()) as { status: string }).status,
          {
            timeout: 30_000,
          },
        )
        .toBe('done');
      const file = await fetch(`${api}/runs/${id}/files/pdf`, { headers });
      expect(file.headers.get('Content-Type')).toBe('application/pdf');
      expect(
        Buffer.from(await file.arrayBuffer())
          .subarray(0, 5)
          .toString(),
      ).toBe('%PDF-');
      expect((await fetch(`${home}/reports/embed/reports/hello`)).status).toBe(200);
    } finally {
      child.kill('SIGKILL');
    }
  });
});
