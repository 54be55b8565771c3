import { faceGeometry } from '../mesh';
import { sheetOfTile, type SurfaceMap } from './surface-map';
import { flatTriangle, layTriangle } from './triangle-on-sheet';

/**
 * How long the side of a texel is where a triangle lies on its sheet, model units; the sheet's mean where it has no area there.
 *
 * @returns asked with a triangle and a tile in which it lies
 */
export function texelLengths(map: SurfaceMap): (face: number, tile: number) => number {
  const { areas } = faceGeometry(map.mesh);
  const known = new Float32Array(areas.length).fill(-1);
  const flat = flatTriangle();
  return (face, tile) => {
    if (known[face]! < 0) {
      const { size, texelLength } = map.sheets[sheetOfTile(map.sheets, tile)]!;
      layTriangle(map.mesh, face, size, flat);
      const t = flat.at;
      const doubled = (t[2]! - t[0]!) * (t[5]! - t[1]!) - (t[3]! - t[1]!) * (t[4]! - t[0]!);
      known[face] = doubled === 0 ? texelLength : Math.sqrt((2 * areas[face]!) / Math.abs(doubled));
    }
    return known[face]!;
  };
}
