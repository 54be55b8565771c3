import { CoreError } from '../../core/errors';
import { joinPieces } from '../../core/formats/model-builder';
import { bare, nameWithoutEnding, type ModelFormat } from '../../core/formats/model-format';
import { checkTriangleLimit, type Mesh } from '../../core/mesh';

/**
 * Reads an OFF file: vertices, then faces of three corners or more, each given by how many it has (Geomview, "OFF Files").
 *
 * @throws CoreError `file-not-a-model`, `file-truncated`, and those of `checkMesh`
 */
export function readOff(text: string, name: string): Mesh {
  const words = text.replace(/#.*$/gm, '').split(/\s+/).filter(Boolean);
  if (words.shift() !== 'OFF')
    throw new CoreError('file-not-a-model', `“${name}” doesn't begin with OFF. Export the model again.`);
  let at = 0;
  const next = (): number => {
    const value = Number(words[at++]);
    if (at > words.length || !Number.isFinite(value))
      throw new CoreError('file-truncated', `“${name}” ends or breaks half-way. Copy or export it again.`);
    return value;
  };
  const [vertices, faces] = [next(), next(), next()];
  // Sizes are believed only when the file can hold them.
  checkTriangleLimit(faces!);
  if (vertices! * 3 > words.length) at = words.length;
  const positions = Float32Array.from({ length: vertices! * 3 }, next);
  const indices: number[] = [];
  for (let f = 0; f < faces!; f++) {
    const corners = Array.from({ length: Math.min(next(), words.length) }, next);
    for (let k = 2; k < corners.length; k++) indices.push(corners[0]!, corners[k - 1]!, corners[k]!);
  }
  return joinPieces([{ name, positions, normals: null, uvs: null, indices: Uint32Array.from(indices) }]);
}

/** Vertices and faces as plain text. */
export const offFormat: ModelFormat = {
  title: 'OFF',
  ending: 'off',
  read: ({ name, bytes }) => bare(readOff(new TextDecoder().decode(bytes), nameWithoutEnding(name))),
};
