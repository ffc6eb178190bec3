import { gavetaFile, IGNORED, LISTENING, ranges, serverPackages, sharedFiles } from './shared-files.ts';
import { type Files, jsonFile, type StarterContent } from './starter.ts';

/** An Express server with a page that shows a report and changes it. */
export const pageStarter = (content: StarterContent): Files => ({
  ...sharedFiles(content),
  'package.json': jsonFile({
    name: content.name,
    private: true,
    type: 'module',
    scripts: { start: 'node --env-file=.env server.mjs' },
    dependencies: ranges(content, serverPackages(content)),
  }),
  '.gitignore': IGNORED,
  'gaveta.mjs': gavetaFile,
  'server.mjs': `import express from 'express';
import { closeGaveta, mountGaveta } from './gaveta.mjs';

const app = express();
mountGaveta(app);
app.use(express.static('public'));

${LISTENING}`,
  'public/index.html': `<!doctype html>
<html lang="en">
  <head>
    <meta charset="utf-8" />
    <meta name="viewport" content="width=device-width, initial-scale=1" />
    <title>Reports</title>
    <script type="module" src="/reports/embed.js"></script>
    <style>
      body { margin: 0; font: 14px/1.5 system-ui, sans-serif; display: grid; grid-template-rows: auto 1fr; height: 100vh; }
      nav { display: flex; gap: 8px; padding: 8px 16px; }
      main { min-height: 0; }
      gaveta-viewer, gaveta-designer { height: 100%; }
    </style>
  </head>
  <body>
    <nav>
      <button data-shows="gaveta-viewer">Read</button>
      <button data-shows="gaveta-designer">Design</button>
    </nav>
    <main>
      <gaveta-viewer report="${content.first}" token-url="/token"></gaveta-viewer>
      <gaveta-designer report="${content.first}" token-url="/token" hidden></gaveta-designer>
    </main>
    <script>
      for (const button of document.querySelectorAll('button'))
        button.onclick = () => {
          for (const element of document.querySelectorAll('main > *'))
            element.hidden = element.localName !== button.dataset.shows;
        };
      // What was saved in the designer is read at once.
      document.querySelector('gaveta-designer').addEventListener('saved', () => document.querySelector('gaveta-viewer').run());
    </script>
  </body>
</html>
`,
});
