import {
  boundsOf,
  diagonalOf,
  subjectOf,
  sheetOfFace,
  smoothNormals,
  type UvMesh,
  weldPlaces,
} from '../mesh';
import type { GlbHull, Picture } from '../formats';

export interface HullHow {
  /** Of the whole model, parts of its diagonal. */
  readonly width: number;
  /** `#rrggbb` */
  readonly color: string;
  /** Of each sheet: what part of the width the outline has where, as a grey picture; left out: all of it. */
  readonly widths?: readonly Picture[] | undefined;
}

/**
 * An outline as engines draw it (an inverted hull): the model blown up along its normals and turned inside out, so that with back faces
 * culled only its far side is seen, behind the model. Where the normals of one place differ it is blown up along their mean, by the mean of
 * what is asked for there, so that it doesn't tear.
 */
export function hullOf(whole: UvMesh, { width, color, widths }: HullHow): GlbHull {
  // A flat backdrop has no outline.
  const mesh = subjectOf(whole);
  const { positions, indices } = mesh;
  const count = positions.length / 3;
  const place = weldPlaces(positions);
  const normals = smoothNormals(positions, indices, place);
  const sums = new Float64Array(count);
  const times = new Uint32Array(count);
  for (let c = 0; c < indices.length; c++) {
    const v = indices[c]!;
    const picture = widths?.[sheetOfFace(mesh, Math.floor(c / 3))];
    sums[place[v]!]! += picture ? greyAt(picture, mesh.uvs[v * 2]!, mesh.uvs[v * 2 + 1]!) : 1;
    times[place[v]!]!++;
  }
  const own = Float32Array.from({ length: count }, (_, v) =>
    times[place[v]!] ? sums[place[v]!]! / times[place[v]!]! : 1,
  );
  const reach = width * diagonalOf(boundsOf(positions));
  const blown = positions.map((x, i) => x + normals[i]! * reach * own[Math.floor(i / 3)]!);
  const turned = indices.slice();
  for (let c = 0; c < turned.length; c += 3)
    [turned[c + 1], turned[c + 2]] = [indices[c + 2]!, indices[c + 1]!];
  return { mesh: { ...mesh, positions: blown, normals, indices: turned }, widths: own, color };
}

/** 0..1; 1 where nothing lies. */
function greyAt({ width, height, rgba }: Picture, u: number, v: number): number {
  const along = (t: number, side: number): number =>
    Math.min(side - 1, Math.max(0, Math.floor((t - Math.floor(t)) * side)));
  const o = (along(1 - v, height) * width + along(u, width)) * 4;
  return rgba[o + 3]! > 0 ? rgba[o]! / 255 : 1;
}
