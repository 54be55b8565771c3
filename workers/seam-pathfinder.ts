import { cornerOfEdge, topologyOf, type Topology, type UvMesh } from '../core/mesh';
import { cheapestPath, edgeFans, seamCosts, slideSeam, type EdgeFans, type SlidSeam } from '../core/unwrap';

/** What a way along present seams costs beside one over open ground. */
const ALONG_SEAMS = 0.01;

/** What ways along the edges of one mesh are found with. */
export class SeamPathfinder {
  readonly name: string;
  private readonly topology: Topology;
  private readonly indices: Uint32Array;
  private readonly costs: Float64Array;
  private readonly fans: EdgeFans;
  private readonly corner: Uint32Array;

  constructor(name: string, mesh: UvMesh) {
    this.name = name;
    this.topology = topologyOf(mesh);
    this.indices = mesh.indices;
    this.costs = seamCosts(mesh, this.topology);
    this.fans = edgeFans(this.topology);
    this.corner = cornerOfEdge(this.topology);
  }

  /**
   * @param from, to welded vertices
   * @param seams corners of edges along which the way rather goes: what is to be taken off is what is there
   * @returns edges in order; empty if no way leads there
   */
  find(from: number, to: number, seams: readonly number[]): number[] {
    const marked = new Set(seams);
    const { costs, corner } = this;
    const cost = (e: number): number => (marked.has(corner[e]!) ? costs[e]! * ALONG_SEAMS : costs[e]!);
    return cheapestPath(this.topology, cost, [from], new Set([to]), this.fans);
  }

  /**
   * @param at, to welded vertices: of the seam that is dragged, and where to
   * @param seams, points corners: of edges, and at vertices through which seams are held
   */
  slide(at: number, to: number, seams: readonly number[], points: readonly number[]): SlidSeam | null {
    const { topology, fans, costs } = this;
    return slideSeam(
      {
        topology,
        fans,
        costs,
        seams: new Set(seams.map((c) => topology.edges.ofCorner[c]!)),
        points: new Set(points.map((c) => this.vertexAt(c))),
      },
      at,
      to,
    );
  }

  private vertexAt = (corner: number): number => this.topology.welded[this.indices[corner]!]!;
}
