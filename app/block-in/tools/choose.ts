import { faceRuns, type UvMesh } from '../../../core/mesh';
import {
  boundedArea,
  facesWithin,
  sameFacing,
  simplerOutline,
  withMirrored,
  type Cut,
} from '../../../core/region';
import { useProject } from '../../project';
import { useFaceChoice } from '../../shared/face-choice';
import { topologyFor, wholeIslands, wholeShells } from '../../shared/layout-store';
import { isOnShownSheet, paneMatrix, seesFace, type StageView } from '../../viewport';

/** An edge that turns by more bounds an area; what turns away by more doesn't look to the same side. */
const CREASE = Math.PI / 6;
const SAME_SIDE = Math.PI / 9;

/** A drawn line is simplified to within this many pixels of the screen. */
const TOLERANCE = 0.4;

/** Adds faces to those that are chosen, or takes them off. */
export function chooseFaces(mesh: UvMesh, faces: Iterable<number>, cuts: readonly Cut[] = []): void {
  useFaceChoice.setState((s) => {
    const reached = s.mirror ? withMirrored(mesh, faces) : new Set(faces);
    const next = new Set(s.faces);
    for (const f of reached) {
      if (s.takesOff) next.delete(f);
      else next.add(f);
    }
    return { faces: next, cuts: [...s.cuts, ...cuts] };
  });
}

/** What a press on a face takes with the tool in hand. */
export function facesAt(mesh: UvMesh, face: number): Set<number> {
  const { tool } = useFaceChoice.getState();
  const topology = topologyFor(mesh);
  switch (tool) {
    case 'area': {
      const document = useProject.getState().document;
      return boundedArea(mesh, topology, face, {
        crease: CREASE,
        seams: document?.seams ?? [],
        regions: document?.regions.map((r) => r.faces) ?? [],
      });
    }
    case 'side':
      return sameFacing(mesh, topology, face, SAME_SIDE);
    case 'shell':
      return wholeShells(mesh, [face]);
    case 'island':
      return wholeIslands(mesh, [face]);
    default:
      return new Set([face]);
  }
}

/** Chooses what a line encloses on the model, through the middle of faces where that is wanted. */
export function chooseWithin(
  view: StageView,
  mesh: UvMesh,
  line: readonly (readonly [number, number])[],
): void {
  const { through, cutsThrough, takesOff } = useFaceChoice.getState();
  const outline = simplerOutline(line, TOLERANCE);
  if (outline.length < 3) return;
  const toPane = paneMatrix(view.rig);
  const isSeen = through ? () => true : (face: number): boolean => seesFace(view, mesh, face);
  const { whole, cut } = facesWithin(mesh, toPane, outline, isSeen);
  if (!cutsThrough) {
    chooseFaces(mesh, [...whole, ...cut.filter((f) => holds(outline, projected(toPane, mesh, f)))]);
    return;
  }
  const runThrough = new Set(cut);
  const cuts: Cut[] = cut.length
    ? [
        {
          how: takesOff ? 'remove' : 'add',
          faces: faceRuns(mesh.faceParts.length, (f) => runThrough.has(f)),
          view: [...toPane],
          outline,
        },
      ]
    : [];
  chooseFaces(mesh, whole, cuts);
}

/** Chooses the faces whose middles a line on the sheet encloses. */
export function chooseWithinSheet(
  view: StageView,
  mesh: UvMesh,
  line: readonly (readonly [number, number])[],
): void {
  if (line.length < 3) return;
  const outline = line.map(([x, y]) => view.flat.toSheet(x, y)) as [number, number][];
  const inside: number[] = [];
  for (let f = 0; f < mesh.faceParts.length; f++) {
    if (!isOnShownSheet(view, mesh, f)) continue;
    const middle = [0, 1].map(
      (k) => [0, 1, 2].reduce((sum, c) => sum + mesh.uvs[mesh.indices[f * 3 + c]! * 2 + k]!, 0) / 3,
    ) as [number, number];
    if (holds(outline, middle)) inside.push(f);
  }
  chooseFaces(mesh, inside);
}

function projected(view: readonly number[], mesh: UvMesh, face: number): [number, number] {
  const p = [0, 1, 2].map(
    (k) => [0, 1, 2].reduce((sum, c) => sum + mesh.positions[mesh.indices[face * 3 + c]! * 3 + k]!, 0) / 3,
  );
  const row = (r: number): number =>
    view[r * 4]! * p[0]! + view[r * 4 + 1]! * p[1]! + view[r * 4 + 2]! * p[2]! + view[r * 4 + 3]!;
  return [row(0) / row(2), row(1) / row(2)];
}

/** Whether a point lies within a closed line (crossing number). */
function holds(outline: readonly (readonly [number, number])[], [x, y]: readonly [number, number]): boolean {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [ax, ay] = outline[j]!;
    const [bx, by] = outline[i]!;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}
