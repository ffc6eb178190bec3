import { gavetaFile, IGNORED, LISTENING, ranges, serverPackages, sharedFiles } from './shared-files.ts';
import { type Files, jsonFile, type StarterContent } from './starter.ts';

/** An application of React and Vite, with an Express server that serves it: while it is worked on, and built. */
export const reactStarter = (content: StarterContent): Files => ({
  ...sharedFiles(content),
  'package.json': jsonFile({
    name: content.name,
    private: true,
    type: 'module',
    scripts: {
      dev: 'node --env-file=.env server.mjs dev',
      build: 'tsc && vite build',
      start: 'vite build && node --env-file=.env server.mjs',
    },
    dependencies: ranges(content, [...serverPackages(content), '@gaveta/embed', 'react', 'react-dom']),
    devDependencies: ranges(content, [
      '@types/react',
      '@types/react-dom',
      '@vitejs/plugin-react',
      'typescript',
      'vite',
    ]),
  }),
  '.gitignore': IGNORED,
  'gaveta.mjs': gavetaFile,
  'server.mjs': `import express from 'express';
import { closeGaveta, mountGaveta } from './gaveta.mjs';

const app = express();
mountGaveta(app);
if (process.argv[2] === 'dev') {
  const { createServer } = await import('vite');
  const vite = await createServer({ server: { middlewareMode: true }, appType: 'spa' });
  app.use(vite.middlewares);
} else app.use(express.static('dist'));

${LISTENING}`,
  'vite.config.ts': `import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({ plugins: [react()] });
`,
  'tsconfig.json': jsonFile({
    compilerOptions: {
      strict: true,
      target: 'ES2022',
      lib: ['ES2023', 'DOM', 'DOM.Iterable'],
      module: 'esnext',
      moduleResolution: 'bundler',
      jsx: 'react-jsx',
      noEmit: true,
      types: ['vite/client'],
    },
    include: ['src'],
  }),
  'index.html': `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8" />
    <meta name="viewport" content="width=device-width, initial-scale=1" />
    <title>Reports</title>
  </head>
  <body>
    <div id="root"></div>
    <script type="module" src="/src/main.tsx"></script>
  </body>
</html>
`,
  'src/main.tsx': `import { createRoot } from 'react-dom/client';
import { App } from './app';
import './style.css';

createRoot(document.getElementById('root')!).render(<App />);
`,
  'src/app.tsx': `import { Designer, Viewer } from '@gaveta/embed/react';
import { useState } from 'react';

const server = new URL('/reports/', location.href).href;

const fetchToken = async (): Promise<string> => {
  const response = await fetch('/token');
  const { token } = (await response.json()) as { token: string };
  return token;
};

export const App = () => {
  const [isDesigning, setDesigning] = useState(false);
  const [pages, setPages] = useState<number | null>(null);
  const Shown = isDesigning ? Designer : Viewer;
  return (
    <>
      <nav>
        <button type="button" onClick={() => setDesigning(!isDesigning)}>
          {isDesigning ? 'Read' : 'Design'}
        </button>
        {!isDesigning && pages !== null && <span>{pages} pages</span>}
      </nav>
      <Shown
        server={server}
        report="${content.first}"
        fetchToken={fetchToken}
        style={{ height: '100%' }}
        onPageCount={({ pages }) => setPages(pages)}
      />
    </>
  );
};
`,
  'src/style.css': `html, body, #root { height: 100%; margin: 0; }
body { font: 14px/1.5 system-ui, sans-serif; }
#root { display: grid; grid-template-rows: auto 1fr; }
nav { display: flex; gap: 12px; align-items: center; padding: 8px 16px; }
`,
});
