import type { z } from 'zod';
import { CoreError, type ErrorCode } from './errors';

/** What the first thing is that doesn't fit, and where: `layers.0.name`, “its start” for the whole. */
export function issueOf(error: z.ZodError): { readonly where: string; readonly says: string } {
  const [issue] = error.issues;
  return { where: issue?.path.join('.') || 'its start', says: issue?.message ?? 'not as it has to be' };
}

/**
 * Data as a schema has it.
 *
 * @param sentence what is told where it doesn't fit
 * @throws CoreError with that code and sentence
 */
export function readAs<S extends z.ZodType>(
  schema: S,
  data: unknown,
  code: ErrorCode,
  sentence: (where: string, says: string) => string,
): z.output<S> {
  const parsed = schema.safeParse(data);
  if (parsed.success) return parsed.data;
  const { where, says } = issueOf(parsed.error);
  throw new CoreError(code, sentence(where, says), { cause: parsed.error });
}
