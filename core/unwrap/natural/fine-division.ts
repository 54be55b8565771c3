import type { Mesh, Topology } from '../../mesh';
import { CoreError } from '../../errors';
import { autoCharts } from '../segment/auto-charts';
import { cutIntoCharts } from '../segment/chart';
import { flattenChart, type FlatChart } from '../flatten/flatten';
import type { MirrorMap } from './mirror-map';
import { cutsOf } from '../seams/seam-runs';

/** Squared L² stretch less one that the pieces have from which a natural cut is joined: next to none. */
const FINE = 0.0022;

/** The fine division; where both sides are alike, one is divided and the other is its mirror image. */
export function finelyDivided(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  fixed: Uint8Array,
  mirror: MirrorMap | null,
  onProgress: (done: number) => void,
): { charts: FlatChart[]; cuts: Uint8Array } {
  const options = { stretch: FINE, onProgress };
  if (!mirror) {
    const charts = autoCharts(mesh, topology, { ...options, seams: fixed });
    return { charts, cuts: cutsOf(charts, topology, fixed) };
  }
  const half = nearHalf(mesh, mirror);
  const borders = fixed.slice();
  topology.across.forEach((o, c) => {
    if (o >= 0 && half[Math.floor(c / 3)] !== half[Math.floor(o / 3)])
      borders[topology.edges.ofCorner[c]!] = 1;
  });
  const faces = [...half.keys()].filter((f) => half[f]);
  const near = autoCharts(mesh, topology, { ...options, seams: borders, faces });
  const cuts = cutsOf(near, topology, borders);
  cuts.forEach((x, e) => {
    const image = mirror.ofEdge[e]!;
    if (x && image >= 0 && topology.edges.uses[image] === 2) cuts[image] = 1;
  });
  const known = new Map(near.map((one) => [one.chart.faces[0]!, one]));
  const charts = cutIntoCharts(mesh, topology, cuts).flatMap((chart): FlatChart[] => {
    const same = known.get(chart.faces[0]!);
    if (same?.chart.faces.length === chart.faces.length) return [same];
    try {
      const flat = flattenChart(chart);
      if (!flat.overlaps) return [{ chart, flat }];
    } catch (error) {
      // Divided once more below.
      if (!(error instanceof CoreError)) throw error;
    }
    return autoCharts(mesh, topology, { stretch: FINE, seams: cuts, faces: chart.faces });
  });
  return { charts, cuts: cutsOf(charts, topology, cuts) };
}

/** A division along given cuts; what can't be flattened so is cut further. */
export function dividedAlong(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  fixed: Uint8Array,
  cuts: Uint8Array,
): { charts: FlatChart[]; cuts: Uint8Array } {
  const charts = autoCharts(mesh, topology, { stretch: null, seams: cuts.map((x, e) => x | fixed[e]!) });
  return { charts, cuts: cutsOf(charts, topology, fixed) };
}

/** 1 for triangles on the plane's near side, on the plane itself, and for those that nothing mirrors. */
function nearHalf(
  { positions, indices }: Pick<Mesh, 'positions' | 'indices'>,
  { ofFace, plane }: MirrorMap,
): Uint8Array {
  return Uint8Array.from(ofFace, (g, f) => {
    if (g < 0 || g === f) return 1;
    const side = (face: number): number => {
      let sum = 0;
      for (let k = 0; k < 3; k++)
        for (let axis = 0; axis < 3; axis++)
          sum += positions[indices[face * 3 + k]! * 3 + axis]! * plane.normal[axis]!;
      return sum;
    };
    const [own, other] = [side(f), side(g)];
    return own > other || (own === other && f < g) ? 1 : 0;
  });
}
