import { CoreError } from '../errors';
import { placed, placeDirection, type Placing, type Vec3 } from '../math';
import type { Mesh } from './mesh';

export const MODEL_AXES = ['+x', '-x', '+y', '-y', '+z', '-z'] as const;
export type Axis = (typeof MODEL_AXES)[number];

type Triple = readonly [number, number, number];

/** How a model that came in lying down, facing away, or in another unit is put upright. */
export interface Placement {
  /** Which of the model's present axes shall look up (+y). */
  readonly up?: Axis;
  /** Which shall look to the front (+z). */
  readonly front?: Axis;
  readonly scale?: number;
}

function unit(axis: Axis): Triple {
  const sign = axis.startsWith('-') ? -1 : 1;
  const at = 'xyz'.indexOf(axis[1]!);
  return [at === 0 ? sign : 0, at === 1 ? sign : 0, at === 2 ? sign : 0];
}

const cross = (a: Triple, b: Triple): Triple => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

/** Rows of the rotation. @throws CoreError `bad-argument` if up and front lie along one axis */
function rowsOf({ up = '+y', front = '+z' }: Placement): readonly [Triple, Triple, Triple] {
  if (up[1] === front[1]) {
    throw new CoreError(
      'bad-argument',
      `Up (${up}) and front (${front}) lie along one axis. Choose two different ones.`,
    );
  }
  return [cross(unit(up), unit(front)), unit(up), unit(front)];
}

/** The model turned and scaled. @throws CoreError `bad-argument` if up and front lie along one axis */
export function placeMesh<M extends Mesh>(mesh: M, placement: Placement): M {
  const rows = rowsOf(placement);
  const turned = (data: Float32Array, k: number): Float32Array => {
    const out = new Float32Array(data.length);
    for (let i = 0; i < data.length; i += 3) {
      rows.forEach(([x, y, z], row) => {
        // Adding 0 makes -0 a plain 0.
        out[i + row] = (x * data[i]! + y * data[i + 1]! + z * data[i + 2]! + 0) * k;
      });
    }
    return out;
  };
  const { scale = 1 } = placement;
  return { ...mesh, positions: turned(mesh.positions, scale), normals: turned(mesh.normals, 1) };
}

/** What `placeMesh` does to points: three rows of four, the last column is the move. @throws CoreError as it does */
export function placingOf(placement: Placement): number[] {
  const { scale = 1 } = placement;
  return rowsOf(placement).flatMap((row) => [...row.map((x) => x * scale + 0), 0]);
}

/** The model where a placing takes it; as it is, where that is null. */
export function placedMesh<M extends Mesh>(mesh: M, placing: Placing | null): M {
  if (!placing) return mesh;
  const all = (data: Float32Array, move: (at: Vec3) => readonly number[]): Float32Array => {
    const out = new Float32Array(data.length);
    for (let i = 0; i < data.length; i += 3) out.set(move([data[i]!, data[i + 1]!, data[i + 2]!]), i);
    return out;
  };
  return {
    ...mesh,
    positions: all(mesh.positions, (at) => placed(at, placing)),
    normals: all(mesh.normals, (way) => placeDirection(way, placing)),
  };
}
