import { identifier, says } from './basics.ts';
import { z } from './zod.ts';

/** BCP 47 tag. */
export const languageTag = z
  .string()
  .min(2)
  .max(35)
  .regex(/^[A-Za-z]{2,3}(-[A-Za-z0-9]{2,8})*$/, says('language-tag'));

/** What a report says in a language besides its own. */
export const translationSchema = z.strictObject({
  language: languageTag,
  /** Each text of the report and what it is called here; see translation/texts.ts for how pieces and forms are written. */
  texts: z.record(z.string().max(20_000), z.string().max(20_000)).default({}),
  /** Its pages are the other way round, as right-to-left languages are read. */
  mirrored: z.boolean().optional(),
});
export type Translation = z.infer<typeof translationSchema>;

/** What decides on the language of a run: a parameter, or nothing, so that it is always the report's own; the reader when left out. */
/** See {@link languageFromSchema}. */
export type LanguageFrom = z.infer<typeof languageFromSchema>;

export const languageFromSchema = z.union([z.literal('report'), z.strictObject({ parameter: identifier })]);
