import type { Explanation } from '@gaveta/core/internal';
import type { Output } from '@gaveta/output/output';
import { z } from 'zod';

/** What is said of a value whose rows readers may not see. */
export const withoutRows = (explanation: Explanation): Explanation => ({
  ...explanation,
  totals: explanation.totals.map((total) => ({ ...total, columns: [], list: [] })),
});

/** The JSON Schema of the options of an output, as they are given. */
export const optionsSchema = (options: Output['options']): Record<string, unknown> =>
  z.toJSONSchema(options, { io: 'input', unrepresentable: 'any' }) as Record<string, unknown>;
