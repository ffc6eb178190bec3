import type { z } from 'zod';
import { type Problem, problem } from '../problems/problem.ts';
import { DEFINITION_VERSION, type Report, reportSchema } from './schema.ts';
import { allBands, drawersOf } from './walk.ts';

export type Read = { ok: true; report: Report } | { ok: false; problems: Problem[] };

/** Steps that raise a definition by one version, by the version they start from. */
const UPGRADES: Record<number, (definition: Record<string, unknown>) => Record<string, unknown>> = {};

/** Reads a definition from parsed JSON: upgrades it, checks it, and gives every problem with its path. */
export const readDefinition = (json: unknown): Read => {
  if (typeof json !== 'object' || json === null || Array.isArray(json)) {
    return { ok: false, problems: [problem('definition-not-json', {}, { detail: 'it is not a JSON object' })] };
  }
  let definition = json as Record<string, unknown>;
  let version = definition.gaveta;
  if (typeof version === 'number' && version > DEFINITION_VERSION) {
    return {
      ok: false,
      problems: [problem('definition-too-new', { path: 'gaveta' }, { version, known: DEFINITION_VERSION })],
    };
  }
  while (typeof version === 'number' && version < DEFINITION_VERSION && UPGRADES[version]) {
    definition = UPGRADES[version]!(definition);
    version++;
    definition.gaveta = version;
  }
  const parsed = reportSchema.safeParse(definition);
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
    const detail = error instanceof Error ? error.message : 'it is not JSON';
    return { ok: false, problems: [problem('definition-not-json', {}, { detail })] };
  }
  return readDefinition(json);
};

/** In words, what would have been right instead. */
export const expectedOf = (issue: z.core.$ZodIssue): string => {
  switch (issue.code) {
    case 'invalid_type':
      return issue.expected;
    case 'invalid_value':
      return issue.values.join(', ');
    case 'unrecognized_keys':
      return 'none of these: check the spelling';
    case 'too_big':
      return `at most ${issue.maximum}`;
    case 'too_small':
      return `at least ${issue.minimum}`;
    case 'invalid_format':
      // Patterns have their words from the schema.
      return issue.message;
    default:
      return 'a value as the published schema describes it';
  }
};

const issueProblem = (issue: z.core.$ZodIssue): Problem =>
  problem(
    'definition-malformed',
    { path: issue.path.join('/') },
    { detail: issue.message, expected: expectedOf(issue) },
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
