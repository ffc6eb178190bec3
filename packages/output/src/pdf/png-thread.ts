import { packPng } from './png.ts';

/** Runs in a thread of its own. */
export default packPng;
