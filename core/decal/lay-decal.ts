import {
  clamp01,
  cross,
  dot,
  length,
  normalize,
  scale,
  smoothstep,
  sub,
  type Vec3,
  placed,
  placeDirection,
  type Placing,
} from '../math';
import {
  centreOf,
  diagonalOf,
  subjectBounds,
  type SurfacePoint,
  UNROLLED_STRIDE,
  type UvMesh,
  surfaceFinders,
  type SurfaceFinders,
} from '../mesh';
import { copiesOf, SeenParts, type SeenFrom } from '../paint';
import { samplePyramid, type Pyramid } from '../pattern';
import {
  codesOfTile,
  NOWHERE,
  texelLengths,
  TILE_TEXELS,
  type PlaceReader,
  type SurfaceMap,
} from '../surface';
import type { DecalSpec } from './decal';

/** What decals are set by: reckoned from the model once. */
export interface DecalSurface extends SurfaceFinders {
  readonly centre: Vec3;
  readonly diagonal: number;
}

export function decalSurface(mesh: UvMesh): DecalSurface {
  const bounds = subjectBounds(mesh);
  return {
    ...surfaceFinders(mesh),
    centre: centreOf(bounds),
    diagonal: diagonalOf(bounds) || 1,
  };
}

/** Thrown straight it goes so deep, in parts of its longer side, and fades over the last third. */
const DEPTH = 0.6;

/** Cosines between what it looks along and what it falls on: nothing below the first, all of it above the second. */
const FACING_NONE = 0.05;
const FACING_FULL = 0.3;

/** Pixels of the picture by which is told what a straight decal meets first, and how far it reaches beyond the decal. */
const SEEN_PIXELS = 384;
const SEEN_AROUND = 1.1;

/** Where one copy of a decal lies. */
interface Laid {
  readonly at: Vec3;
  readonly normal: Vec3;
  readonly right: Vec3;
  readonly up: Vec3;
  /** Seen in a mirror, as a copy on the other side is. */
  readonly mirrored: boolean;
  /** For triangles that it reaches where they begin in `maps`; null: it is thrown straight. */
  readonly slots: ReadonlyMap<number, number> | null;
  readonly maps: Float64Array;
  /** What it meets first, where it is thrown straight; null where it is wrapped. */
  readonly meets: SeenParts | null;
}

/**
 * A picture set on a surface.
 *
 * @returns for a tile four numbers a texel, 0..1, colours premultiplied; null where it doesn't come
 */
export function layDecal(
  spec: DecalSpec,
  pyramid: Pyramid,
  surface: SurfaceMap,
  places: PlaceReader,
  ground: DecalSurface,
): (tile: number) => Float32Array | null {
  const picture = pyramid.levels[0]!;
  const wide = spec.width * ground.diagonal;
  const tall = ((wide * picture.height) / picture.width) * spec.stretch;
  const texelLength = texelLengths(surface);
  const reach = Math.sqrt(wide * wide + tall * tall) / 2;
  const laid = toModel(spec, ground).map((frame) =>
    lay(frame, spec, ground, surface.mesh, reach, Math.max(wide, tall)),
  );
  const sum = new Float64Array(4);

  /** Adds what one copy has at a texel over what is there. @returns whether it has anything */
  const add = (
    one: Laid,
    tile: number,
    face: number,
    p: Vec3,
    n: Vec3,
    out: Float32Array,
    o: number,
  ): boolean => {
    let [x, y] = [0, 0];
    let shows = 1;
    if (one.slots) {
      const slot = one.slots.get(face);
      if (slot === undefined) return false;
      const { maps } = one;
      x = maps[slot]! * p[0] + maps[slot + 1]! * p[1] + maps[slot + 2]! * p[2] + maps[slot + 3]!;
      y = maps[slot + 4]! * p[0] + maps[slot + 5]! * p[1] + maps[slot + 6]! * p[2] + maps[slot + 7]!;
    } else {
      const d = sub(p, one.at);
      x = dot(d, one.right);
      y = dot(d, one.up);
      const deep = Math.abs(dot(d, one.normal)) / (Math.max(wide, tall) * DEPTH);
      shows = (1 - smoothstep(2 / 3, 1, deep)) * smoothstep(FACING_NONE, FACING_FULL, dot(n, one.normal));
      // What lies behind something is left alone.
      if (shows > 0) shows *= one.meets!.at(p, n);
    }
    if (one.mirrored !== spec.flip) x = -x;
    const texel = texelLength(face, tile);
    // The border is smooth over one texel.
    const inside = (half: number, at: number): number => clamp01((half - Math.abs(at)) / texel + 0.5);
    shows *= inside(wide / 2, x) * inside(tall / 2, y);
    if (shows <= 0) return false;
    const pixel = Math.max(wide / picture.width, tall / picture.height);
    sum.fill(0);
    // Half a pixel off the rim: what lies beyond is the other side of the picture.
    const [u, v] = [held(x / wide + 0.5, picture.width), held(y / tall + 0.5, picture.height)];
    samplePyramid(pyramid, u, v, Math.max(0, Math.log2(texel / pixel)), shows, sum);
    const under = 1 - sum[3]!;
    for (let c = 0; c < 4; c++) out[o + c] = sum[c]! + out[o + c]! * under;
    return sum[3]! > 0;
  };

  return (tile) => {
    const codes = codesOfTile(surface, tile);
    if (!codes || !laid.some(({ slots }) => !slots || comesHere(codes, slots))) return null;
    const at = places.tile(tile);
    if (!at) return null;
    const out = new Float32Array(TILE_TEXELS * 4);
    let some = false;
    for (let i = 0; i < TILE_TEXELS; i++) {
      if (at.px[i]! >= NOWHERE) continue;
      const p: Vec3 = [at.px[i]!, at.py[i]!, at.pz[i]!];
      const n: Vec3 = [at.nx[i]! / 32767, at.ny[i]! / 32767, at.nz[i]! / 32767];
      for (const one of laid) some = add(one, tile, codes[i]! >> 2, p, n, out, i * 4) || some;
    }
    return some ? out : null;
  };
}

const held = (x: number, pixels: number): number => Math.min(1 - 0.5 / pixels, Math.max(0.5 / pixels, x));

function comesHere(codes: Int32Array, slots: ReadonlyMap<number, number>): boolean {
  let last = -1;
  for (const code of codes) {
    const face = code >> 2;
    if (face === last || face < 0) continue;
    last = face;
    if (slots.has(face)) return true;
  }
  return false;
}

interface Frame {
  readonly at: Vec3;
  readonly normal: Vec3;
  readonly up: Vec3;
  readonly mirrored: boolean;
}

/** Where a decal and its copies stand, model space. */
function toModel({ at, normal, up, copies }: DecalSpec, { centre, diagonal }: DecalSurface): Frame[] {
  return copiesOf(copies ?? undefined).map((copy): Frame => {
    const place = placed(at, copy);
    return {
      at: [0, 1, 2].map((k) => centre[k]! + place[k]! * diagonal) as unknown as Vec3,
      normal: placeDirection(normal, copy),
      up: placeDirection(up, copy),
      mirrored: isMirrored(copy),
    };
  });
}

const isMirrored = (copy: Placing): boolean => {
  const [x, y, z] = [
    placeDirection([1, 0, 0], copy),
    placeDirection([0, 1, 0], copy),
    placeDirection([0, 0, 1], copy),
  ];
  return dot(cross(x, y), z) < 0;
};

/** @param long its longer side, model units */
function lay(
  frame: Frame,
  spec: DecalSpec,
  ground: DecalSurface,
  mesh: UvMesh,
  reach: number,
  long: number,
): Laid {
  const place: SurfacePoint = { face: -1, w0: 1, w1: 0, w2: 0, distance: 0 };
  ground.closest.find(...frame.at, place);
  const at = spec.lies === 'wrapped' ? onMesh(mesh, place) : frame.at;
  const normal = normalize(frame.normal);
  const flat = sub(frame.up, scale(normal, dot(frame.up, normal)));
  const upright = length(flat) > 1e-6 ? normalize(flat) : normalize(cross(normal, otherThan(normal)));
  const aside = cross(upright, normal);
  // In a mirror what turns to the left turns to the right.
  const angle = frame.mirrored ? -spec.turn : spec.turn;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const mix = (a: Vec3, b: Vec3, x: number, y: number): Vec3 => [
    a[0] * x + b[0] * y,
    a[1] * x + b[1] * y,
    a[2] * x + b[2] * y,
  ];
  const right = mix(aside, upright, c, s);
  const up = mix(upright, aside, c, -s);
  const own = { at, normal, right, up, mirrored: frame.mirrored };
  if (spec.lies === 'straight') {
    const meets = new SeenParts(mesh, viewAlong(own, long));
    return { ...own, slots: null, maps: new Float64Array(0), meets };
  }
  const { faces, maps } = ground.unroller.around(place.face, ...at, ...right, reach);
  return {
    ...own,
    slots: new Map(faces.map((face, k) => [face, k * UNROLLED_STRIDE])),
    maps: maps.slice(0, faces.length * UNROLLED_STRIDE),
    meets: null,
  };
}

/** How the model looks from where a straight decal comes. */
function viewAlong(
  { at, right, up, normal }: Pick<Laid, 'at' | 'right' | 'up' | 'normal'>,
  long: number,
): SeenFrom {
  const k = SEEN_PIXELS / (long * SEEN_AROUND);
  const middle = SEEN_PIXELS / 2;
  return {
    view: [
      ...scale(right, k),
      middle - k * dot(right, at),
      ...scale(up, -k),
      middle + k * dot(up, at),
      ...[0, 0, 0, 1],
    ],
    eye: normal,
    hidden: [],
    side: SEEN_PIXELS,
  };
}

const otherThan = (n: Vec3): Vec3 => (Math.abs(n[0]) < 0.7 ? [1, 0, 0] : [0, 1, 0]);

function onMesh({ positions: p, indices }: UvMesh, { face, w0, w1, w2 }: SurfacePoint): Vec3 {
  const corner = (k: number): number => indices[face * 3 + k]! * 3;
  const [a, b, c] = [corner(0), corner(1), corner(2)];
  const at = (axis: number): number => p[a + axis]! * w0 + p[b + axis]! * w1 + p[c + axis]! * w2;
  return [at(0), at(1), at(2)];
}
