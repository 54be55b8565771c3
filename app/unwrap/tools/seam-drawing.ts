import { cornerOfEdge, type UvMesh } from '../../../core/mesh';
import {
  cheapestPath,
  edgeFans,
  edgeLoop,
  mirroredEdges,
  seamCosts,
  type EdgeFans,
} from '../../../core/unwrap';
import { topologyFor, useLayout, wholeIslands } from '../../shared/layout-store';
import { type Session, useProject } from '../../project';

interface Roads {
  readonly costs: Float64Array;
  readonly fans: EdgeFans;
  readonly corner: Uint32Array;
}

const known = new WeakMap<UvMesh, Roads>();

function roadsFor(mesh: UvMesh): Roads {
  let roads = known.get(mesh);
  if (!roads) {
    const topology = topologyFor(mesh);
    roads = { costs: seamCosts(mesh, topology), fans: edgeFans(topology), corner: cornerOfEdge(topology) };
    known.set(mesh, roads);
  }
  return roads;
}

/** A place on the model: a triangle and a point of it. */
export interface Place {
  readonly face: number;
  readonly point: { readonly x: number; readonly y: number; readonly z: number };
}

/** The corner of the triangle that lies nearest, as a welded vertex. */
function nearestVertex(mesh: UvMesh, { face, point }: Place): number {
  const { welded } = topologyFor(mesh);
  let best = 0;
  let nearest = Infinity;
  for (let k = 0; k < 3; k++) {
    const v = mesh.indices[face * 3 + k]!;
    const d = Math.hypot(
      mesh.positions[v * 3]! - point.x,
      mesh.positions[v * 3 + 1]! - point.y,
      mesh.positions[v * 3 + 2]! - point.z,
    );
    if (d >= nearest) continue;
    nearest = d;
    best = welded[v]!;
  }
  return best;
}

/** The side of the triangle that lies nearest. */
function nearestEdge(mesh: UvMesh, { face, point }: Place): number {
  const { edges } = topologyFor(mesh);
  let best = 0;
  let nearest = Infinity;
  for (let k = 0; k < 3; k++) {
    const [a, b] = [mesh.indices[face * 3 + k]! * 3, mesh.indices[face * 3 + ((k + 1) % 3)]! * 3];
    const p = mesh.positions;
    const [dx, dy, dz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [qx, qy, qz] = [point.x - p[a]!, point.y - p[a + 1]!, point.z - p[a + 2]!];
    const t = Math.min(1, Math.max(0, (qx * dx + qy * dy + qz * dz) / (dx * dx + dy * dy + dz * dz || 1)));
    const d = Math.hypot(qx - t * dx, qy - t * dy, qz - t * dz);
    if (d >= nearest) continue;
    nearest = d;
    best = edges.ofCorner[face * 3 + k]!;
  }
  return best;
}

/** What a way along present seams costs beside one over open ground, when seams are taken off. */
const ALONG_SEAMS = 0.01;

/** The edges that a click at a place would mark. */
function edgesAt(mesh: UvMesh, place: Place): number[] {
  const { tool, from, mirror, takeOff } = useLayout.getState();
  const topology = topologyFor(mesh);
  let edges: number[];
  if (tool === 'loop') edges = edgeLoop(mesh, topology, nearestEdge(mesh, place));
  else if (tool === 'edge') edges = [nearestEdge(mesh, place)];
  else if (from === null) return [];
  else {
    const { costs, fans, corner } = roadsFor(mesh);
    // What is to be taken off is what is there.
    const marked = new Set(takeOff ? useProject.getState().document?.seams : []);
    const cost = (e: number): number => (marked.has(corner[e]!) ? costs[e]! * ALONG_SEAMS : costs[e]!);
    edges = cheapestPath(topology, cost, [from], new Set([nearestVertex(mesh, place)]), fans);
  }
  return mirror ? [...edges, ...mirroredEdges(mesh, topology, edges)] : edges;
}

/** Shows what a click would do. */
export function hoverSeam(place: Place | null): void {
  const { mesh } = useProject.getState();
  const { ahead } = useLayout.getState();
  const next = mesh && place ? edgesAt(mesh, place) : [];
  if (next.length || ahead.length) useLayout.setState({ ahead: next });
}

/** Marks edges as seams, or takes their seams off, as one step. */
export function markSeams(session: Session, edges: readonly number[]): void {
  const { mesh, document } = useProject.getState();
  if (!mesh || !document || edges.length === 0) return;
  const { corner } = roadsFor(mesh);
  const { takeOff, paintEdge } = useLayout.getState();
  const seams = new Set(document.seams);
  const paintEdges = new Set(document.paintEdges);
  for (const e of edges) {
    const c = corner[e]!;
    if (takeOff) {
      paintEdges.delete(c);
      if (!paintEdge) seams.delete(c);
    } else {
      seams.add(c);
      if (paintEdge) paintEdges.add(c);
    }
  }
  session.command({ do: 'set-layout', seams: sorted(seams), paintEdges: sorted(paintEdges) });
}

const sorted = (set: ReadonlySet<number>): number[] => [...set].sort((a, b) => a - b);

/** A click on the model or the sheet with one of the layout tools. */
export function pickLayout(session: Session, place: Place | null, add: boolean): void {
  const { mesh } = useProject.getState();
  const { tool, chosen } = useLayout.getState();
  if (!mesh) return;
  if (tool === 'island') {
    if (!place) {
      if (!add) useLayout.setState({ chosen: new Set() });
      return;
    }
    const island = wholeIslands(mesh, [place.face]);
    const isChosen = chosen.has(place.face);
    if (!add) useLayout.setState({ chosen: island });
    else if (isChosen) useLayout.setState({ chosen: new Set([...chosen].filter((f) => !island.has(f))) });
    else useLayout.setState({ chosen: new Set([...chosen, ...island]) });
    return;
  }
  if (!place) {
    useLayout.setState({ from: null, ahead: [] });
    return;
  }
  markSeams(session, edgesAt(mesh, place));
  useLayout.setState({ from: tool === 'seam' ? nearestVertex(mesh, place) : null, ahead: [] });
}
