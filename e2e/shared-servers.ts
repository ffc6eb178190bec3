import { signToken } from '@gaveta/server';
import type { TestProject } from 'vitest/node';
import { type ChromeDriver, startChromeDriver } from './browser.ts';
import { SECRET, type Servers, startServers } from './servers.ts';

declare module 'vitest' {
  interface ProvidedContext {
    /** Addresses of the servers that files share which change nothing that others see. */
    shared: Omit<Servers, 'close'>;
    /** What the files’ browsers are opened by. */
    chromeDriver: ChromeDriver;
    /** A token that was signed with another secret. */
    strangeToken: string;
  }
}

/** Starts servers once for all files: it takes as long as many a file’s tests. */
export default async ({ provide }: TestProject): Promise<() => Promise<void>> => {
  const { close, ...addresses } = await startServers();
  provide('shared', addresses);
  const { close: closeChromeDriver, ...chromeDriver } = await startChromeDriver();
  provide('chromeDriver', chromeDriver);
  provide('strangeToken', await signToken(`${SECRET}, another`, { user: 'x', rights: ['view'], claims: {} }));
  return async () => {
    await closeChromeDriver();
    await close();
  };
};
