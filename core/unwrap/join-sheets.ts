import { putOnSheet, sheetOfFace, type UvMesh } from '../mesh';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import { packLayout, type PackLayout } from './pack/pack-layout';

export type JoinSheets = Pick<PackLayout, 'size' | 'margin' | 'weights'>;

/** All parts on one sheet: islands keep their form, and are packed so that a unit of the surface has as many texels everywhere. */
export function joinSheets(mesh: UvMesh, how: JoinSheets): UvMesh {
  const uvs = cornerUvs(mesh);
  let [low, high] = [0, 1];
  for (let c = 0; c < uvs.length; c += 2) {
    low = Math.min(low, uvs[c]!);
    high = Math.max(high, uvs[c]!);
  }
  // Islands of two sheets may have the same place on them, and are no twins for all that.
  const step = 1 + Math.ceil(high - low);
  for (let c = 0; c < mesh.indices.length; c++) uvs[c * 2]! += step * sheetOfFace(mesh, Math.floor(c / 3));
  const all = mesh.parts.map((_, part) => part);
  const apart = putOnSheet(withCornerUvs(mesh, uvs), all, 0);
  const packed = packLayout(apart, { ...how, even: true, arrange: 'tightest', pins: [] });
  // What is only a point wasn't packed.
  const at = cornerUvs(packed);
  for (let c = 0; c < mesh.indices.length; c++) {
    const sheet = sheetOfFace(mesh, Math.floor(c / 3));
    if (sheet > 0 && at[c * 2]! >= step + low) at[c * 2]! -= step * sheet;
  }
  return withCornerUvs(packed, at);
}
