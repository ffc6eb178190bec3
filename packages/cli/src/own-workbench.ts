import { Workbench } from '@gaveta/server';
import type { CliConfig } from './config.ts';

/** The configuration’s workbench, or one that is opened when it is first asked for. */
export const workbenchOf = ({ workbench }: CliConfig): { open: () => Workbench; close: () => Promise<void> } => {
  let own: Workbench | null = null;
  return {
    open: () => {
      if (workbench) return workbench;
      own ??= new Workbench();
      return own;
    },
    close: async () => own?.close(),
  };
};
