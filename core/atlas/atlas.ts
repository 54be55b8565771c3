import { ownersOf } from '../delivery';
import { clamped, mipLevels, samplePicture } from '../picture';
import { CoreError } from '../errors';
import type { Picture } from '../formats';
import {
  checkMesh,
  subjectOf,
  MAX_PARTS,
  MAX_TRIANGLES,
  requireUvs,
  sheetOfFace,
  type UvMesh,
} from '../mesh';
import { bleed } from '../surface';
import { packLayout, type Arrange } from '../unwrap';

/** One project that goes into an atlas. */
export interface AtlasMember {
  readonly name: string;
  readonly mesh: UvMesh;
  /** Albedo of each of its sheets, bled. */
  readonly pictures: readonly Picture[];
  /** How many times denser it lies than the others. */
  readonly weight: number;
}

export interface AtlasHow {
  /** Texels a side. */
  readonly size: number;
  /** Texels between islands. */
  readonly margin: number;
  readonly arrange: Arrange;
}

export interface Atlas {
  /** All members on one sheet; parts are called “member / part”. */
  readonly mesh: UvMesh;
  /** Bled over the whole sheet. */
  readonly picture: Picture;
  /** Of each member, in their order. */
  readonly members: readonly {
    readonly name: string;
    readonly parts: readonly string[];
    /** Part of the sheet that it covers. */
    readonly fill: number;
  }[];
}

/**
 * Several painted models, without their backdrops, on one sheet: all islands are packed anew with the same texels a unit, times their member's weight, and the paint is
 * read from where it lay.
 *
 * @throws CoreError `bad-argument` if there is none, or two are called alike; `model-too-large`; `pack-no-room` if they don't fit
 */
export function makeAtlas(projects: readonly AtlasMember[], how: AtlasHow): Atlas {
  const members = projects.map((member) => ({ ...member, mesh: subjectOf(member.mesh) }));
  if (members.length === 0) throw new CoreError('bad-argument', 'An atlas needs a project at least.');
  const twice = members.find((m, i) => members.findIndex((o) => o.name === m.name) !== i);
  if (twice)
    throw new CoreError('bad-argument', `Two projects are called “${twice.name}”. Rename one of them.`);
  const apart = together(members);
  const weights = new Map(
    members.flatMap(({ name, mesh, weight }) =>
      mesh.parts.map((part) => [titleOf(name, part), weight] as const),
    ),
  );
  const mesh = packLayout(apart.mesh, { ...how, even: true, weights, pins: [] });
  const { face } = ownersOf(mesh, how.size);
  const rgba = new Uint8Array(how.size * how.size * 4);
  const known = new Uint8Array(how.size * how.size);
  const read = readerOf(members, apart, mesh, how.size);
  const covered = members.map(() => 0);
  for (let i = 0; i < face.length; i++) {
    const f = face[i]!;
    if (f < 0) continue;
    read(f, i, rgba);
    known[i] = rgba[i * 4 + 3]! > 0 ? 1 : 0;
    covered[apart.memberOf[f]!]!++;
  }
  bleed(rgba, known, how.size, how.size, Infinity);
  return {
    mesh,
    picture: { width: how.size, height: how.size, rgba },
    members: members.map(({ name, mesh: own }, k) => ({
      name,
      parts: own.parts.map((part) => titleOf(name, part)),
      fill: covered[k]! / face.length,
    })),
  };
}

const titleOf = (member: string, part: string): string => `${member} / ${part}`;

interface Together {
  readonly mesh: UvMesh;
  /** Member, and triangle in its own mesh, of each triangle. */
  readonly memberOf: Uint16Array;
  readonly faceOf: Uint32Array;
}

/** All members as one mesh. Their islands are moved apart, so that none lies on another by chance. */
function together(members: readonly AtlasMember[]): Together {
  const sum = (of: (mesh: UvMesh) => number): number => members.reduce((n, { mesh }) => n + of(mesh), 0);
  const faces = sum((m) => m.faceParts.length);
  const parts = members.flatMap(({ name, mesh }) => mesh.parts.map((part) => titleOf(name, part)));
  if (faces > MAX_TRIANGLES || parts.length > MAX_PARTS) {
    throw new CoreError(
      'model-too-large',
      `Together they have ${faces.toLocaleString('en')} triangles and ${parts.length} parts; an atlas takes up to ${MAX_TRIANGLES.toLocaleString('en')} and ${MAX_PARTS}. Make two of it.`,
    );
  }
  const vertices = sum((m) => m.positions.length / 3);
  const positions = new Float32Array(vertices * 3);
  const normals = new Float32Array(vertices * 3);
  const uvs = new Float32Array(vertices * 2);
  const indices = new Uint32Array(faces * 3);
  const faceParts = new Uint16Array(faces);
  const memberOf = new Uint16Array(faces);
  const faceOf = new Uint32Array(faces);
  let [vertex, face, part, place] = [0, 0, 0, 0];
  for (const [k, { mesh }] of members.entries()) {
    positions.set(mesh.positions, vertex * 3);
    normals.set(mesh.normals, vertex * 3);
    const sheets = Math.max(0, ...(mesh.partSheets ?? [0])) + 1;
    mesh.faceParts.forEach((p, f) => {
      faceParts[face + f] = part + p;
      memberOf[face + f] = k;
      faceOf[face + f] = f;
      for (let c = f * 3; c < f * 3 + 3; c++) {
        const v = mesh.indices[c]!;
        indices[face * 3 + c] = vertex + v;
        // A column of its own for each sheet of each member.
        uvs[(vertex + v) * 2] = mesh.uvs[v * 2]! + (place + sheetOfFace(mesh, f)) * 2;
        uvs[(vertex + v) * 2 + 1] = mesh.uvs[v * 2 + 1]!;
      }
    });
    vertex += mesh.positions.length / 3;
    face += mesh.faceParts.length;
    part += mesh.parts.length;
    place += sheets;
  }
  const mesh = requireUvs(checkMesh({ positions, normals, uvs, indices, faceParts, parts }));
  return { mesh, memberOf, faceOf };
}

/** Reads the colour of an atlas's texel from the sheet on which its triangle lay: bilinear, from the halving whose texels are as large. */
function readerOf(
  members: readonly AtlasMember[],
  { memberOf, faceOf }: Together,
  atlas: UvMesh,
  size: number,
): (face: number, texel: number, out: Uint8Array) => void {
  const levels = members.map(({ pictures }) => pictures.map((picture) => mipLevels(picture, 'linear')));
  return (face, texel, out) => {
    const member = memberOf[face]!;
    const { mesh } = members[member]!;
    const own = faceOf[face]!;
    const now = cornersOf(atlas, face, size);
    const chain = levels[member]![sheetOfFace(mesh, own)] ?? levels[member]![0]!;
    const was = cornersOf(mesh, own, chain[0]!.width);
    const area = areaOf(now);
    const [x, y] = [(texel % size) + 0.5, Math.floor(texel / size) + 0.5];
    const w1 = area === 0 ? 0 : cross(now[0], [x, y], now[2]) / area;
    const w2 = area === 0 ? 0 : cross(now[0], now[1], [x, y]) / area;
    const w0 = 1 - w1 - w2;
    const at = (k: 0 | 1): number => was[0][k] * w0 + was[1][k] * w1 + was[2][k] * w2;
    const shrink = area === 0 ? 1 : Math.sqrt(Math.abs(areaOf(was) / area));
    const level = Math.min(chain.length - 1, Math.max(0, Math.round(Math.log2(Math.max(1, shrink)))));
    samplePicture(chain[level]!, at(0) / 2 ** level, at(1) / 2 ** level, clamped, out, texel * 4);
  };
}

type Point = readonly [x: number, y: number];

/** A triangle's corners on its sheet, texels from the upper left. */
function cornersOf({ indices, uvs }: UvMesh, face: number, size: number): readonly [Point, Point, Point] {
  const at = (k: number): Point => {
    const v = indices[face * 3 + k]! * 2;
    return [uvs[v]! * size, (1 - uvs[v + 1]!) * size];
  };
  return [at(0), at(1), at(2)];
}

const cross = (a: Point, b: Point, c: Point): number =>
  (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);

const areaOf = ([a, b, c]: readonly [Point, Point, Point]): number => cross(a, b, c);
