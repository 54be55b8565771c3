import { edgeLengths, topologyOf, twinVertices, type Mesh, type SymmetryPlane, type Topology } from '../mesh';
import type { PlannedShell, Shell } from './shell';

/** Shells that mirror one another are cut alike: what was planned for one goes for the other. */
export class TwinShells {
  private readonly ofVertex: Int32Array | null;

  constructor(
    mesh: Pick<Mesh, 'positions' | 'indices'>,
    topology: Topology,
    plane: SymmetryPlane,
    looks: boolean,
  ) {
    this.ofVertex = looks ? twinVertices(mesh, topology, plane.point, plane.normal).ofVertex : null;
  }

  private nameOf = (vertices: Iterable<number>): string =>
    [...new Set(vertices)].sort((a, b) => a - b).join(' ');

  /** For each shell an earlier one that it mirrors; -1 if there is none. */
  pairs(shells: readonly Shell[]): Int32Array {
    const { ofVertex } = this;
    const out = new Int32Array(shells.length).fill(-1);
    if (!ofVertex) return out;
    const known = new Map<string, number>();
    shells.forEach((shell, i) => {
      const twin = known.get(this.nameOf(Array.from(shell.vertices, (v) => ofVertex[v]!)));
      if (twin !== undefined && shells[twin]!.faces.length === shell.faces.length) out[i] = twin;
      else known.set(this.nameOf(shell.vertices), i);
    });
    return out;
  }

  /** The plan of a shell's twin for itself; null if their triangles don't agree. */
  mirrored(shell: Shell, twin: Shell, known: PlannedShell): PlannedShell | null {
    const ofVertex = this.ofVertex!;
    const local = new Map<number, number>();
    shell.vertices.forEach((v, i) => {
      if (!local.has(v)) local.set(v, shell.topology.welded[i]!);
    });
    const { coarse, start, steps, isEven, isTurned } = known.plan;
    const vertexOf = coarse.vertexOf.map((v) => local.get(ofVertex[twin.vertices[v]!]!)!);
    const positions = new Float32Array(vertexOf.length * 3);
    vertexOf.forEach((v, i) => positions.set(shell.mesh.positions.subarray(v * 3, v * 3 + 3), i * 3));
    // A mirror image runs round the other way.
    const indices = coarse.mesh.indices.map((_, c, all) => all[c - (c % 3) + ((3 - (c % 3)) % 3)]!);
    const mesh = { positions, indices };
    const [was, is] = [topologyOf(coarse.mesh).edges, topologyOf(mesh).edges];
    const name = (ends: Uint32Array, e: number): number => ends[e * 2]! * 2 ** 26 + ends[e * 2 + 1]!;
    const byName = new Map(Array.from(is.uses, (_, e) => [name(is.ends, e), e]));
    const edge = Array.from(was.uses, (_, e) => byName.get(name(was.ends, e)) ?? -1);
    if (edge.includes(-1)) return null;
    const now = new Uint8Array(start.length);
    start.forEach((x, e) => (now[edge[e]!] = x));
    return {
      ...known,
      plan: {
        faces: shell.faces,
        coarse: { mesh, vertexOf, lines: coarse.lines },
        start: now,
        steps: steps.map((step) => ({ ...step, gone: step.gone.map((e) => edge[e]!) })),
        isEven,
        isTurned,
      },
      lengths: edgeLengths(topologyOf(mesh), positions),
    };
  }
}
