import type { Command } from '../document';
import { CoreError } from '../errors';
import { pictureKind, readPngHeader } from '../formats';
import { MAX_PATTERN_SIDE } from '../pattern';

type PutPicture = Extract<Command, { do: 'put-picture' }>;

/** Commands that come with a file, and pictures that are laid as one step, each with its own. */
export type AttachCommand =
  | Extract<Command, { do: 'add-reference' | 'add-look' | 'add-pattern' | 'set-dense' }>
  | PutPicture
  | (Omit<Extract<Command, { do: 'several' }>, 'commands'> & { commands: PutPicture[] });

/**
 * Looks at the file of a command before it is taken.
 *
 * @throws CoreError `file-not-a-picture` if a pattern or a look is no PNG, or one that is too large
 */
export function checkAttached(command: AttachCommand, bytes: Uint8Array): void {
  if (command.do === 'put-picture' || command.do === 'several') {
    if (pictureKind(bytes) !== 'PNG')
      throw new CoreError('file-not-a-picture', 'A picture is laid on a sheet as a PNG; this is none.');
    readPngHeader(bytes);
    return;
  }
  if (command.do !== 'add-pattern' && command.do !== 'add-look') return;
  const what = command.do === 'add-look' ? 'look' : 'pattern';
  if (pictureKind(bytes) !== 'PNG') {
    throw new CoreError('file-not-a-picture', `A ${what} is kept as a PNG; this is none.`);
  }
  const { width, height } = readPngHeader(bytes);
  if (Math.max(width, height) > MAX_PATTERN_SIDE) {
    throw new CoreError(
      'file-not-a-picture',
      `The ${what} is ${width} x ${height}; up to ${MAX_PATTERN_SIDE} pixels a side are kept. Make it smaller.`,
    );
  }
}
