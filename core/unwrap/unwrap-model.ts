import { CoreError } from '../errors';
import {
  cornerOfEdge,
  edgeAngles,
  edgeLengths,
  faceGeometry,
  faceMask,
  faceRuns,
  nextCorner,
  requireUvs,
  topologyOf,
  type FaceRuns,
  type Mesh,
  type Topology,
  type UvMesh,
} from '../mesh';
import { autoCharts } from './segment/auto-charts';
import type { CutChart } from './segment/chart';
import { cornerUvs, withCornerUvs } from './corner-uvs';
import { lendersOf } from './lenders';
import { marksOnPiece } from './piece-marks';
import { chartsWithArea, layFlatFaces, withoutCollapsed } from './flatten/flat-faces';
import { naturalCharts, plannedCharts } from './natural/natural-charts';
import { layoutSeams } from './flatten/layout-measures';
import { measureDistortion } from './flatten/measures';
import { planCuts, type CutPlan } from './natural/natural-plan';
import { doneHere, type Working } from './natural/component-work';
import { mirroredPairs, packSideBySide } from './natural/side-by-side';
import { wishFactors, type WishedFaces } from './seams/seam-wishes';
import { turned, uprightTurn } from './flatten/upright';

export interface UnwrapOptions {
  /** Texels a side of the sheet. */
  readonly size: number;
  /** Texels between islands. */
  readonly margin: number;
  /** Where to cut: by itself, along the present islands, or along creases. */
  readonly seams: 'auto' | 'existing' | 'creases';
  /** By itself: few large pieces with seams where nobody looks, or even pieces with next to no stretch. */
  readonly cut?: Cut;
  /** L² stretch that a natural cut may leave. */
  readonly bound?: number;
  /** Seams that stay, each by a corner that runs along it. */
  readonly kept?: readonly number[];
  /** Where seams are wanted, and where not. */
  readonly wishes?: WishedFaces;
  /** A natural cut that was planned for this very model with the same seams and wishes; `bound` says how far it is gone along. */
  readonly plan?: CutPlan | null;
  /** Islands upright and those of a part together, or turned as they fit tightest; upright for natural cuts if left out. */
  readonly arrange?: Arrange;
  /** For each part how large it shall be beside the others, as a factor of length; 1 where left out. */
  readonly weights?: ReadonlyMap<string, number>;
  /** Mirrored halves and equal pieces share texels, but for these triangles. Left out: every place has its own. */
  readonly stack?: { readonly apart: FaceRuns };
  readonly onProgress?: (done: number) => void;
}

/** How islands are arranged on the sheet. */
export const ARRANGES = ['upright', 'tightest'] as const;
export type Arrange = (typeof ARRANGES)[number];

/** How a model is cut by itself. */
export const CUTS = ['natural', 'even'] as const;
export type Cut = (typeof CUTS)[number];

/** L² stretch that a natural cut may leave if nothing else is said: hardly seen in paint. */
export const DEFAULT_BOUND = 1.06;

/** L² stretch at the far end of a plan: fewest seams. */
export const MOST_BOUND = 1.15;

/** Texels between islands where nothing else is said: twice the least bleed of 6. */
export const DEFAULT_MARGIN = 12;

/** Stretch that is left by itself: L² stretch about 1.001. */
export const DEFAULT_STRETCH = 0.0022;

/** Part of the work that is done when all is flat; the rest is packing. */
const CHARTED = 0.7;

/** An edge that turns by more than this is a crease. */
export const CREASE_ANGLE = (40 * Math.PI) / 180;

/**
 * Lays a whole model out: seams, flattening and packing.
 *
 * @throws CoreError `model-no-uvs` if the present islands are asked for and there are none
 */
export const unwrapModel = (mesh: Mesh, options: UnwrapOptions): UvMesh =>
  doneHere(unwrapping(mesh, options));

/** The same as work that several may share. */
export function* unwrapping(mesh: Mesh, options: UnwrapOptions): Working<UvMesh> {
  const shared = sharing(mesh, options);
  if (!shared) return yield* layingOut(mesh, options);
  const uvs = new Float32Array(mesh.indices.length * 2);
  const own = cornerUvs(yield* layingOut(shared.piece, { ...options, ...shared.marks }));
  shared.faces.forEach((f, i) => uvs.set(own.subarray(i * 6, i * 6 + 6), f * 6));
  const torn = tornBorrowers(mesh, shared.lenders, uvs);
  // Where a seam came to run between two lenders, their borrowers have texels of their own.
  if (torn.size > 0) {
    const apart = faceMask(mesh.faceParts.length, options.stack!.apart);
    const runs = faceRuns(apart.length, (f) => apart[f] === 1 || torn.has(f));
    return yield* unwrapping(mesh, { ...options, stack: { apart: runs } });
  }
  shared.lenders.forEach((lender, c) => uvs.set(uvs.subarray(lender * 2, lender * 2 + 2), c * 2));
  return withCornerUvs(mesh, uvs);
}

/** Triangles that borrow from two others between which a seam runs. @param uvs uv a corner of those that lend */
function tornBorrowers({ positions, indices }: Mesh, lenders: Uint32Array, uvs: Float32Array): Set<number> {
  const { welded } = topologyOf({ positions, indices });
  const out = new Set<number>();
  for (let f = 0; f < indices.length / 3; f++) {
    const owners = [0, 1, 2].map((k) => Math.floor(lenders[f * 3 + k]! / 3));
    if (owners.every((g) => g === owners[0])) continue;
    const seen = new Map<number, number>();
    for (const c of owners.flatMap((g) => [g * 3, g * 3 + 1, g * 3 + 2])) {
      const v = welded[indices[c]!]!;
      const known = seen.get(v) ?? c;
      seen.set(v, known);
      if (uvs[known * 2] !== uvs[c * 2] || uvs[known * 2 + 1] !== uvs[c * 2 + 1]) out.add(f);
    }
  }
  return out;
}

/** What has texels of its own where others share them; null where nothing is shared. */
function sharing(mesh: Mesh, options: Pick<UnwrapOptions, 'kept' | 'wishes' | 'stack' | 'weights'>) {
  if (!options.stack) return null;
  const lenders = lendersOf(mesh, options.stack.apart, options.weights);
  const all = Uint32Array.from(mesh.faceParts, (_, f) => f);
  const faces = all.filter((f) => lenders[f * 3] === f * 3);
  if (faces.length === all.length) return null;
  const indices = new Uint32Array(faces.length * 3);
  faces.forEach((f, i) => indices.set(mesh.indices.subarray(f * 3, f * 3 + 3), i * 3));
  return {
    lenders,
    faces,
    piece: pickFaces(mesh, faces, indices),
    marks: marksOnPiece(mesh, faces, options),
  };
}

function* layingOut(mesh: Mesh, options: UnwrapOptions): Working<UvMesh> {
  const { whole, kept, body, topology, seams, wishes } = prepared(mesh, options);
  if (options.seams === 'existing') addTo(seams, layoutSeams(requireUvs(body), topology));
  if (options.seams === 'creases') addTo(seams, creases(body, topology));
  const stretch = options.seams === 'auto' ? DEFAULT_STRETCH : null;
  const onProgress = (done: number): void => options.onProgress?.(done * CHARTED);
  const isNatural = options.seams === 'auto' && options.cut !== 'even';
  const bound = options.bound ?? DEFAULT_BOUND;
  const given = options.plan;
  const { charts, plane } = !isNatural
    ? { charts: autoCharts(body, topology, { stretch, seams, onProgress }), plane: null }
    : given
      ? {
          charts: yield* plannedCharts(body, topology, given, {
            bound,
            seams,
            wishes,
            onProgress,
          }),
          plane: given.plane,
        }
      : yield* naturalCharts(body, topology, { bound, seams, wishes, onProgress });
  const isLaid = new Uint8Array(mesh.faceParts.length);
  const islands = chartsWithArea(body, charts).map(({ chart, flat }) => {
    const faces = kept ? chart.faces.map((f) => kept.faces[f]!) : chart.faces;
    for (const f of faces) isLaid[f] = 1;
    return { chart: { ...chart, faces }, uv: flat.uv };
  });
  const isUpright = (options.arrange ?? (isNatural ? 'upright' : 'tightest')) === 'upright';
  const standing = isUpright
    ? islands.map(({ chart, uv }) => ({ chart, uv: turned(uv, uprightTurn(chart, uv)) }))
    : islands;
  const { uvs: packed } = packCharts(mesh, standing, {
    ...options,
    ...(isUpright
      ? {
          upright: true,
          pairs: plane
            ? mirroredPairs(
                mesh,
                standing.map(({ chart }) => chart),
                plane,
              )
            : [],
        }
      : {}),
    onProgress: (done) => options.onProgress?.(CHARTED + (1 - CHARTED) * done),
  });
  layFlatFaces(mesh, whole, packed, isLaid);
  options.onProgress?.(1);
  return withCornerUvs(mesh, packed);
}

/** Some of a mesh's triangles. */
function pickFaces({ polygons: _, ...mesh }: Mesh, faces: Uint32Array, indices: Uint32Array): Mesh {
  return { ...mesh, indices, faceParts: Uint16Array.from(faces, (f) => mesh.faceParts[f]!) };
}

export interface PackCharts extends Pick<UnwrapOptions, 'size' | 'margin' | 'weights' | 'onProgress'> {
  /** Islands keep their turn, and those of a part lie near one another. */
  readonly upright?: boolean;
  /** Charts that lie side by side. */
  readonly pairs?: readonly (readonly [number, number])[];
}

/** The model as it is laid out: without triangles that have no area, its edges that must be seams marked. */
function prepared(mesh: Mesh, options: Pick<UnwrapOptions, 'kept' | 'wishes'>) {
  const whole = topologyOf(mesh);
  const kept = withoutCollapsed(mesh, whole);
  const body = kept ? pickFaces(mesh, kept.faces, kept.mesh.indices) : mesh;
  const topology = kept ? topologyOf(body) : whole;
  const seams = partBorders(body, topology);
  const own = kept ? new Map(Array.from(kept.faces, (f, i) => [f, i])) : null;
  const place = (f: number): number => (own ? (own.get(f) ?? -1) : f);
  for (const c of options.kept ?? []) {
    const f = place(Math.floor(c / 3));
    if (f >= 0) seams[topology.edges.ofCorner[f * 3 + (c % 3)]!] = 1;
  }
  const { never = [], gladly = [] } = options.wishes ?? {};
  const faces = mesh.faceParts.length;
  const moved = (runs: FaceRuns): FaceRuns => {
    if (!kept) return runs;
    const mask = faceMask(faces, runs);
    return faceRuns(kept.faces.length, (i) => mask[kept.faces[i]!] === 1);
  };
  const wishes = wishFactors(topology, body.faceParts.length, { never: moved(never), gladly: moved(gladly) });
  return { whole, kept, body, topology, seams, wishes };
}

export type PlanHow = Pick<UnwrapOptions, 'bound' | 'kept' | 'wishes' | 'stack' | 'weights' | 'onProgress'>;

/** All the ways to cut a model naturally, up to a stretch: `unwrapModel` lays out whichever is wanted. */
export function* planningModel(mesh: Mesh, options: PlanHow): Working<CutPlan> {
  const shared = sharing(mesh, options);
  const { body, topology, seams, wishes } = prepared(shared?.piece ?? mesh, { ...options, ...shared?.marks });
  const { onProgress } = options;
  return yield* planCuts(body, topology, {
    bound: options.bound ?? MOST_BOUND,
    seams,
    wishes,
    ...(onProgress ? { onProgress } : {}),
  });
}

export const planModel = (mesh: Mesh, options: PlanHow): CutPlan => doneHere(planningModel(mesh, options));

/** @returns uv a corner; corners of triangles in no chart lie at 0 */
export function packCharts(
  mesh: Mesh,
  charts: readonly { readonly chart: CutChart; readonly uv: Float64Array }[],
  { size, margin, weights, onProgress, upright = false, pairs = [] }: PackCharts,
): { uvs: Float32Array; fill: number } {
  const partOf = (i: number): number => mesh.faceParts[charts[i]!.chart.faces[0]!]!;
  const packed = packSideBySide(
    charts.map(({ chart, uv }) => ({ points: uv, indices: chart.indices })),
    pairs,
    {
      size,
      margin,
      turn: !upright,
      ...(upright ? { groups: charts.map((_, i) => partOf(i)) } : {}),
      ...(onProgress ? { onProgress } : {}),
      weights: charts.map((_, i) => weights?.get(mesh.parts[partOf(i)]!) ?? 1),
    },
  );
  const uvs = new Float32Array(mesh.indices.length * 2);
  charts.forEach(({ chart }, i) => {
    const points = packed.uvs[i]!;
    chart.faces.forEach((f, k) => {
      for (let corner = 0; corner < 3; corner++) {
        const v = chart.indices[k * 3 + corner]!;
        uvs[(f * 3 + corner) * 2] = points[v * 2]!;
        uvs[(f * 3 + corner) * 2 + 1] = points[v * 2 + 1]!;
      }
    });
  });
  if (!uvs.every(Number.isFinite)) {
    throw new CoreError(
      'unwrap-folds',
      'The model can’t be laid out: its size is beyond what can be reckoned with. Scale it and try again.',
    );
  }
  return { uvs, fill: packed.fill };
}

/** 1 for each edge between two parts. */
export function partBorders(mesh: Mesh, { across, edges }: Topology): Uint8Array {
  const out = new Uint8Array(edges.uses.length);
  across.forEach((o, c) => {
    if (o >= 0 && mesh.faceParts[Math.floor(o / 3)] !== mesh.faceParts[Math.floor(c / 3)])
      out[edges.ofCorner[c]!] = 1;
  });
  return out;
}

/** 1 for each edge that turns by more than an angle. @param angle radians */
export function creases(mesh: Mesh, topology: Topology, angle = CREASE_ANGLE): Uint8Array {
  const turns = edgeAngles(mesh, topology, faceGeometry(mesh).normals);
  return Uint8Array.from(turns, (t) => (Math.abs(t) > angle ? 1 : 0));
}

function addTo(seams: Uint8Array, more: Uint8Array): void {
  more.forEach((x, e) => (seams[e]! |= x));
}

export interface SuggestedSeams {
  /** Each by the lowest corner that runs along it. */
  readonly seams: readonly number[];
  readonly islands: number;
  /** What would be left of stretch. */
  readonly stretchL2: number;
  /** Model units. */
  readonly seamLength: number;
}

/** Where seams would be laid by themselves on some triangles, with the stretch and the length that come of it. */
export function* suggestingSeams(
  mesh: Mesh,
  faces: readonly number[],
  onProgress?: (done: number) => void,
): Working<SuggestedSeams> {
  const topology = topologyOf(mesh);
  const chosen = faces.length ? faces : Array.from({ length: mesh.faceParts.length }, (_, f) => f);
  const { charts } = yield* naturalCharts(mesh, topology, {
    bound: DEFAULT_BOUND,
    seams: partBorders(mesh, topology),
    ...(faces.length ? { faces: chosen } : {}),
    ...(onProgress ? { onProgress } : {}),
  });
  const chartOf = new Map<number, number>();
  const uvs = new Float32Array(mesh.indices.length * 2);
  const seen: number[] = [];
  charts.forEach(({ chart, flat }, n) =>
    chart.faces.forEach((f, i) => {
      chartOf.set(f, n);
      seen.push(f * 3, f * 3 + 1, f * 3 + 2);
      for (let k = 0; k < 3; k++) {
        uvs[(f * 3 + k) * 2] = flat.uv[chart.indices[i * 3 + k]! * 2]!;
        uvs[(f * 3 + k) * 2 + 1] = flat.uv[chart.indices[i * 3 + k]! * 2 + 1]!;
      }
    }),
  );
  const lengths = edgeLengths(topology, mesh.positions);
  const lowest = cornerOfEdge(topology);
  const seams = new Set<number>();
  let seamLength = 0;
  const same = (a: number, b: number): boolean =>
    uvs[a * 2] === uvs[b * 2] && uvs[a * 2 + 1] === uvs[b * 2 + 1];
  for (const c of seen) {
    const o = topology.across[c]!;
    const e = topology.edges.ofCorner[c]!;
    if (o < 0 || seams.has(lowest[e]!)) continue;
    const other = chartOf.get(Math.floor(o / 3));
    const isCut =
      other !== chartOf.get(Math.floor(c / 3)) || !same(c, nextCorner(o)) || !same(nextCorner(c), o);
    if (!isCut) continue;
    seams.add(lowest[e]!);
    seamLength += lengths[e]!;
  }
  const indices = Uint32Array.from(seen, (_, i) => i);
  const positions = new Float32Array(seen.length * 3);
  const flat = new Float64Array(seen.length * 2);
  seen.forEach((c, i) => {
    positions.set(mesh.positions.subarray(mesh.indices[c]! * 3, mesh.indices[c]! * 3 + 3), i * 3);
    flat.set(uvs.subarray(c * 2, c * 2 + 2), i * 2);
  });
  return {
    seams: [...seams].sort((a, b) => a - b),
    islands: charts.length,
    stretchL2: measureDistortion({ positions, indices }, flat).stretchL2,
    seamLength,
  };
}

export const suggestSeams = (mesh: Mesh, faces: readonly number[]): SuggestedSeams =>
  doneHere(suggestingSeams(mesh, faces));
