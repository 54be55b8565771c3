import { readFile } from 'node:fs/promises';
import type { z } from 'zod';
import { UsageError } from './options';

/** @throws UsageError if the file can't be read, or isn't as it has to be */
export async function readJson<T>(file: string, schema: z.ZodType<T>): Promise<T> {
  let data: unknown;
  try {
    data = JSON.parse(await readFile(file, 'utf8'));
  } catch (cause) {
    throw new UsageError(
      cause instanceof SyntaxError ? `“${file}” is no JSON: ${cause.message}.` : `“${file}” can't be read.`,
      { cause },
    );
  }
  const parsed = schema.safeParse(data);
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new UsageError(
    `“${file}”, at “${issue?.path.join('.') || 'its start'}”: ${issue?.message ?? 'not as it has to be'}.`,
  );
}
