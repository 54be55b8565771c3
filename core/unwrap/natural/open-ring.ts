import { edgeLengths, type Mesh, type Topology } from '../../mesh';
import type { CutChart } from '../segment/chart';
import { cheapestPath } from '../seams/edge-path';

/**
 * Opens a piece with several borders: the shortest way from its longest border to the nearest other one becomes a seam.
 *
 * @param loops the chart's borders in its own vertices
 * @param cuts 1 for each edge that is cut; receives the way
 * @returns false if the borders touch, so that there is no way between them
 */
export function openRing(
  mesh: Pick<Mesh, 'positions' | 'indices'>,
  topology: Topology,
  chart: CutChart,
  loops: readonly (readonly number[])[],
  cuts: Uint8Array,
): boolean {
  const { edges } = topology;
  const lengths = edgeLengths(topology, mesh.positions);
  const inside = new Set<number>();
  const placeOf = new Map<number, number>();
  chart.faces.forEach((f, i) => {
    for (let k = 0; k < 3; k++) {
      const e = edges.ofCorner[f * 3 + k]!;
      if (!cuts[e]) inside.add(e);
      placeOf.set(chart.indices[i * 3 + k]!, topology.welded[mesh.indices[f * 3 + k]!]!);
    }
  });
  const [from, ...others] = loops.map((loop) => loop.map((v) => placeOf.get(v)!));
  const path = cheapestPath(
    topology,
    (e) => (inside.has(e) ? lengths[e]! : Infinity),
    from!,
    new Set(others.flat()),
  );
  for (const e of path) cuts[e] = 1;
  return path.length > 0;
}
