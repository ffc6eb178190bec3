import { type Step, stepSchema } from '../definition/recipe.ts';
import { type Phrase, phrase } from '../problems/phrases.ts';

/** What is asked for where a step is empty, by the part of it that is. */
const LACKS = {
  on: 'lacks-pairs',
  by: 'lacks-by',
  per: 'lacks-by',
  totals: 'lacks-total',
  name: 'lacks-name',
  as: 'lacks-name',
  names: 'lacks-names',
  values: 'lacks-values',
  into: 'lacks-into',
  count: 'lacks-count',
  where: 'lacks-condition',
  model: 'lacks-database',
  from: 'lacks-source',
  columns: 'lacks-columns',
  of: 'lacks-field',
  field: 'lacks-field',
  at: 'lacks-separator',
} as const;

/** What a step lacks that somebody is still making, in words; null when it has everything. */
export const lackOf = (step: Step): Phrase | null => {
  const { error } = stepSchema.safeParse(step);
  const [issue] = error?.issues ?? [];
  if (!issue) return null;
  const [part] = issue.path;
  const isName = issue.path.at(-1) === 'name' || part === 'as';
  if (isName && issue.code === 'invalid_format') return phrase('lacks-good-name');
  return phrase(
    typeof part === 'string' && Object.hasOwn(LACKS, part) ? LACKS[part as keyof typeof LACKS] : 'lacks-more',
  );
};
