import config from '../../../gaveta.config.ts';

/** The demo, kept open from one command to the next: opening its database takes longer than most of them. `end` closes it. */
export default { ...config, close: async () => {}, end: config.close };
