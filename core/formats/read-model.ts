import { CoreError } from '../errors';
import type { Mesh } from '../mesh';
import type { Companions } from './gltf/container';
import type { ImportedModel } from './model-builder';
import { MODEL_FORMATS } from './list';
import { pictureKind } from './picture-kind';

/**
 * Reads a model file by what it holds, not only by its name.
 *
 * @param name the file's name, for its ending and for the part's name where the file gives none
 * @param bytes the whole file
 * @param companions files chosen together with it
 * @throws CoreError with one of the `file-` or `model-` codes
 */
export async function importModel(
  name: string,
  bytes: Uint8Array,
  companions: Companions = new Map(),
): Promise<ImportedModel> {
  if (bytes.length === 0) {
    throw new CoreError('file-empty', `“${name}” is empty (0 bytes). Copy or export it again.`);
  }
  const picture = pictureKind(bytes);
  if (picture) {
    throw new CoreError(
      'file-not-a-model',
      `“${name}” is a picture (${picture}), not a model. Choose a ${modelTitles()} file here; pictures go on the easel.`,
    );
  }
  const ending = name.toLowerCase().split('.').at(-1) ?? '';
  const format =
    MODEL_FORMATS.find((f) => f.holds?.(bytes, ending)) ?? MODEL_FORMATS.find((f) => f.ending === ending);
  if (format) return format.read({ name, bytes, companions });
  throw new CoreError(
    'file-not-a-model',
    `“${name}” is not a model that can be read. Choose a ${modelTitles()} file.`,
  );
}

/** The formats of models, as they are told: GLB, glTF, OBJ, PLY or STL. */
export function modelTitles(): string {
  const titles = MODEL_FORMATS.map((f) => f.title);
  return `${titles.slice(0, -1).join(', ')} or ${titles.at(-1)!}`;
}

/** Endings of models, with their dots. @param withCompanions also those of files that go with them */
export const modelEndings = (withCompanions: boolean): string[] => [
  ...new Set(
    MODEL_FORMATS.flatMap(({ ending, companions = [] }) => [
      `.${ending}`,
      ...(withCompanions ? companions.map((c) => `.${c}`) : []),
    ]),
  ),
];

/** Whether a file is named like a model. */
export const isModelFile = (name: string): boolean =>
  modelEndings(false).some((ending) => name.toLowerCase().endsWith(ending));

/** The model alone, without the colours it brings. @throws as `importModel` */
export const readModel = async (...file: Parameters<typeof importModel>): Promise<Mesh> =>
  (await importModel(...file)).mesh;
