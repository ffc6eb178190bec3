import type { z } from '../definition/zod.ts';
import type { Right } from './rights.ts';

/** What one call of the API takes and gives. Its name is its method and address. */
export interface CallContract {
  /** A sentence for the API’s description. */
  does: string;
  /** Right that the caller needs; `session`: any caller, `nobody`: without a token. */
  needs: Right | 'session' | 'nobody';
  /** Whoever reads by a link that somebody shared may make it. */
  forLinks?: true;
  query?: z.ZodType;
  body?: z.ZodType;
  /** A file: its media type is told with it. */
  gives: z.ZodType | 'nothing' | 'file' | 'events';
  /** 200 when left out. */
  status?: 201 | 204;
}
