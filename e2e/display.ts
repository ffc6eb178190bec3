import { type ChildProcess, execFileSync, spawn } from 'node:child_process';

export interface Display {
  /** Variables with which programs show their windows on it. */
  env: Record<string, string>;
  /** Types and clicks as a person does: arguments of xdotool. */
  hands: (...args: string[]) => string;
  close: () => void;
}

/** A screen that nobody sees. */
export const openDisplay = async (): Promise<Display> => {
  const server: ChildProcess = spawn('Xvfb', ['-displayfd', '3', '-screen', '0', '1400x900x24', '-nolisten', 'tcp'], {
    stdio: ['ignore', 'ignore', 'ignore', 'pipe'],
  });
  const number = await new Promise<string>((said, failed) => {
    server.once('error', failed);
    server.stdio[3]!.once('data', (chunk) => said(String(chunk).trim()));
  });
  const env = {
    DISPLAY: `:${number}`,
    // There is no graphics card here.
    WEBKIT_DISABLE_COMPOSITING_MODE: '1',
    WEBKIT_DISABLE_DMABUF_RENDERER: '1',
    LIBGL_ALWAYS_SOFTWARE: '1',
    NO_AT_BRIDGE: '1',
  };
  return {
    env,
    hands: (...args) => execFileSync('xdotool', args, { env: { ...process.env, ...env } }).toString(),
    close: () => void server.kill(),
  };
};
