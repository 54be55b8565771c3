import { decodePng, type Picture } from '../formats';

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
    return decodePng(file);
  } catch {
    return null;
  }
}
