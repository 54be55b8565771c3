import { edgeLengths, findIslands, topologyOf, type Mesh } from '../core/mesh';
import {
  flattenChart,
  cutIntoCharts,
  measureLayout,
  measureShapes,
  restShapes,
  unwrapModel,
  type Cut,
} from '../core/unwrap';
import type { Row } from './clock';
import { bumpyBall } from './models';
import { unwrapModels } from './unwrap-models';
import { peerUnwrap } from './unwrap-peer';
import { naturalShapes } from './unwrap-shapes';

const SIZE = 2048;
const MARGIN = 16;

/** Ours and the peer's layout of the same models: a row for each figure that must be no worse. A ratio is peer / ours. */
export async function benchUnwrap(): Promise<Row[]> {
  const rows: Row[] = [];
  for (const { name, mesh } of await unwrapModels()) {
    const model = modelOf(name, mesh);
    const start = performance.now();
    const unwrapped = unwrapModel(model, { size: SIZE, margin: MARGIN, seams: 'auto', cut: 'even' });
    const seconds = (performance.now() - start) / 1000;
    const ours = measureLayout(unwrapped, SIZE);
    const peer = await peerMeasures(mesh);
    const compare = (what: string, a: number, b: number, digits: number, better = b / a): void => {
      rows.push({
        what: `unwrap ${name}: ${what}`,
        ours: a.toFixed(digits),
        peer: b.toFixed(digits),
        ratio: better,
      });
    };
    compare('islands', ours.islands, peer.islands, 0);
    compare('L2 stretch', ours.stretchL2, peer.stretchL2, 4);
    compare('seam length', ours.seamLength, peer.seamLength, 1);
    compare('fill', ours.fill, peer.fill, 3, ours.fill / peer.fill);
    compare('seconds', seconds, peer.seconds, 1);
    if (ours.flipped + ours.overlappedTexels > 0) {
      throw new Error(`${name}: ${ours.flipped} flipped, ${ours.overlappedTexels} overlapped texels.`);
    }
  }
  return [...rows, ...(await naturalRows()), flattenRow(5_000, 0.2), flattenRow(50_000, 4)];
}

/** A natural cut beside an even one of the same models: islands beside the most that are wanted, seam in sight beside that of the even cut. */
async function naturalRows(): Promise<Row[]> {
  const outside = (await unwrapModels())
    .filter(({ name }) => ['bunny', 'homer', 'elephant', 'otter', 'bumpy ball'].includes(name))
    .map((one) => ({ ...one, most: one.name === 'otter' ? 24 : null }));
  return [...naturalShapes(), ...outside].flatMap(({ name, mesh, most }): Row[] => {
    const model = modelOf(name, mesh);
    const measured = (cut: Cut) => {
      const start = performance.now();
      const laid = unwrapModel(model, { size: SIZE, margin: MARGIN, seams: 'auto', cut });
      return { ...measureLayout(laid, SIZE), seconds: (performance.now() - start) / 1000 };
    };
    const [even, natural] = [measured('even'), measured('natural')];
    const row = (what: string, ours: number, peer: number, digits: number): Row => ({
      what: `natural ${name}: ${what}`,
      ours: ours.toFixed(digits),
      peer: peer.toFixed(digits),
      ratio: peer / ours,
    });
    return [
      row('islands, wanted', natural.islands, most ?? even.islands, 0),
      row('seam in sight', natural.seamLength * natural.seamSight, even.seamLength * even.seamSight, 2),
      row('L2 stretch, bound', natural.stretchL2, 1.06, 4),
      row('Linf stretch, bound', natural.stretchLinf, 3, 2),
      row('fill', even.fill, natural.fill, 3),
      row('seconds', natural.seconds, even.seconds, 1),
    ];
  });
}

const modelOf = (name: string, mesh: Pick<Mesh, 'positions' | 'indices'>): Mesh => ({
  ...mesh,
  normals: mesh.positions,
  uvs: null,
  faceParts: new Uint16Array(mesh.indices.length / 3),
  parts: [name],
});

async function peerMeasures(mesh: Pick<Mesh, 'positions' | 'indices'>) {
  const { positions, uvs, indices, milliseconds } = await peerUnwrap(mesh, SIZE, MARGIN);
  const { stretchL2 } = measureShapes(indices, restShapes({ positions, indices }), uvs);
  const split: Mesh = {
    positions,
    indices,
    uvs,
    normals: positions,
    faceParts: new Uint16Array(indices.length / 3),
    parts: ['peer'],
  };
  const islands = findIslands({ ...split, uvs });
  const topology = topologyOf(mesh);
  const lengths = edgeLengths(topology, mesh.positions);
  let borders = 0;
  for (let c = 0; c < indices.length; c++) {
    if (islands.edges.uses[islands.edges.ofCorner[c]!] !== 1) continue;
    const [a, b] = [indices[c]! * 3, indices[c % 3 === 2 ? c - 2 : c + 1]! * 3];
    borders += Math.hypot(...[0, 1, 2].map((k) => positions[a + k]! - positions[b + k]!));
  }
  // Edges that are open in the model are borders of every layout; of a seam there are two sides.
  let open = 0;
  topology.across.forEach((o, c) => (open += o < 0 ? lengths[topology.edges.ofCorner[c]!]! : 0));
  let fill = 0;
  for (let c = 0; c < indices.length; c += 3) {
    const [i, j, k] = [indices[c]! * 2, indices[c + 1]! * 2, indices[c + 2]! * 2];
    fill +=
      Math.abs(
        (uvs[j]! - uvs[i]!) * (uvs[k + 1]! - uvs[i + 1]!) - (uvs[j + 1]! - uvs[i + 1]!) * (uvs[k]! - uvs[i]!),
      ) / 2;
  }
  return {
    islands: islands.count,
    stretchL2,
    seamLength: (borders - open) / 2,
    fill,
    seconds: milliseconds / 1000,
  };
}

/** One chart of about so many triangles: the half of a bumpy ball that looks to the front. */
function flattenRow(triangles: number, limit: number): Row {
  const rows = Math.round(Math.sqrt(triangles / 2));
  const ball = bumpyBall(rows * 2, rows);
  const topology = topologyOf(ball);
  const front: number[] = [];
  for (let f = 0; f < ball.indices.length / 3; f++) {
    const z = [0, 1, 2].reduce((sum, k) => sum + ball.positions[ball.indices[f * 3 + k]! * 3 + 2]!, 0);
    if (z > 0) front.push(f);
  }
  const charts = cutIntoCharts(ball, topology, new Uint8Array(topology.edges.uses.length), front);
  const chart = charts.sort((a, b) => b.faces.length - a.faces.length)[0]!;
  const start = performance.now();
  flattenChart(chart);
  const seconds = (performance.now() - start) / 1000;
  return {
    what: `flatten a chart of ${chart.faces.length.toLocaleString('en')} triangles, limit ${limit} s`,
    ours: `${seconds.toFixed(2)} s`,
    peer: `${limit} s`,
    ratio: limit / seconds,
  };
}
