import { join } from 'node:path';
import type { Shell } from '../shell.ts';
import { childWindow } from './child-window.ts';

export interface WebkitShellOptions {
  /** Folder for what the window remembers. */
  profile: string;
  /** A scheme of the application’s own, and the folder whose files it serves: `office://app/index.html`. */
  scheme?: { name: string; folder: string };
  /** Variables of the environment. */
  env?: Readonly<Record<string, string>>;
}

/** A window of WebKitGTK, opened by GNOME’s JavaScript (Debian: gjs, gir1.2-webkit2-4.1). */
export const webkitShell = ({ profile, scheme, env = {} }: WebkitShellOptions): Shell => ({
  open: (address, title) =>
    childWindow(
      'gjs',
      [
        join(import.meta.dirname, 'webkit-window.js'),
        address,
        title,
        profile,
        ...(scheme ? [scheme.name, scheme.folder] : []),
      ],
      { env, focus: 'focus\n' },
    ),
});
