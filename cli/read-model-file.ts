import { basename } from 'node:path';
import { readModel } from '../core/formats';
import type { Mesh } from '../core/mesh';
import { companionsOf, readBytes } from './local-files';

/** Reads a model; a glTF's .bin and pictures are looked for beside it. @throws UsageError, and as `readModel` */
export async function readModelFile(file: string): Promise<Mesh> {
  const bytes = await readBytes(file);
  return readModel(basename(file), bytes, await companionsOf(file, bytes));
}
