export { type Desktop, type DesktopOptions, startDesktop } from './desktop.ts';
export type { Shell, ShellWindow } from './shell.ts';
export { browserShell } from './shells/browser.ts';
export { webkitShell } from './shells/webkit.ts';
export { becomeFirst } from './single-instance.ts';
