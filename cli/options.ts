import { Option } from 'commander';
import { isSheetSize, SHEET_SIZES, type SheetSize } from '../core/surface';

/** Bad use of the command line: exit code 2. */
export class UsageError extends Error {}

/** Where words go: results to `out`, what went wrong and how far it is to `error`. */
export interface Terminal {
  out(text: string): void;
  error(text: string): void;
}

/** What was given, by the option's name. */
export type Values = Readonly<Record<string, string | boolean | readonly string[] | undefined>>;

/** A command of the command line: one file, and one line in `list.ts`. */
export interface CliCommand {
  readonly name: string;
  /** What it works on, in angle brackets; with dots where several may be named. */
  readonly takes: string;
  /** A sentence. */
  readonly does: string;
  readonly options: readonly Option[];
  /** What else its help tells. */
  readonly more?: string;
  /** @returns the exit code, 0 if nothing is told; @throws UsageError */
  run(named: readonly [string, ...string[]], values: Values, terminal: Terminal): Promise<number | void>;
}

/** An option with a value; what it is comes from `flags`, as `--size <texels>`. */
export const option = (flags: string, does: string): Option => new Option(flags, does);

/** An option that may be given more than once. */
export const manyOption = (flags: string, does: string): Option =>
  option(flags, does).argParser((value: string, before?: readonly string[]) => [...(before ?? []), value]);

/** One of some words; the first stands where none is given. */
export const choiceOption = (name: string, does: string, choices: readonly string[]): Option =>
  option(`--${name} <word>`, does)
    .default(choices[0])
    .argParser((value) => {
      if (!choices.includes(value))
        throw new UsageError(`--${name} ${value} can't be used; choose one of ${choices.join(', ')}.`);
      return value;
    });

export const OUT_FOLDER = option('--out <folder>', 'where it writes');
/** Of whoever writes models. */
export const PLAIN = option(
  '--plain',
  'geometry and paint only: no skeleton, clips or nodes of the model’s file',
);
export const SHEET_SIZE = option('--size <texels>', 'a side of a sheet (1024)');

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
