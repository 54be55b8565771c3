import { unzipSync } from 'fflate';
import { CoreError } from '../errors';

/** What a zip's entries may come to, unpacked. */
export interface ZipLimits {
  /** Bytes of one entry by its name; 0 for one that isn't read at all. */
  readonly entry: (name: string) => number;
  /** Bytes of all that is read together. */
  readonly total: number;
}

/**
 * The entries of a zip that are wanted. Their sizes are taken from the zip's directory before anything is unpacked.
 *
 * @throws CoreError `file-not-a-project` if it is no whole zip, or what is wanted is larger than it may be
 */
export function readZip(bytes: Uint8Array, limits: ZipLimits): Map<string, Uint8Array> {
  let total = 0;
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize, size, compression }) => {
        const most = limits.entry(name);
        if (most === 0) return false;
        const unpacked = compression === 0 ? size : originalSize;
        total += unpacked;
        if (unpacked > most || total > limits.total) {
          throw new CoreError(
            'file-not-a-project',
            `“${name}” in the project file would unpack to ${Math.round(unpacked / 1e6)} MB, more than such a file can need. It is damaged, or no project of Zanahoria.`,
          );
        }
        return true;
      },
    });
    return new Map(Object.entries(files));
  } catch (cause) {
    if (cause instanceof CoreError) throw cause;
    throw new CoreError(
      'file-not-a-project',
      'That is not a whole project file: its zip can’t be opened. Copy or export it again.',
      { cause },
    );
  }
}
