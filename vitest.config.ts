import { defineConfig } from 'vitest/config';

/** Tests of what computes share their modules: importing them anew for each file would take longer than the tests. */
const UNIT = { testTimeout: 120_000, hookTimeout: 120_000, isolate: false } as const;

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...UNIT,
          name: 'core',
          include: ['packages/{core,client,web,output,embed}/src/**/*.test.{ts,tsx}'],
        },
      },
      {
        test: {
          ...UNIT,
          name: 'server',
          include: ['packages/{server,cli}/src/**/*.test.ts', 'examples/*/src/**/*.test.ts', 'scripts/*.test.ts'],
        },
      },
      {
        test: {
          name: 'outside',
          include: ['outside/**/*.test.ts'],
          testTimeout: 240_000,
          hookTimeout: 600_000,
        },
      },
      {
        test: {
          name: 'e2e',
          isolate: false,
          include: ['e2e/**/*.test.ts'],
          globalSetup: 'e2e/shared-servers.ts',
          // The output names a test that needed its second try, and what went wrong in the first.
          retry: 1,
          testTimeout: 240_000,
          hookTimeout: 240_000,
        },
      },
    ],
  },
});
