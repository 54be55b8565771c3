import { CoreError } from '../core/errors';
import { readAs } from '../core/read-as';
import { decodePng, importModel, type ImportedModel, type Picture } from '../core/formats';
import { requireUvs, type Mesh, type UvMesh } from '../core/mesh';
import type { z } from 'zod';
import type { FileSet } from './file-set';

/** A model with all that it brings; what a glTF speaks of is looked for among what was handed over. @throws CoreError as `importModel` */
export const importedIn = (files: FileSet, name: string): Promise<ImportedModel> =>
  importModel(name.replace(/^.*[\\/]/, ''), files.require(name), files.beside(name));

/** A model alone. @throws CoreError as `importModel` */
export const modelIn = async (files: FileSet, name: string): Promise<Mesh> =>
  (await importedIn(files, name)).mesh;

/** The same, with UVs. @throws CoreError also `model-without-uvs` */
export const uvModelIn = async (files: FileSet, name: string): Promise<UvMesh> =>
  requireUvs(await modelIn(files, name));

/** @throws CoreError as `decodePng` */
export const pictureIn = (files: FileSet, name: string): Picture => decodePng(files.require(name));

/** @throws CoreError `document-invalid` if it is no JSON, or not as it has to be */
export function jsonIn<S extends z.ZodType>(files: FileSet, name: string, schema: S): z.output<S> {
  return readAs(
    schema,
    parseJson(files.require(name), name),
    'document-invalid',
    (where, says) => `“${name}”, at “${where}”: ${says}.`,
  );
}

/** @throws CoreError `document-invalid` */
export function parseJson(bytes: Uint8Array, name: string): unknown {
  try {
    return JSON.parse(new TextDecoder().decode(bytes));
  } catch (cause) {
    throw new CoreError(
      'document-invalid',
      `“${name}” is no JSON: ${(cause as Error).message}. Recipes are described in docs/recipe.md.`,
      { cause },
    );
  }
}
