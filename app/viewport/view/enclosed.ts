import { faceMask, faceRuns, type UvMesh } from '../../../core/mesh';
import { compose, IDENTITY, inverse, placed, type Placing } from '../../../core/math';
import { enclosedByUv, facesWithin, placeNear, simplerOutline, type Cut } from '../../../core/region';
import { isOnShownSheet, paneMatrix, seesFace } from './pane-projection';
import type { StageView } from './stage-view';

type Line = readonly (readonly [number, number])[];

/** What a line encloses: whole triangles, and what it cuts through others. */
export interface EnclosedFaces {
  readonly faces: readonly number[];
  readonly cuts: readonly Cut[];
}

const NOTHING: EnclosedFaces = { faces: [], cuts: [] };

/** A drawn line is simplified to within this many pixels of the screen. */
const TOLERANCE = 0.4;

interface How {
  /** What lies behind too. */
  readonly through: boolean;
  /** The middle of faces may be cut. */
  readonly cutsThrough: boolean;
  /** What is cut is to be removed. */
  readonly takesOff: boolean;
}

/** What the copies of a closed line over the model enclose together. @param copies what takes the line to each of them */
export function enclosedByCopies(
  view: StageView,
  mesh: UvMesh,
  line: Line,
  how: How,
  copies: readonly Placing[],
): EnclosedFaces {
  const all = copies.map((copy) => enclosedOnModel(view, mesh, line, how, copy));
  return { faces: [...new Set(all.flatMap((e) => e.faces))], cuts: all.flatMap((e) => e.cuts) };
}

/**
 * What a closed line over the model encloses.
 *
 * @param line pixels of the model's pane
 * @param copy takes what is enclosed to elsewhere on the model
 */
export function enclosedOnModel(
  view: StageView,
  mesh: UvMesh,
  line: Line,
  how: How,
  copy: Placing = IDENTITY,
): EnclosedFaces {
  const outline = simplerOutline(line, TOLERANCE);
  if (outline.length < 3) return NOTHING;
  const back = inverse(copy);
  const toPane = compose(paneMatrix(view.rig), back);
  /** What lies where a face would be if it was not a copy. */
  const original = (face: number): number =>
    copy === IDENTITY ? face : placeNear(mesh, ...placed(middleOf(mesh, face), back)).face;
  const isSeen = how.through ? () => true : (face: number): boolean => seesFace(view, mesh, original(face));
  const { whole, cut } = facesWithin(mesh, toPane, outline, isSeen);
  if (!how.cutsThrough) {
    return { faces: [...whole, ...cut.filter((f) => holds(outline, projected(toPane, mesh, f)))], cuts: [] };
  }
  if (cut.length === 0) return { faces: whole, cuts: [] };
  const runThrough = new Set(cut);
  const faces = faceRuns(mesh.faceParts.length, (f) => runThrough.has(f));
  return {
    faces: whole,
    cuts: [{ how: how.takesOff ? 'remove' : 'add', faces, view: [...toPane], outline }],
  };
}

/** What a closed line over the sheet encloses. @param line pixels of the sheet's pane */
export function enclosedOnSheet(
  view: StageView,
  mesh: UvMesh,
  line: Line,
  { cutsThrough, takesOff }: Pick<How, 'cutsThrough' | 'takesOff'>,
): EnclosedFaces {
  const outline = simplerOutline(line, TOLERANCE).map(([x, y]): [number, number] => {
    const [u, v] = view.flat.toSheet(x, y);
    return [u, v];
  });
  if (outline.length < 3) return NOTHING;
  const isShown = (face: number): boolean => isOnShownSheet(view, mesh, face);
  const { faces, cuts } = enclosedByUv(mesh, outline, isShown, takesOff ? 'remove' : 'add');
  if (cutsThrough) return { faces, cuts };
  const cut = cuts.flatMap((one) => [...faceMask(mesh.faceParts.length, one.faces).entries()]);
  const middle = (face: number): [number, number] =>
    [0, 1].map(
      (k) => [0, 1, 2].reduce((sum, c) => sum + mesh.uvs[mesh.indices[face * 3 + c]! * 2 + k]!, 0) / 3,
    ) as [number, number];
  return {
    faces: [...faces, ...cut.flatMap(([face, is]) => (is && holds(outline, middle(face)) ? [face] : []))],
    cuts: [],
  };
}

const middleOf = (mesh: UvMesh, face: number): [number, number, number] =>
  [0, 1, 2].map(
    (k) => [0, 1, 2].reduce((sum, c) => sum + mesh.positions[mesh.indices[face * 3 + c]! * 3 + k]!, 0) / 3,
  ) as [number, number, number];

function projected(view: readonly number[], mesh: UvMesh, face: number): [number, number] {
  const p = middleOf(mesh, face);
  const row = (r: number): number =>
    view[r * 4]! * p[0]! + view[r * 4 + 1]! * p[1]! + view[r * 4 + 2]! * p[2]! + view[r * 4 + 3]!;
  return [row(0) / row(2), row(1) / row(2)];
}

/** Whether a point lies within a closed line (crossing number). */
function holds(outline: Line, [x, y]: readonly [number, number]): boolean {
  let inside = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [ax, ay] = outline[j]!;
    const [bx, by] = outline[i]!;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  }
  return inside;
}
