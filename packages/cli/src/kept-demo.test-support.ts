import { Workbench } from '@gaveta/server';
import config from '../../../gaveta.config.ts';

/** The demo, kept open from one command to the next: opening its database takes longer than most of them. `end` closes it. */
const workbench = new Workbench();

export default {
  ...config,
  workbench,
  close: async () => {},
  end: async () => {
    await workbench.close();
    await config.close?.();
  },
};
