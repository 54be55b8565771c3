import { onePose, type Pose } from '../motion';
import { formTiles, TILE_TEXELS } from '../surface';
import type { CueSpec } from './cue';
import { ownCueSurface, type CueSurface } from './cue-surface';
import { everySpot } from './every-texel';
import { casterFor, finishCast } from './measure-cue';

/** What is told of a pose: where it lies more open or more hidden than was painted, or how it stretches the surface. */
export type PoseMap = 'occlusion' | 'stretch';

export type OcclusionSpec = Extract<CueSpec, { cue: 'occlusion' }>;

/** Of these a first look casts a quarter for each 4 x 4 texels: twice what it usually does. */
const RAYS = 128;

/** By so much of the sky a map of occlusion comes to its ends. */
const OCCLUSION_ENDS = 0.5;

/** In so many halvings or doublings a map of stretch comes to its ends. */
const STRETCH_ENDS = 1;

/**
 * Makes ready to tell how open each texel lies in poses against what was painted, from a first look at both.
 *
 * @param painted what occlusion was painted from: how far it looks, and over which poses
 * @returns a byte a texel in the order of the map's codes: 128 where both are equal, 0 where half the sky or more is hidden now that was
 *   open, 255 where it is open and was hidden
 */
export function occlusionAgainst(
  groundFor: (spec: CueSpec) => CueSurface,
  painted: OcclusionSpec,
): (pose: Pose, onProgress?: (done: number) => void) => Uint8Array {
  const look = { ...painted, rays: RAYS };
  let before: Uint16Array | null = null;
  return (pose, onProgress = () => undefined) => {
    const first = before ? 0 : 0.5;
    before ??= firstLook(groundFor(look), look, (done) => onProgress(done * first));
    const now = { ...look, poses: onePose(pose) };
    const after = firstLook(groundFor(now), now, (done) => onProgress(first + (1 - first) * done));
    return Uint8Array.from(after, (value, i) => {
      const told = 128 + ((value - before![i]!) / 65535 / OCCLUSION_ENDS) * 127;
      return Math.round(Math.min(255, Math.max(0, told)));
    });
  };
}

function firstLook(ground: CueSurface, spec: CueSpec, onProgress: (done: number) => void): Uint16Array {
  const { map } = ground;
  const caster = casterFor(ground, spec);
  const values = new Uint16Array(map.codes.length);
  formTiles(map).forEach((tile, i, all) => {
    values.set(caster.tile(tile, true), map.slotOfTile[tile]! * TILE_TEXELS);
    onProgress((i + 1) / all.length);
  });
  return finishCast(ground, spec, values);
}

/**
 * How a pose stretches the surface.
 *
 * @param ground with the pose as the only one over which it measures
 * @returns a byte a texel in the order of the map's codes: 128 where lengths are kept, 0 where they are halved or less, 255 where they are
 *   doubled or more, by the direction that changes most
 */
export function stretchIn(ground: CueSurface): Uint8Array {
  const { mesh } = ground;
  const posed = ground.poses?.[0]?.mesh ?? mesh;
  const faces = new Float32Array(mesh.indices.length / 3);
  for (let f = 0; f < faces.length; f++) {
    const change = changeOf(mesh.positions, posed.positions, mesh.indices, f * 3);
    faces[f] = Math.min(1, Math.max(0, 0.5 + change / STRETCH_ENDS / 2));
  }
  const words = everySpot(ownCueSurface(ground.map), ({ face }, i) =>
    face[i]! < 0 ? 0.5 : faces[face[i]!]!,
  );
  return Uint8Array.from(words, (value) => Math.round(value / 257));
}

/** The logarithm to base 2 of the greatest change of length in a triangle; below 0 where it is pressed together. */
function changeOf(rest: Float32Array, posed: Float32Array, indices: Uint32Array, c: number): number {
  const [a, b] = [edges(rest, indices, c), edges(posed, indices, c)];
  // Squared lengths of what takes the one to the other are the eigenvalues of inverse(A) B, A and B the products of the edges.
  const det = a.ee * a.ff - a.ef * a.ef;
  if (!(det > 0)) return 0;
  const trace = (a.ff * b.ee + a.ee * b.ff - 2 * a.ef * b.ef) / det;
  const product = Math.max(0, b.ee * b.ff - b.ef * b.ef) / det;
  const root = Math.sqrt(Math.max(0, (trace * trace) / 4 - product));
  const [least, most] = [trace / 2 - root, trace / 2 + root].map((x) => Math.log2(Math.max(1e-6, x)) / 2);
  return Math.abs(least!) > Math.abs(most!) ? least! : most!;
}

function edges(p: Float32Array, indices: Uint32Array, c: number): { ee: number; ef: number; ff: number } {
  const [a, b, d] = [indices[c]! * 3, indices[c + 1]! * 3, indices[c + 2]! * 3];
  let [ee, ef, ff] = [0, 0, 0];
  for (let k = 0; k < 3; k++) {
    const e = p[b + k]! - p[a + k]!;
    const f = p[d + k]! - p[a + k]!;
    ee += e * e;
    ef += e * f;
    ff += f * f;
  }
  return { ee, ef, ff };
}
