import { threadModule } from '../base/built.mjs';

export default (await threadModule('report-thread', () => import('./report-thread.ts'))).default;
