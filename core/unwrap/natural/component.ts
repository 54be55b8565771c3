import { topologyOf, type Mesh, type Topology } from '../../mesh';
import type { CoarseMesh } from './coarse';
import type { MergeStep } from './natural-merge';

/** A part of a surface as a mesh of its own, with what is known of its edges and vertices. */
export interface MeshComponent {
  readonly mesh: Pick<Mesh, 'positions' | 'indices'>;
  readonly topology: Topology;
  readonly faces: Uint32Array;
  /** The whole mesh's welded vertex for each of its own. */
  readonly vertices: Uint32Array;
  readonly seams: Uint8Array;
  readonly wishes: Float32Array | null;
  /** How much each vertex is seen. */
  readonly seen: Float64Array;
}

export function componentOf(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  faces: Uint32Array,
  known: Pick<MeshComponent, 'seams' | 'wishes' | 'seen'>,
): MeshComponent {
  const local = new Map<number, number>();
  const positions: number[] = [];
  const seen: number[] = [];
  const vertices: number[] = [];
  const indices = new Uint32Array(faces.length * 3);
  faces.forEach((f, i) => {
    for (let k = 0; k < 3; k++) {
      const v = mesh.indices[f * 3 + k]!;
      let n = local.get(v);
      if (n === undefined) {
        local.set(v, (n = local.size));
        for (let axis = 0; axis < 3; axis++) positions.push(mesh.positions[v * 3 + axis]!);
        vertices.push(topology.welded[v]!);
        seen.push(known.seen[topology.welded[v]!]!);
      }
      indices[i * 3 + k] = n;
    }
  });
  const own = { positions: Float32Array.from(positions), indices };
  const its = topologyOf(own);
  const seams = new Uint8Array(its.edges.uses.length);
  const wishes = known.wishes && new Float32Array(seams.length).fill(1);
  its.edges.ofCorner.forEach((e, c) => {
    const whole = topology.edges.ofCorner[faces[Math.floor(c / 3)]! * 3 + (c % 3)]!;
    if (known.seams[whole]) seams[e] = 1;
    if (wishes) wishes[e] = known.wishes![whole]!;
  });
  return {
    mesh: own,
    topology: its,
    faces,
    vertices: Uint32Array.from(vertices),
    seams,
    wishes,
    seen: Float64Array.from(seen),
  };
}

/** The ways in which one shell may be cut, one seam after the other; shells are what hangs together between seams that must be. */
export interface ComponentPlan {
  /** Triangles of the whole mesh. */
  readonly faces: Uint32Array;
  readonly coarse: CoarseMesh;
  /** 1 for each edge of the coarse mesh that is cut before the first step. */
  readonly start: Uint8Array;
  readonly steps: readonly MergeStep[];
  /** Both of its sides are cut alike. */
  readonly isEven: boolean;
  /** It is cut along its rings and one line alone. */
  readonly isTurned: boolean;
  /** The shell that it mirrors, and whose seams it has; -1 if there is none. Its own steps are gone only where those won't do. */
  readonly leader: number;
}

export interface PlannedComponent {
  readonly plan: ComponentPlan;
  readonly area: number;
  /** Of its pieces before the first step. */
  readonly strain: number;
  readonly islands: number;
  /** Of its coarse edges. */
  readonly lengths: Float64Array;
}

/** Edges of a shell's coarse mesh that are cut after some of its steps. */
export function cutsAfter(
  { start, steps }: Pick<ComponentPlan, 'start' | 'steps'>,
  count: number,
): Uint8Array {
  const out = start.slice();
  for (const { gone } of steps.slice(0, count)) for (const e of gone) out[e] = 0;
  return out;
}
