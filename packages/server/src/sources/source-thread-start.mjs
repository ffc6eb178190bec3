import { threadModule } from '../base/built.mjs';

export default (await threadModule('source-thread', () => import('./source-thread.ts'))).default;
