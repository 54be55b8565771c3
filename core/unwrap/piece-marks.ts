import { faceMask, faceRuns, type FaceRuns, type Mesh } from '../mesh';
import type { WishedFaces } from './seams/seam-wishes';

/** What is said of triangles and corners before a model is laid out; see `UnwrapOptions`. */
interface Marks {
  readonly kept?: readonly number[];
  readonly wishes?: WishedFaces;
  readonly stack?: { readonly apart: FaceRuns };
}

/** Seams that stay, wishes and what is kept apart, as the numbers of a piece's own corners and triangles. @param faces the piece's, as the whole numbers them */
export function marksOnPiece(
  { faceParts }: Mesh,
  faces: Uint32Array,
  { kept = [], wishes, stack }: Marks,
): Marks {
  if (faces.length === faceParts.length) return { kept, ...(wishes && { wishes }), ...(stack && { stack }) };
  const own = new Map(Array.from(faces, (f, i) => [f, i]));
  const corners = kept.flatMap((c) => {
    const f = own.get(Math.floor(c / 3));
    return f === undefined ? [] : [f * 3 + (c % 3)];
  });
  const moved = (runs: FaceRuns): FaceRuns => {
    const mask = faceMask(faceParts.length, runs);
    return faceRuns(faces.length, (i) => mask[faces[i]!] === 1);
  };
  return {
    kept: corners,
    ...(wishes && { wishes: { never: moved(wishes.never), gladly: moved(wishes.gladly) } }),
    ...(stack && { stack: { apart: moved(stack.apart) } }),
  };
}
