import { seededRandom } from '../math';
import { subjectDiagonal } from '../mesh';
import type { SurfaceMap } from '../surface';
import type { Brushwork } from './brushwork';
import { strokeDirections } from './directions';
import { scatterOver, type Scatter } from './scatter';

/** Strokes as they lie on a model, all but their colours. */
export interface LaidStrokes {
  readonly scatter: Scatter;
  /** Unit, along each stroke and across it, xyz. */
  readonly along: Float32Array;
  readonly across: Float32Array;
  /** Half a stroke's length and width, model units. */
  readonly halfLength: Float32Array;
  readonly halfWidth: Float32Array;
  /** -0.5..0.5 three times: hue, lightness, bristles. */
  readonly chance: Float32Array;
  readonly grid: ReadonlyMap<string, readonly number[]>;
  readonly cell: number;
  /** No stroke reaches farther from its middle. */
  readonly reach: number;
}

/** Small strokes are this much of the size of large ones. */
const SMALL = 0.42;

/** Sets strokes over a model: large ones first, small ones on top of them. */
export function setStrokes({ mesh }: Pick<SurfaceMap, 'mesh'>, how: Brushwork): LaidStrokes {
  const diagonal = subjectDiagonal(mesh);
  const rounds = [
    { size: 1, amount: how.amount, seed: how.seed },
    ...(how.small > 0 ? [{ size: SMALL, amount: how.amount * how.small, seed: how.seed + 7919 }] : []),
  ].map(({ size, amount, seed }) => {
    const width = how.size * size * diagonal;
    const length = width * how.length;
    // A stroke covers its length and width; as they lie over one another they stand closer.
    const all = scatterOver(mesh, Math.sqrt(width * length) * (1 - how.overlap), seed);
    const scatter = amount < 1 ? thinned(all, amount, seed) : all;
    return { scatter, width, length, seed, along: strokeDirections(mesh, scatter, how, length) };
  });
  const count = rounds.reduce((n, r) => n + r.scatter.count, 0);
  const scatter = joined(rounds.map((r) => r.scatter));
  const out = {
    scatter,
    along: new Float32Array(count * 3),
    across: new Float32Array(count * 3),
    halfLength: new Float32Array(count),
    halfWidth: new Float32Array(count),
    chance: new Float32Array(count * 3),
  };
  let i = 0;
  for (const round of rounds) {
    const random = seededRandom(round.seed + 13);
    for (let k = 0; k < round.scatter.count; k++, i++) {
      const n = scatter.normals.subarray(i * 3, i * 3 + 3);
      const t = round.along.subarray(k * 3, k * 3 + 3);
      const angle = ((random() - 0.5) * 2 * how.angleJitter * Math.PI) / 180;
      turnAbout(n, t, angle, out.along, i * 3);
      turnAbout(n, t, angle + Math.PI / 2, out.across, i * 3);
      // No two strokes of a hand are of one size.
      const own = 0.8 + 0.4 * random();
      out.halfLength[i] = (round.length / 2) * own;
      out.halfWidth[i] = (round.width / 2) * (0.85 + 0.3 * random());
      for (let c = 0; c < 3; c++) out.chance[i * 3 + c] = random() - 0.5;
    }
  }
  const reach = out.halfLength.reduce((most, l) => Math.max(most, l), 0);
  const cell = Math.max(reach, 1e-9);
  const grid = new Map<string, number[]>();
  for (let s = 0; s < count; s++) {
    const key = [0, 1, 2].map((k) => Math.floor(scatter.positions[s * 3 + k]! / cell)).join(' ');
    const list = grid.get(key);
    if (list) list.push(s);
    else grid.set(key, [s]);
  }
  return { ...out, grid, cell, reach };
}

function thinned(all: Scatter, amount: number, seed: number): Scatter {
  const random = seededRandom(seed + 29);
  const kept = Array.from({ length: all.count }, (_, i) => i).filter(() => random() < amount);
  const take = (data: Float32Array): Float32Array =>
    Float32Array.from(kept.flatMap((i) => [data[i * 3]!, data[i * 3 + 1]!, data[i * 3 + 2]!]));
  return {
    count: kept.length,
    positions: take(all.positions),
    normals: take(all.normals),
    faces: Int32Array.from(kept, (i) => all.faces[i]!),
    weights: take(all.weights),
  };
}

function joined(list: readonly Scatter[]): Scatter {
  const count = list.reduce((n, s) => n + s.count, 0);
  const out = {
    count,
    positions: new Float32Array(count * 3),
    normals: new Float32Array(count * 3),
    faces: new Int32Array(count),
    weights: new Float32Array(count * 3),
  };
  let at = 0;
  for (const s of list) {
    out.positions.set(s.positions, at * 3);
    out.normals.set(s.normals, at * 3);
    out.weights.set(s.weights, at * 3);
    out.faces.set(s.faces, at);
    at += s.count;
  }
  return out;
}

/** A tangent turned about a normal. */
function turnAbout(n: Float32Array, t: Float32Array, angle: number, out: Float32Array, at: number): void {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  out[at] = t[0]! * c + (n[1]! * t[2]! - n[2]! * t[1]!) * s;
  out[at + 1] = t[1]! * c + (n[2]! * t[0]! - n[0]! * t[2]!) * s;
  out[at + 2] = t[2]! * c + (n[0]! * t[1]! - n[1]! * t[0]!) * s;
}
