import {
  edgeLengths,
  faceGeometry,
  topologyOf,
  twinVertices,
  type Mesh,
  type SymmetryPlane,
  type Topology,
} from '../../mesh';
import { mirrored, NearestVertex, placeOf } from './other-side';
import type { PlannedComponent, MeshComponent } from './component';

/** Shells are each other's mirror image if their areas differ by no more than this part, */
const AREA = 0.04;

/** and if so many of the vertices of each are no farther from the other's mirror image than so many edges. */
const [MET, NEAR] = [0.97, 0.6];

/** Vertices that are looked at. */
const LOOKED_AT = 500;

/** Shells that mirror one another are cut alike: what was planned for one goes for the other. */
export class TwinComponents {
  private readonly plane: SymmetryPlane;
  private readonly ofVertex: Int32Array | null;

  constructor(
    mesh: Pick<Mesh, 'positions' | 'indices'>,
    topology: Topology,
    plane: SymmetryPlane,
    looks: boolean,
  ) {
    this.plane = plane;
    this.ofVertex = looks ? twinVertices(mesh, topology, plane.point, plane.normal).ofVertex : null;
  }

  private nameOf = (vertices: Iterable<number>): string =>
    [...new Set(vertices)].sort((a, b) => a - b).join(' ');

  /** For each shell an earlier one that it mirrors; -1 if there is none. */
  pairs(components: readonly MeshComponent[]): Int32Array {
    const { ofVertex } = this;
    const out = new Int32Array(components.length).fill(-1);
    if (!ofVertex) return out;
    const known = new Map<string, number>();
    components.forEach((component, i) => {
      const twin = known.get(this.nameOf(Array.from(component.vertices, (v) => ofVertex[v]!)));
      if (twin !== undefined && components[twin]!.faces.length === component.faces.length) out[i] = twin;
      else known.set(this.nameOf(component.vertices), i);
    });
    const looks = components.map((component) => lookOf(component, this.plane));
    const isPaired = Uint8Array.from(out, (twin) => (twin >= 0 ? 1 : 0));
    for (const twin of out) if (twin >= 0) isPaired[twin] = 1;
    components.forEach((component, i) => {
      if (isPaired[i]) return;
      const twin = components.findIndex(
        (other, k) => k < i && !isPaired[k] && areAlike(looks[i]!, looks[k]!, component, other, this.plane),
      );
      if (twin < 0) return;
      out[i] = twin;
      isPaired[i] = isPaired[twin] = 1;
    });
    return out;
  }

  /** The plan of a shell's twin for itself; null if its mesh can't be mirrored. @param leader number of the twin */
  mirrored(
    component: MeshComponent,
    twin: MeshComponent,
    known: PlannedComponent,
    leader: number,
  ): PlannedComponent | null {
    const { plan } = known;
    const { coarse, start, steps } = plan;
    const vertexOf = this.vertexOf(component, twin, coarse.vertexOf);
    const positions = new Float32Array(vertexOf.length * 3);
    for (let v = 0; v < vertexOf.length; v++)
      positions.set(mirrored(placeOf(coarse.mesh.positions, v), this.plane), v * 3);
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
        ...plan,
        faces: component.faces,
        coarse: { mesh, vertexOf, lines: coarse.lines },
        start: now,
        steps: steps.map((step) => ({ ...step, gone: step.gone.map((e) => edge[e]!) })),
        leader,
      },
      lengths: edgeLengths(topologyOf(mesh), positions),
    };
  }

  /** The vertices of a shell that stand for those of its twin, or lie next to where they would. */
  private vertexOf(component: MeshComponent, twin: MeshComponent, ofTwin: Uint32Array): Uint32Array {
    const local = new Map<number, number>();
    component.vertices.forEach((v, i) => {
      if (!local.has(v)) local.set(v, component.topology.welded[i]!);
    });
    const nearest = new NearestVertex(component.mesh, component.topology);
    return ofTwin.map(
      (v) =>
        local.get(this.ofVertex![twin.vertices[v]!]!) ??
        nearest.at(mirrored(placeOf(twin.mesh.positions, v), this.plane)),
    );
  }
}

/** What can be told of a shell at a glance. */
interface Look {
  readonly area: number;
  /** Mean length of its edges. */
  readonly edge: number;
  readonly centre: readonly number[];
  /** Of its mirror image. */
  readonly image: readonly number[];
}

function lookOf({ mesh, topology }: MeshComponent, plane: SymmetryPlane): Look {
  const { areas } = faceGeometry(mesh);
  const area = areas.reduce((sum, a) => sum + a, 0);
  const sum = [0, 0, 0];
  mesh.indices.forEach((v, c) => {
    const weight = areas[Math.floor(c / 3)]! / 3;
    placeOf(mesh.positions, v).forEach((x, k) => (sum[k]! += weight * x));
  });
  const centre = sum.map((x) => x / (area || 1)) as [number, number, number];
  const lengths = edgeLengths(topology, mesh.positions);
  const edge = lengths.reduce((all, l) => all + l, 0) / lengths.length;
  return { area, edge, centre, image: mirrored(centre, plane) };
}

function areAlike(a: Look, b: Look, one: MeshComponent, other: MeshComponent, plane: SymmetryPlane): boolean {
  const edge = Math.max(a.edge, b.edge);
  const apart = Math.hypot(...a.image.map((x, k) => x - b.centre[k]!));
  if (apart > edge || Math.abs(a.area - b.area) > AREA * Math.max(a.area, b.area)) return false;
  // What is its own mirror image is nobody's twin.
  if (Math.hypot(...a.image.map((x, k) => x - a.centre[k]!)) <= apart) return false;
  return isMet(one, other, edge, plane) && isMet(other, one, edge, plane);
}

/** Whether a shell's mirror image lies on another. */
function isMet(component: MeshComponent, on: MeshComponent, edge: number, plane: SymmetryPlane): boolean {
  const nearest = new NearestVertex(on.mesh, on.topology);
  const vertices = [...new Set(component.topology.edges.ends)];
  const step = Math.ceil(vertices.length / LOOKED_AT);
  const some = vertices.filter((_, i) => i % step === 0);
  const met = some.filter(
    (v) => nearest.distance(mirrored(placeOf(component.mesh.positions, v), plane)) < NEAR * edge,
  );
  return met.length >= MET * some.length;
}
