import { unzipSync } from 'fflate';
import { CoreError, type ErrorCode } from '../errors';

/** What a zip's entries may come to, unpacked. */
export interface ZipLimits {
  /** Bytes of one entry by its name; 0 for one that isn't read at all. */
  readonly entry: (name: string) => number;
  /** Bytes of all that is read together. */
  readonly total: number;
}

/** What a zip should be, for the sentence if it isn't. */
export interface ZipKind {
  readonly code: ErrorCode;
  /** “project file” */
  readonly name: string;
}

const PROJECT: ZipKind = { code: 'file-not-a-project', name: 'project file' };

/**
 * The entries of a zip that are wanted. Their sizes are taken from the zip's directory before anything is unpacked.
 *
 * @throws CoreError of the kind's code if it is no whole zip, or what is wanted is larger than it may be
 */
export function readZip(
  bytes: Uint8Array,
  limits: ZipLimits,
  { code, name: what }: ZipKind = PROJECT,
): Map<string, Uint8Array> {
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
            code,
            `“${name}” in the ${what} would unpack to ${Math.round(unpacked / 1e6)} MB, more than such a file can need. It is damaged, or something else.`,
          );
        }
        return true;
      },
    });
    return new Map(Object.entries(files));
  } catch (cause) {
    if (cause instanceof CoreError) throw cause;
    throw new CoreError(
      code,
      `That is not a whole ${what}: its zip can’t be opened. Copy or export it again.`,
      { cause },
    );
  }
}
