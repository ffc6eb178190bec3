import type { Request } from 'express';
import type { z } from 'zod';
import { ApiError } from './errors.ts';

/** The body of a request as its schema wants it. Throws with each place that does not fit. */
export const body = <T>(schema: z.ZodType<T>, request: Request): T => {
  const parsed = schema.safeParse(request.body ?? {});
  if (parsed.success) return parsed.data;
  throw new ApiError('wrong-body', { detail: issuesOf(parsed.error) });
};

/** Each place that does not fit, and why. */
export const issuesOf = ({ issues }: z.ZodError): string =>
  issues.map((issue) => `${issue.path.join('.') || 'body'}: ${issue.message}`).join('; ');
