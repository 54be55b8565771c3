import { decodePng, readPngHeader, type Picture } from '../formats';
import { MAX_PATTERN_SIDE } from './pattern';

/** The pixels of a project's patterns, read when they are asked for first. */
export class PatternPictures {
  private readonly files: ReadonlyMap<number, Uint8Array>;
  private readonly read = new Map<number, Picture | null>();

  constructor(files: ReadonlyMap<number, Uint8Array>) {
    this.files = files;
  }

  isThere(id: number): boolean {
    return this.files.has(id);
  }

  /** Null if it isn't there or can't be read. */
  get(id: number): Picture | null {
    const file = this.files.get(id);
    if (!file) return null;
    let picture = this.read.get(id);
    if (picture === undefined) this.read.set(id, (picture = decoded(file)));
    return picture;
  }
}

function decoded(file: Uint8Array): Picture | null {
  try {
    // A file from outside may say that it is larger than a pattern can be: nothing is unpacked then.
    const { width, height } = readPngHeader(file);
    return Math.max(width, height) > MAX_PATTERN_SIDE ? null : decodePng(file);
  } catch {
    return null;
  }
}
