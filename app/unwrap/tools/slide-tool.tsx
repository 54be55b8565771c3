import { cornerOfEdge, type UvMesh } from '../../../core/mesh';
import { mirroredEdges, type SlidSeam } from '../../../core/unwrap';
import { subjectNow, type Session, useProject } from '../../project';
import { topologyFor, useLayout } from '../../shared/layout-store';
import { notify } from '../../shared/notify';
import { showSheetOf, type Hit, type StageView, type ToolMaker } from '../../viewport';
import { HeldPoints } from './HeldPoints';
import { PinMarks } from './PinMarks';
import { nearestVertex, slideAlong } from './seam-drawing';

/** A seam is taken up from so far away, CSS pixels. */
const GRASP = 14;

/** The vertex of a marked seam that lies nearest to a place; null if none is near. */
function seamVertex(view: StageView, mesh: UvMesh, hit: Hit, pane: 'model' | 'sheet'): number | null {
  const { document } = useProject.getState();
  const { edges } = topologyFor(mesh);
  const reach = GRASP * view.unitsPerPixel(pane, hit.point, 0);
  let best: number | null = null;
  let nearest = pane === 'model' ? reach : Infinity;
  for (const c of document?.seams ?? []) {
    const e = edges.ofCorner[c]!;
    for (const v of [edges.ends[e * 2]!, edges.ends[e * 2 + 1]!]) {
      const d = Math.hypot(
        mesh.positions[v * 3]! - hit.point.x,
        mesh.positions[v * 3 + 1]! - hit.point.y,
        mesh.positions[v * 3 + 2]! - hit.point.z,
      );
      if (d >= nearest) continue;
      nearest = d;
      best = v;
    }
  }
  return best;
}

/** Drags seams over the model: each stays the cheapest way through the places where it is held. */
export const slideTool =
  (session: Session): ToolMaker =>
  (view) => ({
    name: 'slide',
    cursor: 'grab',
    press: (at, hit) => {
      const mesh = subjectNow();
      if (!mesh || !hit || at.pane !== 'model') return null;
      showSheetOf(hit);
      const from = seamVertex(view, mesh, hit, at.pane);
      if (from === null) return null;
      let latest = 0;
      let slid: { readonly way: SlidSeam; readonly to: number } | null = null;
      let pending: Promise<unknown> = Promise.resolve();
      return {
        move: (to) => {
          const place = view.pick(to);
          const mine = ++latest;
          if (!place) return;
          const vertex = nearestVertex(mesh, place);
          pending = slideAlong(mesh, from, vertex).then(
            (way) => {
              if (mine !== latest || !way) return;
              slid = { way, to: vertex };
              useLayout.setState({ ahead: [...way.on] });
            },
            () => undefined,
          );
        },
        end: () => {
          if (latest === 0) return;
          // The last place counts, however long its way takes to be found.
          void session.during(pending).then(() => {
            useLayout.setState({ ahead: [] });
            if (slid) take(session, mesh, from, slid.to, slid.way);
            else notify('The seam stays where it is: no way leads there without crossing another seam.');
          });
        },
        cancel: () => {
          latest++;
          useLayout.setState({ ahead: [] });
        },
      };
    },
    overlay: () => (
      <>
        <PinMarks view={view} />
        <HeldPoints view={view} />
      </>
    ),
    leave: () => {
      useLayout.setState({ tool: 'island', ahead: [] });
      return true;
    },
  });

/** The seam as it was dragged, as one step. It is the artist's own from now on, and held where it was dragged to. */
function take(session: Session, mesh: UvMesh, from: number, to: number, { off, on }: SlidSeam): void {
  const { document } = useProject.getState();
  const now = subjectNow();
  // Another model has other edges; another layout of this one has the same.
  if (!document || now?.indices.length !== mesh.indices.length) return;
  const topology = topologyFor(mesh);
  const { mirror } = useLayout.getState();
  const both = (edges: readonly number[]): readonly number[] =>
    mirror ? [...edges, ...mirroredEdges(mesh, topology, edges)] : edges;
  const corner = cornerOfEdge(topology);
  const [gone, come] = [both(off), both(on)].map((edges) => new Set(edges.map((e) => corner[e]!)));
  const sorted = (list: Iterable<number>): number[] => [...list].sort((a, b) => a - b);
  const seams = new Set(document.seams.filter((c) => !gone!.has(c)));
  for (const c of come!) seams.add(c);
  const { welded } = topology;
  const points = document.seamPoints.filter((c) => welded[mesh.indices[c]!] !== from);
  const place = mesh.indices.findIndex((v) => welded[v] === to);
  session.command({
    do: 'set-layout',
    seams: sorted(seams),
    foundSeams: document.foundSeams.filter((c) => !gone!.has(c) && !come!.has(c)),
    paintEdges: document.paintEdges.filter((c) => !gone!.has(c) || come!.has(c)),
    seamPoints: sorted(new Set([...points, place])),
  });
}
