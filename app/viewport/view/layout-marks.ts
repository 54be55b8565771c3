import { useEffect, useMemo } from 'react';
import { layoutSeams } from '../../../core/unwrap';
import type { UvMesh } from '../../../core/mesh';
import type { ProjectDocument } from '../../../core/engine';
import { useLayoutHeat } from '../../shared/layout-heat';
import { topologyFor, useLayout } from '../../shared/layout-store';
import type { Shown } from '../../shared/shown';
import { useProject } from '../../project';
import type { Segments } from '../gl/segment-mesh';
import type { StageView } from './stage-view';

const KIND = { seam: 0, paintEdge: 1, border: 2, ahead: 3 } as const;

/** Keeps distortion and seams in the picture up to date. */
export function useLayoutMarks(
  view: StageView | null,
  mesh: UvMesh | null,
  sizes: readonly number[],
  shown: Shown,
  showsSeams: boolean,
): void {
  const heat = useLayoutHeat(mesh, shown.of === 'heat' ? shown.heat : null, sizes);
  const ahead = useLayout((s) => s.ahead);
  const seams = useProject((s) => s.document?.seams);
  const paintEdges = useProject((s) => s.document?.paintEdges);
  useEffect(() => view?.setHeat(heat?.values ?? null), [view, heat]);
  const borders = useMemo(() => (mesh && showsSeams ? bordersOf(mesh) : null), [mesh, showsSeams]);
  useEffect(() => {
    if (!mesh || !borders) return;
    view?.setMarks(segmentsOf(mesh, borders, seams ?? [], paintEdges ?? [], ahead));
  }, [view, mesh, borders, sizes, seams, paintEdges, ahead]);
}

/** The edges along which the present layout is cut. */
function bordersOf(mesh: UvMesh): number[] {
  const isBorder = layoutSeams(mesh, topologyFor(mesh));
  return [...isBorder.keys()].filter((e) => isBorder[e]);
}

function segmentsOf(
  mesh: UvMesh,
  borders: readonly number[],
  seams: ProjectDocument['seams'],
  paintEdges: ProjectDocument['paintEdges'],
  ahead: readonly number[],
): Segments {
  const { edges } = topologyFor(mesh);
  const kinds = new Map<number, number>(borders.map((e) => [e, KIND.border]));
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
