import { z } from '../definition/zod.ts';
import type { CallContract } from './call.ts';
import * as part from './parts.ts';

/** Who calls, and what reports are made with. */
export const APPLICATION_CALLS = {
  'GET /session': {
    does: 'Who is calling, and what they may do.',
    needs: 'session',
    forLinks: true,
    gives: part.session,
  },
  'GET /fonts': { does: 'The fonts that reports are laid out with.', needs: 'nobody', gives: z.array(part.font) },
  'GET /fonts/:file': { does: 'The file of a font.', needs: 'nobody', gives: 'file' },
  'GET /functions': {
    does: 'Functions of formulas that the host added.',
    needs: 'design',
    gives: part.functions,
  },
  'GET /functions/:file': {
    does: 'A module of functions that work in browsers, under the name that they give.',
    needs: 'nobody',
    gives: 'file',
  },
  'GET /themes': { does: 'Themes that the host added.', needs: 'design', gives: z.array(part.theme) },
  'GET /schema/report': { does: 'The JSON Schema of a definition.', needs: 'nobody', gives: part.jsonSchema },
  'GET /reference': { does: 'This description, as a page to read.', needs: 'nobody', gives: 'file' },
  'GET /openapi.json': { does: 'This description.', needs: 'nobody', gives: part.jsonSchema },
  'GET /models': {
    does: 'The data models, with where their rows come from, in a language.',
    needs: 'view',
    query: z.object({ language: z.string().max(35).optional() }),
    gives: z.array(
      part.model.and(
        z.object({
          origin: z.object({
            connection: z.string(),
            kind: z.enum(['database', 'rows', 'missing']),
            made: z.enum(['code', 'hand']),
          }),
        }),
      ),
    ),
  },
} as const satisfies Record<string, CallContract>;
