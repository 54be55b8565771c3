import { CoreError } from '../errors';
import { isBackdrop, type UvMesh } from '../mesh';
import { measureSurface, twinPairs, type SheetSize } from '../surface';
import { cornerUvs, withCornerUvs } from './corner-uvs';

/** Twins are looked for on sheets of this size: they lie on one another at any. */
const LOOK_SIZE: SheetSize = 512;

/**
 * Takes twins off one another: the second of each pair is moved beside the sheet, the right way round, to be packed with all others. Islands
 * that are folded onto themselves are cut along the fold.
 *
 * @param faces of twins that are meant, either of them; all if empty
 * @throws CoreError `bad-argument` if there are none
 */
export function twinsApart(mesh: UvMesh, faces: readonly number[] = []): UvMesh {
  const sizes = Array.from({ length: Math.max(0, ...(mesh.partSheets ?? [0])) + 1 }, () => LOOK_SIZE);
  const meant = new Set(faces);
  const pairs = twinPairs(measureSurface(mesh, sizes)).filter(
    ({ first, second }) =>
      !isBackdrop(mesh, mesh.faceParts[second.faces[0]!]!) &&
      (meant.size === 0 || [first, second].some((side) => side.faces.some((f) => meant.has(f)))),
  );
  if (pairs.length === 0) {
    throw new CoreError(
      'bad-argument',
      'No islands there show the same texels, so there are no twins to separate.',
    );
  }
  const uvs = cornerUvs(mesh);
  pairs.forEach(({ second, isDown }, n) => {
    // Beside the sheet, each by itself.
    const aside = (n + 1) * 2;
    const right = isDown
      ? second.faces.reduce(
          (most, f) => Math.max(most, uvs[f * 6]!, uvs[f * 6 + 2]!, uvs[f * 6 + 4]!),
          -Infinity,
        )
      : 0;
    for (const f of second.faces) {
      for (let c = f * 6; c < f * 6 + 6; c += 2) uvs[c] = (isDown ? right - uvs[c]! : uvs[c]!) + aside;
    }
  });
  return withCornerUvs(mesh, uvs);
}
