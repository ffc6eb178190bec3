import { threadModule } from '../base/built.mjs';

export default (await threadModule('file-thread', () => import('./file-thread.ts'))).default;
