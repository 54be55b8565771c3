import { mkdir, open, rename, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';

/** The job couldn't be finished: exit code 1. */
export class OutputError extends Error {}

const REASONS: ReadonlyMap<string, (file: string) => string> = new Map([
  ['ENOSPC', (file) => `The disk is full, so “${file}” could not be written. Free some space and try again.`],
  ['EDQUOT', (file) => `There is no room left for you on the disk, so “${file}” could not be written.`],
  ['ENOENT', (file) => `“${file}” can't be written: its folder isn't there. Make it first.`],
  ['ENOTDIR', (file) => `“${file}” can't be written: a part of its path is a file, not a folder.`],
  ['EISDIR', (file) => `“${file}” is a folder. Name a file to write.`],
  ['EEXIST', (file) => `“${file}” can't be a folder: a file of that name is there. Choose another one.`],
  ['EACCES', (file) => `“${file}” may not be written by you. Choose another place.`],
  ['EPERM', (file) => `“${file}” may not be written by you. Choose another place.`],
  ['EROFS', (file) => `“${file}” lies on a disk that can only be read. Choose another place.`],
]);

function outputError(file: string, cause: unknown): OutputError {
  const code = (cause as { code?: string }).code ?? '';
  const words = REASONS.get(code)?.(file) ?? `“${file}” could not be written (${code || String(cause)}).`;
  return new OutputError(words, { cause });
}

/** Pieces that are being written just now: whoever ends the program takes them away. */
const pieces = new Set<string>();

/**
 * Writes files as one: each is written beside its place and only renamed when all of them are whole, so that what was there before
 * stays as it was if anything goes wrong. A signal leaves no pieces.
 *
 * @throws OutputError with a sentence
 */
export async function writeOut(files: ReadonlyMap<string, Uint8Array | string>): Promise<void> {
  const stopListening = removePiecesOnSignals();
  const written: [piece: string, file: string][] = [];
  try {
    for (const [file, data] of files) {
      const piece = join(dirname(file), `.${basename(file)}.${process.pid}.part`);
      pieces.add(piece);
      written.push([piece, file]);
      try {
        const handle = await open(piece, 'w');
        try {
          await handle.writeFile(data);
          await handle.sync();
        } finally {
          await handle.close();
        }
      } catch (cause) {
        throw outputError(file, cause);
      }
    }
    for (const [piece, file] of written) {
      await rename(piece, file).catch((cause: unknown) => {
        throw outputError(file, cause);
      });
      pieces.delete(piece);
    }
  } finally {
    await removePieces(written.map(([piece]) => piece));
    stopListening();
  }
}

/** @throws OutputError with a sentence */
export async function makeFolder(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true }).catch((cause: unknown) => {
    throw outputError(folder, cause);
  });
}

/** @param own of one call; others may be written at the same time */
async function removePieces(own: Iterable<string>): Promise<void> {
  for (const piece of own) {
    if (pieces.delete(piece)) await rm(piece, { force: true }).catch(() => undefined);
  }
}

/** Only while pieces are about: at any other time a signal ends the program by itself. */
function removePiecesOnSignals(): () => void {
  const codes = { SIGINT: 130, SIGTERM: 143 } as const;
  const listeners = (['SIGINT', 'SIGTERM'] as const).map((signal) => {
    const listener = (): void => void removePieces([...pieces]).finally(() => process.exit(codes[signal]));
    process.once(signal, listener);
    return () => process.off(signal, listener);
  });
  return () => listeners.forEach((stop) => stop());
}
