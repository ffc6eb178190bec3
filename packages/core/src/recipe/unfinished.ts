import { type Step, type StepKind, stepSchema } from '../definition/recipe.ts';
import { type Phrase, type PhraseCode, phrase } from '../problems/phrases.ts';

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

/** Of which fields a step is made, where every one must be chosen. */
const LACKS_FIELD: Partial<Record<StepKind, PhraseCode>> = {
  convert: 'lacks-converted',
  gather: 'lacks-gathered',
  fill: 'lacks-filled',
  join: 'lacks-joined',
};

/** What a step lacks that somebody is still making, in words; null when it has everything. */
export const lackOf = (step: Step): Phrase | null => {
  const { error } = stepSchema.safeParse(step);
  const [issue] = error?.issues ?? [];
  if (!issue) return null;
  const [part] = issue.path;
  const isName = issue.path.at(-1) === 'name' || part === 'as';
  if (isName && issue.code === 'invalid_format') return phrase('lacks-good-name');
  const own = LACKS_FIELD[step.step];
  if (own && (part === 'columns' || part === 'fields')) return phrase(own);
  return phrase(
    typeof part === 'string' && Object.hasOwn(LACKS, part) ? LACKS[part as keyof typeof LACKS] : 'lacks-more',
  );
};
