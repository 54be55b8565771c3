import { basename } from 'node:path';
import { importModel, type ImportedModel } from '../core/formats';
import type { Mesh } from '../core/mesh';
import { companionsOf, readBytes } from './local-files';

/** Reads a model; a glTF's .bin and pictures are looked for beside it. @throws UsageError, and as `readModel` */
export const readModelFile = async (file: string): Promise<Mesh> => (await importModelFile(file)).mesh;

/** The same with all that it brings. */
export async function importModelFile(file: string): Promise<ImportedModel> {
  const bytes = await readBytes(file);
  return importModel(basename(file), bytes, await companionsOf(file, bytes));
}
