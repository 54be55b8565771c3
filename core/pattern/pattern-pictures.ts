import { decodePng, readPngHeader, type Picture } from '../formats';
import { MAX_PATTERN_SIDE } from './pattern';

/** The pixels of a project's patterns, read when they are asked for first. */
export class PatternPictures {
  private readonly files: ReadonlyMap<number, Uint8Array>;
  /** An id may be given anew, when what it was given to was undone: the file tells. */
  private readonly read = new Map<number, { readonly file: Uint8Array; readonly picture: Picture | null }>();

  constructor(files: ReadonlyMap<number, Uint8Array>) {
    this.files = files;
  }

  /** Null if it isn't there or can't be read. */
  get(id: number): Picture | null {
    const file = this.files.get(id);
    if (!file) return null;
    let known = this.read.get(id);
    if (known?.file !== file) this.read.set(id, (known = { file, picture: readPattern(file) }));
    return known.picture;
  }
}

/** A pattern's pixels; null if it can't be read. */
export function readPattern(file: Uint8Array): Picture | null {
  try {
    // A file from outside may say that it is larger than a pattern can be: nothing is unpacked then.
    const { width, height } = readPngHeader(file);
    return Math.max(width, height) > MAX_PATTERN_SIDE ? null : decodePng(file);
  } catch {
    return null;
  }
}
