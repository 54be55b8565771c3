import { CoreError } from '../errors';
import type { Mesh } from '../mesh';
import { isGlb, readGltf, type Companions } from './gltf-read';
import type { ImportedModel } from './model-builder';
import { readObj } from './obj';
import { pictureKind } from './picture-kind';
import { readPly } from './ply';
import { readStl } from './stl';

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
  const ending = name.toLowerCase().split('.').at(-1) ?? '';
  const picture = pictureKind(bytes);
  if (picture) {
    throw new CoreError(
      'file-not-a-model',
      `“${name}” is a picture (${picture}), not a model. Choose a GLB, glTF or OBJ here; pictures go on the easel.`,
    );
  }
  if (isGlb(bytes)) return readGltf(bytes, companions);
  if (ending === 'gltf' || (ending !== 'obj' && looksLikeJson(bytes))) {
    if (!parsesAsJson(bytes)) {
      throw new CoreError(
        'file-truncated',
        `“${name}” is not whole glTF: its JSON ends or breaks half-way. Copy or export it again.`,
      );
    }
    return readGltf(bytes, companions);
  }
  if (ending === 'obj') {
    const text = new TextDecoder().decode(bytes);
    return readObj(text, name.replace(/\.[^.]+$/, '').replace(/^.*[\\/]/, ''), companions);
  }
  const partName = name.replace(/\.[^.]+$/, '').replace(/^.*[\\/]/, '') || 'Part';
  if (startsWith(bytes, 'ply\n') || startsWith(bytes, 'ply\r')) return bare(readPly(bytes, partName));
  if (ending === 'ply') {
    throw new CoreError(
      'file-not-a-model',
      `“${name}” is named .ply but doesn't begin as one. Export the model again.`,
    );
  }
  if (ending === 'stl') return bare(readStl(bytes, partName));
  if (ending === 'glb') {
    throw new CoreError(
      'file-not-a-model',
      `“${name}” is named .glb but doesn't begin as one. Export the model again as GLB.`,
    );
  }
  throw new CoreError(
    'file-not-a-model',
    `“${name}” is not a model that can be read. Choose a GLB, glTF, OBJ, PLY or STL file.`,
  );
}

/** The model alone, without the colours it brings. @throws as `importModel` */
export const readModel = async (...file: Parameters<typeof importModel>): Promise<Mesh> =>
  (await importModel(...file)).mesh;

const bare = (mesh: Mesh): ImportedModel => ({
  mesh,
  paint: { pictures: mesh.parts.map(() => null), colors: [], cornerColors: null },
});

const startsWith = (bytes: Uint8Array, text: string): boolean =>
  [...text].every((letter, i) => bytes[i] === letter.charCodeAt(0));

function looksLikeJson(bytes: Uint8Array): boolean {
  for (const b of bytes.subarray(0, 16)) {
    if (b === 0x7b) return true;
    if (b !== 0x20 && b !== 0x0a && b !== 0x0d && b !== 0x09 && b < 0xef) return false;
  }
  return false;
}

function parsesAsJson(bytes: Uint8Array): boolean {
  try {
    return typeof JSON.parse(new TextDecoder().decode(bytes)) === 'object';
  } catch {
    return false;
  }
}
