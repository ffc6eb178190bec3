import { mkdir } from 'node:fs/promises';
import { homedir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { type Desktop, startDesktop } from './desktop.ts';
import { installEntry } from './entry.ts';
import { browserShell } from './shells/browser.ts';
import { webkitShell } from './shells/webkit.ts';
import { becomeFirst } from './single-instance.ts';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    data: { type: 'string', default: join(homedir(), '.local', 'share', 'gaveta-desktop') },
    shell: { type: 'string', default: 'browser' },
    'install-entry': { type: 'boolean', default: false },
  },
});

const data = resolve(values.data);
await mkdir(data, { recursive: true });
const profile = join(data, values.shell);
const shell = values.shell === 'webkit' ? webkitShell({ profile }) : browserShell({ profile });
const files = positionals.map((file) => resolve(file));

if (values['install-entry']) {
  console.log(await installEntry(import.meta.filename));
} else {
  let desktop: Desktop | null = null;
  const early: string[] = [...files];
  const first = await becomeFirst(data, files, (asked) => {
    if (!desktop) early.push(...asked);
    else for (const file of asked) desktop.open(file);
  });
  if (first) {
    desktop = await startDesktop({ data, shell });
    for (const file of early) desktop.open(file);
    for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => desktop!.window.close());
    // The application ends with its window.
    await desktop.window.closed;
    await desktop.close();
    await first.close();
  }
}
