import type { PhraseCode } from '../problems/phrases.ts';
import { spoken } from './spoken.ts';
import { z } from './zod.ts';

/** What a pattern expects, by the code of its phrase. */
export const says = (code: PhraseCode): PhraseCode => code;

/** Every length in a definition is in millimetres; type sizes alone are in points, as everywhere in the trade. */
export const length = z.number().min(-5000).max(5000);
export const size = z.number().min(0).max(5000);
export const identifier = z
  .string()
  .min(1)
  .max(80)
  .regex(/^[\p{L}_][\p{L}\p{N}_-]*$/u, says('identifier'));
export const formula = spoken(z.string().max(10_000), 'formula');
export const format = z.string().max(200);
export const color = z.string().regex(/^#[0-9a-fA-F]{6}$/, says('color-code'));
export const dash = z.enum(['solid', 'dashed', 'dotted']);
