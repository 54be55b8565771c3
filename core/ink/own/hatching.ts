import { scatterOver } from '../../brushwork';
import { add, cross, dot, length, normalize, scale, seededRandom, sub, type Vec3 } from '../../math';
import type { InkSurface } from '../ink-surface';
import type { Chain } from './chains';
import { formField } from './form-field';
import type { OwnSource } from './own-spec';

type Hatching = Extract<OwnSource, { along: 'hatching' }>;

/** Where strokes stand thickest they are so much closer than the spacing that is asked for. */
const CLOSE = 0.8;

/** Strokes along the form pass over what is finer than this, parts of the diagonal. */
const FORM = 0.02;

/** Steps of a stroke a length between strokes. */
const STEPS = 2;

/** By how much the second and third direction are turned from the first, radians. */
const TURNS = [0, Math.PI / 2.6, -Math.PI / 3.4];

const UP: Vec3 = [0, 1, 0];

/**
 * Strokes that follow the form, closer where it is darker. Of each direction's strokes, which stand evenly, those are drawn whose number
 * drawn by lot lies below the darkness; every further direction begins where the ones before are close already.
 *
 * @param dark how dark it is at a place of a triangle, 0..1
 * @param diagonal of the model
 */
export function hatchingLines(
  how: Hatching,
  ground: InkSurface,
  dark: (face: number, at: Vec3) => number,
  seed: number,
  diagonal: number,
): Chain[] {
  const spacing = how.spacing * diagonal;
  const long = how.length * diagonal;
  const field = how.way === 'form' ? formField(ground, FORM * diagonal) : null;
  const wayAt = (face: number): Vec3 => {
    const n = ground.normalOf(face);
    const around = cross(n, UP);
    const wish = how.way === 'down' ? scale(UP, -1) : how.way === 'form' ? (field?.(face) ?? around) : around;
    const flat = sub(wish, scale(n, dot(wish, n)));
    return length(flat) > 1e-6 ? normalize(flat) : normalize(cross(n, [1, 0, 0]));
  };
  const out: Chain[] = [];
  for (let k = 0; k < how.directions; k++) {
    const all = scatterOver(ground.mesh, Math.sqrt(spacing * long) * CLOSE, seed + k * 101);
    const random = seededRandom(seed + k * 101 + 1);
    const [c, s] = [Math.cos(TURNS[k]!), Math.sin(TURNS[k]!)];
    const turned = (face: number): Vec3 => {
      const n = ground.normalOf(face);
      const along = wayAt(face);
      return add(scale(along, c), scale(cross(n, along), s));
    };
    /** This direction's share of the darkness, 0..1. */
    const share = (face: number, at: Vec3): number => Math.min(1, dark(face, at) * how.directions - k);
    for (let i = 0; i < all.count; i++) {
      const lot = random();
      const own = 0.7 + 0.6 * random();
      const at: Vec3 = [all.positions[i * 3]!, all.positions[i * 3 + 1]!, all.positions[i * 3 + 2]!];
      const face = all.faces[i]!;
      if (share(face, at) <= lot) continue;
      const half = (long * own) / 2;
      const ahead = grow(ground, face, at, turned, 1, half, spacing, (f, p) => share(f, p) > lot * 0.85);
      const back = grow(ground, face, at, turned, -1, half, spacing, (f, p) => share(f, p) > lot * 0.85);
      const points = [...back.toReversed(), at, ...ahead];
      if (points.length > 1) out.push({ points, closed: false, pieces: [] });
    }
  }
  return out;
}

/** A way over the surface along a field of directions, as long as it may go on. */
function grow(
  ground: InkSurface,
  from: number,
  start: Vec3,
  wayAt: (face: number) => Vec3,
  sign: 1 | -1,
  long: number,
  spacing: number,
  mayGoOn: (face: number, at: Vec3) => boolean,
): Vec3[] {
  const step = Math.min(long, spacing / STEPS);
  const out: Vec3[] = [];
  let [face, at] = [from, start];
  let last = scale(wayAt(face), sign);
  for (let way = 0; way < long; way += step) {
    let along = wayAt(face);
    // A field has no sign of its own: it goes on as it went.
    if (dot(along, last) < 0) along = scale(along, -1);
    const wish = add(at, scale(along, step));
    const next = ground.onward(face, wish, step * 0.5);
    // Over an open border there is nothing to go on.
    if (next.distance > step * 0.8 || length(sub(next.at, at)) < step * 0.2 || !mayGoOn(next.face, next.at))
      break;
    out.push(next.at);
    last = along;
    [face, at] = [next.face, next.at];
  }
  return out;
}
