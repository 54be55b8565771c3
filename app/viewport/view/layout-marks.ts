import { useEffect, useMemo } from 'react';
import { layoutSeams } from '../../../core/unwrap';
import { faceMask, type UvMesh } from '../../../core/mesh';
import type { ProjectDocument } from '../../../core/document';
import { useLayoutHeat } from '../../shared/layout-heat';
import { topologyFor, useLayout, type SeamWish } from '../../shared/layout-store';
import type { Shown } from '../../shared/shown';
import { useProject } from '../../project';
import type { Segments } from '../gl/segment-mesh';
import type { StageView } from './stage-view';

const KIND = { seam: 0, paintEdge: 1, border: 2, ahead: 3, never: 5, gladly: 6 } as const;

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
  const wishes = useProject((s) => s.document?.seamWishes);
  const wishAhead = useLayout((s) => s.wishAhead);
  const wish = useLayout((s) => s.wish);
  useEffect(() => view?.setHeat(heat?.values ?? null), [view, heat]);
  const borders = useMemo(() => (mesh && showsSeams ? bordersOf(mesh) : null), [mesh, showsSeams]);
  useEffect(() => {
    if (!mesh || !borders) return;
    const wished = wishes ? wishedEdges(mesh, wishes, wishAhead, wish) : new Map<number, number>();
    view?.setMarks(segmentsOf(mesh, wished, borders, seams ?? [], paintEdges ?? [], ahead));
  }, [view, mesh, borders, sizes, seams, paintEdges, ahead, wishes, wishAhead, wish]);
}

/** The edges along which the present layout is cut. */
function bordersOf(mesh: UvMesh): number[] {
  const isBorder = layoutSeams(mesh, topologyFor(mesh));
  return [...isBorder.keys()].filter((e) => isBorder[e]);
}

/** The edges of triangles on which seams are wished for, or not. */
function wishedEdges(
  mesh: UvMesh,
  { never, gladly }: ProjectDocument['seamWishes'],
  ahead: ReadonlySet<number>,
  wish: SeamWish,
): Map<number, number> {
  const out = new Map<number, number>();
  if (never.length + gladly.length + ahead.size === 0) return out;
  const faces = mesh.faceParts.length;
  const [no, yes] = [faceMask(faces, never), faceMask(faces, gladly)];
  for (const f of ahead) {
    no[f] = wish === 'never' ? 1 : 0;
    yes[f] = wish === 'gladly' ? 1 : 0;
  }
  const { edges } = topologyFor(mesh);
  edges.ofCorner.forEach((e, c) => {
    const f = Math.floor(c / 3);
    if (no[f]) out.set(e, KIND.never);
    else if (yes[f]) out.set(e, KIND.gladly);
  });
  return out;
}

function segmentsOf(
  mesh: UvMesh,
  wished: ReadonlyMap<number, number>,
  borders: readonly number[],
  seams: ProjectDocument['seams'],
  paintEdges: ProjectDocument['paintEdges'],
  ahead: readonly number[],
): Segments {
  const { edges } = topologyFor(mesh);
  const kinds = new Map<number, number>(wished);
  for (const e of borders) kinds.set(e, KIND.border);
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
