import { gavetaFile, sharedFiles } from './shared-files.ts';
import type { Files, StarterContent } from './starter.ts';

/** What an Express application of one's own takes in. */
export const expressStarter = (content: StarterContent): Files => ({
  // An application may have an .env of its own.
  ...sharedFiles(content, '.env.gaveta'),
  'gaveta.mjs': gavetaFile,
});
