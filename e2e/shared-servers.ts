import type { TestProject } from 'vitest/node';
import { startServers } from './servers.ts';

declare module 'vitest' {
  interface ProvidedContext {
    /** Addresses of the servers that files share which change nothing that others see. */
    shared: { gaveta: string; office: string; strict: string };
  }
}

/** Starts servers once for all files: it takes as long as many a file’s tests. */
export default async ({ provide }: TestProject): Promise<() => Promise<void>> => {
  const { close, ...addresses } = await startServers();
  provide('shared', addresses);
  return close;
};
