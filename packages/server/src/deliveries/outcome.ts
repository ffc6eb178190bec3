import { type Problem, type ProblemCode, type ProblemData, type ProblemValue, problem } from '@gaveta/core/internal';
import { ApiError, wordsOf } from '../base/api-error.ts';

/** Why something of a delivery was not done, in words for its owner. */
export class NotDelivered extends Error {
  constructor(
    readonly said: Problem,
    /** It may go another time. */
    readonly isTemporary: boolean,
    /** The delivery cannot go any more, and stops. */
    readonly stops = false,
  ) {
    super(said.code);
  }
}

export const notDelivered = (code: ProblemCode, data: ProblemData = {}): NotDelivered =>
  new NotDelivered(problem(code, {}, data), false);

export const stopsDelivery = (code: ProblemCode, data: ProblemData = {}): NotDelivered =>
  new NotDelivered(problem(code, {}, data), false, true);

/** What could not be sent: `detail` in words that end a sentence. */
export const notSent = (detail: ProblemValue, isTemporary: boolean): NotDelivered =>
  new NotDelivered(problem('delivery-not-sent', {}, { detail }), isTemporary);

/** Errors of the API that may be gone the next time. */
const PASSING = new Set<ApiError['code']>([
  'too-many-runs',
  'run-failed',
  'run-incomplete',
  'run-cancelled',
  'unexpected',
]);

/** The first problem that came with an error, without its words. */
const problemIn = ({ extra }: ApiError): Problem | null => {
  const problems = Array.isArray(extra.problems) ? (extra.problems as (Problem & { text?: string })[]) : [];
  const found = problems.find(({ severity }) => severity === 'error') ?? problems[0];
  if (!found) return null;
  const { code, severity, place, data } = found;
  return { code, severity, place, data };
};

/** An error of whatever kind as what is told of it. `wordsFor` finds words for one that nobody expected. */
export const asNotDelivered = (error: unknown, wordsFor: (error: unknown) => ProblemValue): NotDelivered => {
  if (error instanceof NotDelivered) return error;
  if (!(error instanceof ApiError))
    return new NotDelivered(problem('delivery-not-made', {}, { detail: wordsFor(error) }), true);
  const said = problemIn(error) ?? problem('delivery-not-made', {}, { detail: wordsOf(error) });
  return new NotDelivered(said, PASSING.has(error.code));
};
