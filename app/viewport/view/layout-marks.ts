import { useEffect } from 'react';
import { layoutHeat, layoutSeams } from '../../../core/unwrap';
import type { UvMesh } from '../../../core/mesh';
import type { ProjectDocument } from '../../../core/engine';
import { topologyFor, useLayout } from '../../shared/layout-store';
import type { Shown } from '../../shared/shown';
import { useProject } from '../../project';
import type { Segments } from '../gl/segment-mesh';
import type { StageView } from './stage-view';

const KIND = { seam: 0, paintEdge: 1, border: 2, ahead: 3 } as const;

/** Keeps distortion, what is chosen, and seams in the picture up to date. */
export function useLayoutMarks(
  view: StageView | null,
  mesh: UvMesh | null,
  sizes: readonly number[],
  shown: Shown,
  showsSeams: boolean,
  showsChosen: boolean,
): void {
  const heat = shown.of === 'heat' ? shown.heat : null;
  const chosen = useLayout((s) => s.chosen);
  const ahead = useLayout((s) => s.ahead);
  const seams = useProject((s) => s.document?.seams);
  const paintEdges = useProject((s) => s.document?.paintEdges);
  useEffect(() => {
    if (!mesh) return;
    view?.setHeat(heat ? layoutHeat(mesh, heat, sizes).values : null);
  }, [view, mesh, sizes, heat]);
  useEffect(
    () => view?.setChosen(showsChosen ? chosen : new Set()),
    [view, mesh, sizes, chosen, showsChosen],
  );
  useEffect(() => {
    if (!mesh || !showsSeams) return;
    view?.setMarks(segmentsOf(mesh, seams ?? [], paintEdges ?? [], ahead));
  }, [view, mesh, sizes, seams, paintEdges, ahead, showsSeams]);
}

function segmentsOf(
  mesh: UvMesh,
  seams: ProjectDocument['seams'],
  paintEdges: ProjectDocument['paintEdges'],
  ahead: readonly number[],
): Segments {
  const topology = topologyFor(mesh);
  const { edges } = topology;
  const kinds = new Map<number, number>();
  layoutSeams(mesh, topology).forEach((isBorder, e) => {
    if (isBorder) kinds.set(e, KIND.border);
  });
  for (const c of seams) kinds.set(edges.ofCorner[c]!, KIND.seam);
  for (const c of paintEdges) kinds.set(edges.ofCorner[c]!, KIND.paintEdge);
  for (const e of ahead) kinds.set(e, KIND.ahead);
  kinds.delete(undefined as never);
  const points = new Float32Array(kinds.size * 6);
  let i = 0;
  for (const e of kinds.keys()) {
    for (let end = 0; end < 2; end++) {
      const v = edges.ends[e * 2 + end]! * 3;
      points.set(mesh.positions.subarray(v, v + 3), i * 6 + end * 3);
    }
    i++;
  }
  return { points, kinds: Float32Array.from(kinds.values()) };
}
