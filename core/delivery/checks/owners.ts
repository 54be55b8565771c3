import { findIslands, pieceOnSheet, type UvMesh } from '../../mesh';
import { nearestKnown } from '../../surface';

/** Whose the texels of one sheet are, rows from the top. */
export interface Owners {
  readonly sheet: number;
  readonly size: number;
  /** The triangle over the middle of each texel, in the whole mesh; -1: none. */
  readonly face: Int32Array;
  /** The nearest texel of the surface to each; -1 on an empty sheet. */
  readonly home: Int32Array;
  /** The island nearest to each texel, so also whose colour is bled there; -1 on an empty sheet. */
  readonly nearest: Int32Array;
  /** How far off it is, texels squared; 0 inside. */
  readonly squared: Int32Array;
  /** Island of each triangle of the whole mesh. */
  readonly islandOf: Uint32Array;
}

/** Finds whose every texel of a sheet is. What lies beside the sheet belongs to nobody. */
export function ownersOf(mesh: UvMesh, size: number, sheet = 0): Owners {
  const face = new Int32Array(size * size).fill(-1);
  const { mesh: piece, faces } = pieceOnSheet(mesh, sheet);
  for (let f = 0; f < faces.length; f++) drawTriangle(piece, f, size, (i) => (face[i] = faces[f]!));
  const { ofFace: islandOf } = findIslands(mesh);
  const inside = new Uint8Array(size * size);
  for (let i = 0; i < face.length; i++) if (face[i]! >= 0) inside[i] = 1;
  const { from: home, squared } = nearestKnown(inside, size, size);
  const nearest = new Int32Array(size * size);
  for (let i = 0; i < home.length; i++) nearest[i] = home[i]! < 0 ? -1 : islandOf[face[home[i]!]!]!;
  return { sheet, size, face, home, nearest, squared, islandOf };
}

/** Tells every texel whose middle lies in a triangle. Shared edges may be told twice. */
function drawTriangle({ indices, uvs }: UvMesh, f: number, size: number, put: (texel: number) => void): void {
  const at = (k: number): readonly [number, number] => {
    const v = indices[f * 3 + k]! * 2;
    return [uvs[v]! * size, (1 - uvs[v + 1]!) * size];
  };
  const [[ax, ay], [bx, by], [cx, cy]] = [at(0), at(1), at(2)];
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area === 0 || !Number.isFinite(area)) return;
  const x0 = Math.max(0, Math.ceil(Math.min(ax, bx, cx) - 0.5));
  const x1 = Math.min(size - 1, Math.floor(Math.max(ax, bx, cx) - 0.5));
  const y0 = Math.max(0, Math.ceil(Math.min(ay, by, cy) - 0.5));
  const y1 = Math.min(size - 1, Math.floor(Math.max(ay, by, cy) - 0.5));
  for (let y = y0; y <= y1; y++) {
    for (let x = x0; x <= x1; x++) {
      const [px, py] = [x + 0.5 - ax, y + 0.5 - ay];
      const sb = (px * (cy - ay) - py * (cx - ax)) / area;
      const sc = ((bx - ax) * py - (by - ay) * px) / area;
      if (sb >= 0 && sc >= 0 && sb + sc <= 1) put(y * size + x);
    }
  }
}
