import { existsSync } from 'node:fs';
import type { Shell } from '../shell.ts';
import { childWindow } from './child-window.ts';

/** Where browsers of the Chromium family are on Linux. */
const PLACES = ['/usr/bin/chromium', '/usr/bin/chromium-browser'];

export interface BrowserShellOptions {
  /** Folder of a profile that is the application’s alone. */
  profile: string;
  program?: string;
  /** Further arguments of the browser. */
  args?: readonly string[];
  /** Variables of the environment. */
  env?: Readonly<Record<string, string>>;
}

/** The machine’s own browser, without tabs and address bar. Its dialogues for files and printing are the desktop’s. */
export const browserShell = ({ profile, program, args = [], env = {} }: BrowserShellOptions): Shell => ({
  open: (address) => {
    const found = program ?? PLACES.find(existsSync);
    if (!found) throw new Error('There is no browser that can show a page in a window of its own. Install “chromium”.');
    const own = ['--no-first-run', '--no-default-browser-check', '--disable-background-networking', '--disable-quic'];
    const window = [`--app=${address}`, `--user-data-dir=${profile}`, '--window-size=1280,860'];
    return childWindow(found, [...window, ...own, ...args], { env });
  },
});
