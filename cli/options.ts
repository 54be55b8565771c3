import { parseArgs, type ParseArgsConfig } from 'node:util';
import { isSheetSize, SHEET_SIZES, type SheetSize } from '../core/surface';

/** Bad use of the command line: exit code 2. */
export class UsageError extends Error {}

/** Where words go: results to `out`, what went wrong and how far it is to `error`. */
export interface Terminal {
  out(text: string): void;
  error(text: string): void;
}

export type Values = Record<string, string | boolean | string[] | undefined>;

/** @throws UsageError */
export function readOptions(
  args: readonly string[],
  options: NonNullable<ParseArgsConfig['options']>,
): { model: string; values: Values } {
  const { models, values } = readManyOptions(args, options);
  if (models.length > 1) throw new UsageError(`One model at a time: “${models[1]}” is one too many.`);
  return { model: models[0]!, values };
}

/** The same where several files may be named. An option that may be given more than once has `multiple`. @throws UsageError */
export function readManyOptions(
  args: readonly string[],
  options: NonNullable<ParseArgsConfig['options']>,
): { models: readonly [string, ...string[]]; values: Values } {
  try {
    const parsed = parseArgs({
      args: [...args],
      allowPositionals: true,
      options: { json: { type: 'boolean' }, size: { type: 'string' }, ...options },
    });
    const [model, ...more] = parsed.positionals;
    if (!model) throw new UsageError('Name the model file. --help tells more.');
    return { models: [model, ...more], values: parsed.values as Values };
  } catch (error) {
    if (error instanceof UsageError) throw error;
    throw new UsageError(error instanceof Error ? error.message : String(error));
  }
}

/** @throws UsageError */
export function sizeOption(values: Values): SheetSize {
  const size = Number(values['size'] ?? 1024);
  if (!isSheetSize(size)) {
    throw new UsageError(
      `--size ${String(values['size'])} can't be used; choose one of ${SHEET_SIZES.join(', ')}.`,
    );
  }
  return size;
}

/** @throws UsageError */
export function textOption(values: Values, name: string): string {
  const value = values[name];
  if (typeof value !== 'string' || value === '')
    throw new UsageError(`--${name} is missing. --help tells more.`);
  return value;
}

/** @throws UsageError */
export function numberOption(values: Values, name: string, fallback: number): number {
  const value = values[name];
  if (value === undefined) return fallback;
  const n = Number(value);
  if (value === '' || !Number.isFinite(n))
    throw new UsageError(`--${name} ${String(value)} is not a number.`);
  return n;
}
