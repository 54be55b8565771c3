import { cornerOfEdge, type UvMesh } from '../../../core/mesh';
import { edgeLoop, mirroredEdges, type SlidSeam } from '../../../core/unwrap';
import { topologyFor, useLayout, wholeIslands } from '../../shared/layout-store';
import { quickPool } from '../../shared/platform';
import { subjectNow, type Session, useProject } from '../../project';

const opened = new WeakMap<UvMesh, string>();
let lastName = 0;

/** The cheapest way between two welded vertices, found in a worker, so that drawing never waits for it. */
async function findRoad(mesh: UvMesh, from: number, to: number, seams: readonly number[]): Promise<number[]> {
  const known = opened.get(mesh);
  const name = known ?? `mesh ${++lastName}`;
  opened.set(mesh, name);
  // A worker that was started anew, or has had another mesh since, is given this one.
  let road = known ? await quickPool.run('findRoad', { name, from, to, seams }) : null;
  if (!road) {
    await quickPool.run('openPathfinder', { name, mesh });
    road = await quickPool.run('findRoad', { name, from, to, seams });
  }
  return road ?? [];
}

/** A seam dragged from one welded vertex to another; null if no way leads there. */
export async function slideAlong(mesh: UvMesh, at: number, to: number): Promise<SlidSeam | null> {
  const { document } = useProject.getState();
  if (!document) return null;
  const name = opened.get(mesh) ?? `mesh ${++lastName}`;
  const isKnown = opened.has(mesh);
  opened.set(mesh, name);
  const how = { name, at, to, seams: document.seams, points: document.seamPoints };
  let slid = isKnown ? await quickPool.run('slideSeam', how) : 'unknown';
  if (slid === 'unknown') {
    await quickPool.run('openPathfinder', { name, mesh });
    slid = await quickPool.run('slideSeam', how);
  }
  return slid === 'unknown' ? null : slid;
}

const corners = new WeakMap<UvMesh, Uint32Array>();

function cornersFor(mesh: UvMesh): Uint32Array {
  let known = corners.get(mesh);
  if (!known) corners.set(mesh, (known = cornerOfEdge(topologyFor(mesh))));
  return known;
}

/** A place on the model: a triangle and a point of it. */
export interface Place {
  readonly face: number;
  readonly point: { readonly x: number; readonly y: number; readonly z: number };
}

/** The corner of the triangle that lies nearest, as a welded vertex. */
export function nearestVertex(mesh: UvMesh, { face, point }: Place): number {
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

/** The edges that a click at a place would mark. */
async function edgesAt(mesh: UvMesh, place: Place): Promise<number[]> {
  const { tool, from, mirror, takeOff } = useLayout.getState();
  const topology = topologyFor(mesh);
  let edges: number[];
  if (tool === 'loop') edges = edgeLoop(mesh, topology, nearestEdge(mesh, place));
  else if (tool === 'edge') edges = [nearestEdge(mesh, place)];
  else if (from === null) return [];
  else {
    const seams = takeOff ? (useProject.getState().document?.seams ?? []) : [];
    edges = await findRoad(mesh, from, nearestVertex(mesh, place), seams);
  }
  return mirror ? [...edges, ...mirroredEdges(mesh, topology, edges)] : edges;
}

/** Shows what a click would do; only the latest place counts. */
export function seamHover(): (place: Place | null) => void {
  let latest = 0;
  return (place) => {
    const mine = ++latest;
    const mesh = subjectNow();
    const found = mesh && place ? edgesAt(mesh, place) : Promise.resolve([]);
    found.then(
      (next) => {
        if (mine !== latest) return;
        if (next.length || useLayout.getState().ahead.length) useLayout.setState({ ahead: next });
      },
      () => undefined,
    );
  };
}

/** Marks edges as seams, or takes their seams off, as one step. */
export function markSeams(session: Session, edges: readonly number[]): void {
  const { document } = useProject.getState();
  const mesh = subjectNow();
  if (!mesh || !document || edges.length === 0) return;
  const corner = cornersFor(mesh);
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
  // What is marked by hand is the artist's own.
  const touched = new Set(edges.map((e) => corner[e]!));
  session.command({
    do: 'set-layout',
    seams: sorted(seams),
    paintEdges: sorted(paintEdges),
    foundSeams: document.foundSeams.filter((c) => !touched.has(c)),
  });
}

const sorted = (set: ReadonlySet<number>): number[] => [...set].sort((a, b) => a - b);

/** A click on the model or the sheet with one of the layout tools. */
export async function pickLayout(session: Session, place: Place | null, add: boolean): Promise<void> {
  const mesh = subjectNow();
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
  // The next piece begins here, however long the way of this one takes to be found.
  const found = edgesAt(mesh, place);
  useLayout.setState({ from: tool === 'seam' ? nearestVertex(mesh, place) : null, ahead: [] });
  markSeams(session, await session.during(found));
}
