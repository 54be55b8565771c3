import { Unzip, UnzipInflate, unzipSync } from 'fflate';
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
 * @param onDamaged told where the zip isn't whole; what can be read of it is given then
 * @throws CoreError of the kind's code if it is no whole zip, or what is wanted is larger than it may be
 */
export function readZip(
  bytes: Uint8Array,
  limits: ZipLimits,
  { code, name: what }: ZipKind = PROJECT,
  onDamaged?: () => void,
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
    const saved = onDamaged && wholeEntries(bytes, limits);
    if (saved && saved.size > 0) {
      onDamaged();
      return saved;
    }
    throw new CoreError(
      code,
      `That is not a whole ${what}: its zip can’t be opened. Copy or export it again.`,
      { cause },
    );
  }
}

/** Entries that are whole in a zip that isn't: read one after the other from its beginning, without the directory at its end. */
function wholeEntries(bytes: Uint8Array, limits: ZipLimits): Map<string, Uint8Array> {
  const out = new Map<string, Uint8Array>();
  let total = 0;
  const unzip = new Unzip((file) => {
    const most = limits.entry(file.name);
    if (most === 0) return;
    const pieces: Uint8Array[] = [];
    let size = 0;
    file.ondata = (error, piece, isLast) => {
      if (error) throw error;
      pieces.push(piece);
      size += piece.length;
      total += piece.length;
      if (size > most || total > limits.total) throw new Error('too large');
      if (isLast) out.set(file.name, joined(pieces, size));
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    // In pieces, so that what comes before a damaged place has been given.
    for (let at = 0; at < bytes.length; at += PIECE)
      unzip.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length);
  } catch {
    // What was whole before it stays.
  }
  return out;
}

const PIECE = 65_536;

function joined(pieces: readonly Uint8Array[], size: number): Uint8Array {
  const whole = new Uint8Array(size);
  pieces.reduce((at, piece) => {
    whole.set(piece, at);
    return at + piece.length;
  }, 0);
  return whole;
}
