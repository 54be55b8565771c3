import { CoreError } from '../errors';
import { pictureKind, readPngHeader } from '../formats';
import { MAX_PATTERN_SIDE } from '../pattern';

/**
 * Looks at a picture before it is taken.
 *
 * @param what a picture of the project is called, which is kept no larger than patterns are; null: one that is laid on a sheet
 * @throws CoreError `file-not-a-picture` if it is no PNG, or one that is too large
 */
export function requirePng(bytes: Uint8Array, what: 'pattern' | 'look' | null): void {
  if (pictureKind(bytes) !== 'PNG') {
    throw new CoreError(
      'file-not-a-picture',
      what
        ? `A ${what} is kept as a PNG; this is none.`
        : 'A picture is laid on a sheet as a PNG; this is none.',
    );
  }
  const { width, height } = readPngHeader(bytes);
  if (what && Math.max(width, height) > MAX_PATTERN_SIDE) {
    throw new CoreError(
      'file-not-a-picture',
      `The ${what} is ${width} x ${height}; up to ${MAX_PATTERN_SIDE} pixels a side are kept. Make it smaller.`,
    );
  }
}
