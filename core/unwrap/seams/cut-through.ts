import { cross, dot, length, sub, type Vec3 } from '../../math';
import { cornerOfEdge, edgeAngles, edgeLengths, faceGeometry, topologyOf, type UvMesh } from '../../mesh';
import { cutIntoCharts } from '../segment/chart';
import { CutMesh, nameOf } from './cut-mesh';
import { tryFlat } from '../natural/flat-charts';
import { cutRuns } from '../natural/lift-cuts';
import { partBorders } from '../unwrap-model';

/** A seam that stays within so many of its edges' lengths of a straight line becomes one. */
const STAIRS = 0.8;

/** Stairs turn to and fro by so much in all, radians; a ring turns one way only. */
const TO_AND_FRO = 0.6;

/** Along an edge that turns by so much a seam stays where it is, radians. */
const CREASE = 0.5;

export interface CutThrough {
  readonly mesh: UvMesh;
  /** Each seam by the lowest corner of the new mesh that runs along it. */
  readonly seams: readonly number[];
  /** The former triangle of which each is a part. */
  readonly from: Uint32Array;
}

/** How often what won't lie flat any more gets its former seams back. */
const ROUNDS = 4;

/** The same, but seams stay as they are round pieces that lie flat along them and wouldn't along straight ones. */
export function cutWhereFlat(mesh: UvMesh, seams: Uint8Array): CutThrough {
  const topology = topologyOf(mesh);
  const stays = new Set<number>();
  let cut = cutThrough(mesh, seams);
  for (let round = 0; round < ROUNDS; round++) {
    const now = topologyOf(cut.mesh);
    const cuts = partBorders(cut.mesh, now);
    for (const c of cut.seams) cuts[now.edges.ofCorner[c]!] = 1;
    const bad = cutIntoCharts(cut.mesh, now, cuts).filter((piece) => !tryFlat(piece, Infinity));
    const before = stays.size;
    for (const { faces } of bad)
      for (const f of faces)
        for (let k = 0; k < 3; k++) stays.add(topology.welded[mesh.indices[cut.from[f]! * 3 + k]!]!);
    if (stays.size === before) break;
    cut = cutThrough(mesh, seams, stays);
  }
  return cut;
}

/**
 * Leads seams straight, right through triangles: stairs become lines. The surface and its layout stay as they are; triangles are cut along the
 * new seams. Seams on hard edges stay there, and none crosses another one.
 *
 * @param seams 1 for each edge that is a seam
 * @param stays welded vertices: a seam all of whose vertices are among them isn't moved
 */
export function cutThrough(
  mesh: UvMesh,
  seams: Uint8Array,
  stays: ReadonlySet<number> = new Set(),
): CutThrough {
  const topology = topologyOf(mesh);
  const { ends, uses } = topology.edges;
  const lengths = edgeLengths(topology, mesh.positions);
  const angles = edgeAngles(mesh, topology, faceGeometry(mesh).normals);
  const edgeOf = new Map(Array.from(uses, (_, e) => [nameOf(ends[e * 2]!, ends[e * 2 + 1]!), e]));
  const cut = new CutMesh(mesh);
  const marked = new Set<string>();
  const touched = new Map<number, number>();
  const mark = (a: number, b: number, by: number): void => {
    const name = nameOf(a, b);
    if (by > 0) marked.add(name);
    else marked.delete(name);
    for (const v of [a, b]) touched.set(v, (touched.get(v) ?? 0) + by);
  };
  const borders = partBorders(mesh, topology);
  seams.forEach((x, e) => {
    // A border, of the surface or of a part, is no place to go through either.
    if (x || borders[e] || uses[e] !== 2) mark(ends[e * 2]!, ends[e * 2 + 1]!, 1);
  });
  for (const run of cutRuns(topology, seams)) {
    if (run.every((v) => stays.has(v))) continue;
    const own = run.slice(1).map((v, i) => edgeOf.get(nameOf(run[i]!, v))!);
    const mean = own.reduce((sum, e) => sum + lengths[e]!, 0) / own.length;
    const onCrease = own.map((e) => Math.abs(angles[e]!) > CREASE);
    run.slice(1).forEach((v, i) => mark(run[i]!, v, -1));
    const stops = stopsOf(
      run.map((v) => cut.at(v)),
      onCrease,
      STAIRS * mean,
    );
    const line = [run[0]!];
    for (let k = 0; k + 1 < stops.length; k++) {
      const [i, j] = [stops[k]!, stops[k + 1]!];
      const steps =
        j - i > 1 && isZigzag(cut, run.slice(i, j + 1))
          ? cut.straight(
              run[i]!,
              run[j]!,
              (a, b) => !marked.has(nameOf(a, b)),
              (v) => !touched.get(v) && !line.includes(v),
            )
          : null;
      const part = steps
        ? cut.cut(run[i]!, steps)
        : run.slice(i + 1, j + 1).flatMap((v, n) => cut.along(run[i + n]!, v).slice(n > 0 ? 1 : 0));
      part.slice(1).forEach((v, n) => mark(part[n]!, v, 1));
      line.push(...part.slice(1));
    }
  }
  const { mesh: made, from } = cut.result();
  return { mesh: made, seams: cornersOf(made, cut, marked), from };
}

/** Whether a line over the surface turns to and fro. */
function isZigzag(cut: CutMesh, line: readonly number[]): boolean {
  let [all, sum] = [0, 0];
  for (let k = 1; k + 1 < line.length; k++) {
    const [a, b, c] = [cut.at(line[k - 1]!), cut.at(line[k]!), cut.at(line[k + 1]!)];
    const [before, after] = [sub(b, a), sub(c, b)];
    const turn = Math.atan2(dot(cut.normalAt(line[k]!), cross(before, after)), dot(before, after));
    all += Math.abs(turn);
    sum += turn;
  }
  return all - Math.abs(sum) > TO_AND_FRO;
}

/** Places along a run that stay: its ends, those on creases, and as many others as keep it near to where it was (Douglas and Peucker, 1973). */
function stopsOf(points: readonly Vec3[], onCrease: readonly boolean[], reach: number): number[] {
  const last = points.length - 1;
  const stays = new Set([0, last]);
  onCrease.forEach((is, i) => {
    if (is) stays.add(i).add(i + 1);
  });
  const between = (i: number, j: number): void => {
    let [far, at] = [reach, -1];
    for (let k = i + 1; k < j; k++) {
      const d = toSegment(points[k]!, points[i]!, points[j]!);
      if (d > far) [far, at] = [d, k];
    }
    if (at < 0) return;
    stays.add(at);
    between(i, at);
    between(at, j);
  };
  const fixed = [...stays].sort((a, b) => a - b);
  for (let k = 0; k + 1 < fixed.length; k++) between(fixed[k]!, fixed[k + 1]!);
  return [...stays].sort((a, b) => a - b);
}

function toSegment(p: Vec3, a: Vec3, b: Vec3): number {
  const d = sub(b, a);
  const l = length(d);
  if (l === 0) return length(sub(p, a));
  const q = sub(p, a);
  const t = (q[0] * d[0] + q[1] * d[1] + q[2] * d[2]) / (l * l);
  if (t < 0 || t > 1) return Math.min(length(q), length(sub(p, b)));
  return length(cross(q, d)) / l;
}

/** Seams as corners: edges are known by the places of their ends. */
function cornersOf(mesh: UvMesh, cut: CutMesh, marked: ReadonlySet<string>): number[] {
  const topology = topologyOf(mesh);
  const { ends, uses } = topology.edges;
  const placeName = ([x, y, z]: Vec3): string => `${x} ${y} ${z}`;
  const names = new Set(
    [...marked].flatMap((name) => {
      const [a, b] = name.split(' ').map((v) => placeName(cut.at(Number(v)))) as [string, string];
      return [`${a} ${b}`, `${b} ${a}`];
    }),
  );
  const at = (v: number): string =>
    placeName([...mesh.positions.subarray(v * 3, v * 3 + 3)] as unknown as Vec3);
  const corner = cornerOfEdge(topology);
  return [...uses.keys()]
    .filter((e) => uses[e] === 2 && names.has(`${at(ends[e * 2]!)} ${at(ends[e * 2 + 1]!)}`))
    .map((e) => corner[e]!)
    .sort((a, b) => a - b);
}
