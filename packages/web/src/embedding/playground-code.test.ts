import { expect, it } from 'vitest';
import { pageCode, reactCode, serverCode, type Trial } from './playground-code.ts';

const BASE = 'https://reports.example/reports/';
const trial = (more: Partial<Trial> = {}): Trial => ({
  element: 'viewer',
  report: 'season-ledger',
  hide: [],
  isAutoHeight: false,
  language: null,
  look: {},
  rights: ['view'],
  ...more,
});

it('a page is a script and an element, with what was chosen as attributes', () => {
  const chosen = trial({ hide: ['print', 'outline'], language: 'pt-PT', look: { action: '#225588', scheme: 'dark' } });
  expect(pageCode(chosen, BASE)).toBe(`<script type="module" src="https://reports.example/reports/embed.js"></script>

<gaveta-viewer
  report="season-ledger"
  hide="print outline"
  language="pt-PT"
  token-url="/token"
  style="height: 90vh; --gaveta-action: #225588; --gaveta-scheme: dark"
></gaveta-viewer>
`);
  expect(pageCode(trial({ report: 'a "quoted" <id>' }), BASE)).toContain('report="a &quot;quoted&quot; &lt;id>"');
});

it('leaves out what an element does not take', () => {
  expect(pageCode(trial({ isAutoHeight: true }), BASE)).toMatch(/height="auto"\n {2}token-url="\/token"\n>/);
  const button = pageCode(trial({ element: 'export-button', hide: ['print'], isAutoHeight: true }), BASE);
  expect(button).toContain('format="pdf"');
  expect(button).toContain('>PDF</gaveta-export-button>');
  expect(button).not.toMatch(/hide|height/);
  expect(pageCode(trial({ element: 'library' }), BASE)).not.toContain('report=');
});

it('a component of React takes the same as properties', () => {
  const code = reactCode(trial({ hide: ['print'], look: { radius: '0' } }), BASE);
  expect(code).toContain("import { Viewer } from '@gaveta/embed/react';");
  expect(code).toContain("import type { CSSProperties } from 'react';");
  expect(code).toContain("hide={['print']}");
  expect(code).toContain("style={{ height: '90vh', '--gaveta-radius': '0' } as CSSProperties}");
  expect(reactCode(trial(), BASE)).toContain("style={{ height: '90vh' }}");
  expect(reactCode(trial({ element: 'export-button' }), BASE)).toMatch(/>\n {4}PDF\n {2}<\/ExportButton>/);
});

it('the server hands out the rights that were tried', () => {
  expect(serverCode(trial({ rights: ['view', 'design'] }))).toContain("rights: ['view', 'design'],");
});
