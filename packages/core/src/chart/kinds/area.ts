import { linesKind } from './line.ts';

/** Lines with what lies below them filled. */
export const areaKind = linesKind('area');
