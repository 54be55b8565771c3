import { CoreError } from '../core/errors';

/**
 * What was handed over to a job, by name. A job reads these files and nothing else: a name that a file speaks of is looked for here only, so that
 * no file of the machine that does the job can get into what it makes.
 */
export class FileSet {
  private readonly files: ReadonlyMap<string, Uint8Array>;

  constructor(files: Iterable<readonly [name: string, bytes: Uint8Array]>) {
    this.files = new Map(files);
  }

  get names(): readonly string[] {
    return [...this.files.keys()];
  }

  get(name: string): Uint8Array | null {
    return this.files.get(name) ?? null;
  }

  /** @throws CoreError `file-unsupported` if it wasn't handed over */
  require(name: string): Uint8Array {
    const bytes = this.files.get(name);
    if (!bytes)
      throw new CoreError('file-unsupported', `There is no file “${name}” among what was handed over.`);
    return bytes;
  }

  /** All files but some: what may lie beside a model. */
  beside(...names: readonly string[]): ReadonlyMap<string, Uint8Array> {
    return new Map([...this.files].filter(([name]) => !names.includes(name)));
  }
}
