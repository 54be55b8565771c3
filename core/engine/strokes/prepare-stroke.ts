import type { GuardWish } from '../../commands';
import { checkDocument, MAX_FRAMES, MAX_GUARDS, type ProjectDocument } from '../../document';
import { CoreError } from '../../errors';
import { faceMask, faceRuns, type FaceRuns, type UvMesh } from '../../mesh';
import { IDENTITY, isIdentity } from '../../math';
import type { Stroke } from '../../paint';
import { cutOver } from '../../region';

/** What a stroke needs of the document before it begins, and the document with all of that in it. */
interface Prepared {
  readonly document: ProjectDocument;
  /** Id of the guard; null for none. */
  readonly within: number | null;
  /** What the guard lets through; null for all. */
  readonly guard: Guard | null;
  /** Id of the frame in which the model stands as it is. */
  readonly frame: number;
}

type Guard = ProjectDocument['guards'][number];

/** What of the document a stroke names. */
export type StrokeRefs = Pick<Stroke, 'within' | 'frame'>;

/**
 * A guard is a set of triangles, with what was cut through them, so that it means the same whatever parts and regions are called later.
 *
 * @param used strokes that may still be made again, asked for only when room is short
 * @throws CoreError `bad-argument` if a region isn't there, `document-invalid` if it would take more than a project can keep
 */
export function prepareStroke(
  document: ProjectDocument,
  mesh: UvMesh,
  wish: GuardWish | null,
  used: () => Iterable<StrokeRefs>,
): Prepared {
  let next = document;
  let within: number | null = null;
  let guard: Guard | null = null;
  if (wish) {
    const area = areaOf(document, mesh, wish);
    const known = document.guards.find((g) => sameRuns(g.faces, area.faces) && sameCuts(g.cuts, area.cuts));
    guard = known ?? { id: document.nextId, ...area };
    within = guard.id;
    if (!known) next = withGuard(document, guard, used);
  }
  let frame = next.frames.find((f) => isIdentity(f.placing))?.id;
  if (frame === undefined) {
    frame = next.nextId;
    next = {
      ...next,
      frames: [...framesKept(next, used), { id: frame, placing: IDENTITY }],
      nextId: frame + 1,
    };
  }
  checkDocument(next, document);
  return { document: next, within, guard, frame };
}

function areaOf(document: ProjectDocument, mesh: UvMesh, wish: GuardWish): Omit<Guard, 'id'> {
  const count = mesh.faceParts.length;
  const part = wish.part === undefined ? null : mesh.parts.indexOf(wish.part);
  const region = document.regions.find((r) => r.id === wish.region);
  if (wish.region !== undefined && !region) {
    throw new CoreError('bad-argument', 'The region that guards the stroke is no longer there.');
  }
  const inside = region && new Set(region.faces);
  const area = wish.area && faceMask(count, wish.area.faces);
  const ofPart = (f: number): boolean => part === null || mesh.faceParts[f] === part;
  const inRegion = (f: number): boolean => !inside || inside.has(f);
  const inArea = (f: number): boolean => !area || area[f] === 1;
  // What the one cuts through a face counts only where all else lets the face through.
  const cuts = [
    ...cutsWithin(count, region?.cuts ?? [], (f) => ofPart(f) && inArea(f)),
    ...cutsWithin(count, wish.area?.cuts ?? [], (f) => ofPart(f) && inRegion(f)),
  ];
  return { faces: faceRuns(count, (f) => ofPart(f) && inRegion(f) && inArea(f)), cuts };
}

/** Cuts through those of their faces that pass. */
const cutsWithin = (count: number, cuts: Guard['cuts'], passes: (face: number) => boolean): Guard['cuts'] =>
  cuts.flatMap((cut) => {
    const kept = cutOver(cut, count, count, (f) => (passes(f) ? f : -1));
    return kept.faces.length > 0 ? [kept] : [];
  });

const sameCuts = (a: Guard['cuts'], b: Guard['cuts']): boolean =>
  a === b || (a.length === b.length && JSON.stringify(a) === JSON.stringify(b));

const sameRuns = (a: FaceRuns, b: FaceRuns): boolean =>
  a.length === b.length && a.every((x, i) => x === b[i]);

function withGuard(
  document: ProjectDocument,
  guard: Guard,
  used: () => Iterable<StrokeRefs>,
): ProjectDocument {
  let { guards } = document;
  if (guards.length >= MAX_GUARDS) {
    const needed = new Set([...used()].map(({ within }) => within));
    guards = guards.filter((g) => needed.has(g.id));
  }
  return { ...document, guards: [...guards, guard], nextId: guard.id + 1 };
}

/** Frames with room for one more: where there is none, those go that no stroke names. */
function framesKept(
  { frames }: ProjectDocument,
  used: () => Iterable<StrokeRefs>,
): ProjectDocument['frames'] {
  if (frames.length < MAX_FRAMES) return frames;
  const needed = new Set([...used()].map(({ frame }) => frame));
  return frames.filter((f) => needed.has(f.id));
}
