import type { z } from 'zod';
import { PHRASES, type Phrase, type PhraseCode, phrase } from '../problems/phrases.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { DEFINITION_VERSION, type Report, reportSchema } from './schema.ts';
import { allBands, drawersOf } from './walk.ts';

export type Read = { ok: true; report: Report } | { ok: false; problems: Problem[] };

/** Steps that raise a definition by one version, by the version they start from. */
const UPGRADES: Record<number, (definition: Record<string, unknown>) => Record<string, unknown>> = {
  // A report had one outermost drawer at most.
  1: (definition) =>
    Object.fromEntries(Object.entries(definition).map(([key, value]) => [key, key === 'body' ? [value] : value])),
};

/**
 * A definition in the form of today, changed in nothing else: `from` is the version that it had. One that says no version, or
 * one that is not known, stays as it is.
 */
export const upgradeDefinition = (
  given: Record<string, unknown>,
): { definition: Record<string, unknown>; from: unknown; to: unknown } => {
  let definition = given;
  let version = given.gaveta;
  while (typeof version === 'number' && version < DEFINITION_VERSION && UPGRADES[version]) {
    definition = UPGRADES[version]!(definition);
    version++;
    definition.gaveta = version;
  }
  return { definition, from: given.gaveta, to: version };
};

/** Reads a definition from parsed JSON: upgrades it, checks it, and gives every problem with its path. */
export const readDefinition = (json: unknown): Read => {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) {
    return { ok: false, problems: [problem('definition-not-json', {}, { detail: phrase('not-json-object') })] };
  }
  const given = json as Record<string, unknown>;
  const version = given.gaveta;
  if (typeof version === 'number' && version > DEFINITION_VERSION) {
    return {
      ok: false,
      problems: [problem('definition-too-new', { path: 'gaveta' }, { version, known: DEFINITION_VERSION })],
    };
  }
  const parsed = reportSchema.safeParse(upgradeDefinition(given).definition);
  if (!parsed.success) return { ok: false, problems: parsed.error.issues.map(issueProblem) };
  const problems = duplicateIds(parsed.data);
  return problems.length > 0 ? { ok: false, problems } : { ok: true, report: parsed.data };
};

/** As {@link readDefinition}, from text. */
export const readDefinitionText = (text: string): Read => {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    // Where it breaks off is told by the parser of the platform, in its own words.
    const detail = phrase('not-json', { said: error instanceof Error ? error.message : '' });
    return { ok: false, problems: [problem('definition-not-json', {}, { detail })] };
  }
  return readDefinition(json);
};

/** What would have been right instead. */
export const expectedOf = (issue: z.core.$ZodIssue): Phrase => {
  switch (issue.code) {
    case 'invalid_type':
      return phrase('json-type', { type: issue.expected });
    case 'invalid_value':
      return phrase('one-of', { values: issue.values.join(', ') });
    case 'unrecognized_keys':
      return phrase('known-keys');
    case 'too_big':
      return phrase('at-most', { value: String(issue.maximum) });
    case 'too_small':
      return phrase('at-least', { value: String(issue.minimum) });
    case 'invalid_format':
      // Patterns of the schema have the code of a phrase as their message.
      return phrase(Object.hasOwn(PHRASES, issue.message) ? (issue.message as PhraseCode) : 'as-schema');
    default:
      return phrase('as-schema');
  }
};

const detailOf = (issue: z.core.$ZodIssue): Phrase => {
  switch (issue.code) {
    case 'invalid_type':
      return phrase('malformed-type');
    case 'invalid_value':
      return phrase('malformed-choice');
    case 'unrecognized_keys':
      return phrase('malformed-keys', { keys: issue.keys.join(', ') });
    case 'too_big':
      return phrase('malformed-large');
    case 'too_small':
      return phrase('malformed-small');
    case 'invalid_format':
      return phrase('malformed-text');
    default:
      return phrase('malformed');
  }
};

const issueProblem = (issue: z.core.$ZodIssue): Problem =>
  problem(
    'definition-malformed',
    { path: issue.path.join('/') },
    { detail: detailOf(issue), expected: expectedOf(issue) },
  );

const duplicateIds = (report: Report): Problem[] => {
  const seen = new Set<string>();
  const problems: Problem[] = [];
  const see = (id: string, path: string): void => {
    if (seen.has(id)) problems.push(problem('duplicate-id', { path }, { id }));
    seen.add(id);
  };
  for (const { drawer, path } of drawersOf(report)) see(drawer.id, path);
  for (const { band, path } of allBands(report)) {
    for (const [i, item] of band.items.entries()) see(item.id, `${path}/items/${i}`);
  }
  return problems;
};
