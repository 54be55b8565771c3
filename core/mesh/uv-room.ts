import { faceGeometry } from './face-geometry';
import type { UvMesh } from './mesh';

/** A triangle that covers less of its sheet, in parts of it, covers no texel even of the largest: its UVs lie on a point or a line. */
const NO_ROOM = 1e-11;

/** The same of one that is long, in parts of its longest side squared: 32 bits tell no better what lies on a line. */
const THIN = 1e-6;

/** Whether a triangle takes no room on its sheet, so that nothing can be painted on it. */
export function isRoomless({ indices, uvs }: UvMesh, face: number): boolean {
  const [a, b, c] = [0, 1, 2].map((k) => indices[face * 3 + k]! * 2) as [number, number, number];
  const [ux, uy] = [uvs[b]! - uvs[a]!, uvs[b + 1]! - uvs[a + 1]!];
  const [vx, vy] = [uvs[c]! - uvs[a]!, uvs[c + 1]! - uvs[a + 1]!];
  const longest = Math.max(ux * ux + uy * uy, vx * vx + vy * vy, (ux - vx) ** 2 + (uy - vy) ** 2);
  return Math.abs(ux * vy - uy * vx) / 2 < Math.max(NO_ROOM, THIN * longest);
}

/** The part of the surface, by area, that takes no room on its sheet, 0..1. */
export function roomlessShare(mesh: UvMesh): number {
  const { areas } = faceGeometry(mesh);
  let [all, roomless] = [0, 0];
  areas.forEach((area, face) => {
    all += area;
    if (isRoomless(mesh, face)) roomless += area;
  });
  return all > 0 ? roomless / all : 0;
}
