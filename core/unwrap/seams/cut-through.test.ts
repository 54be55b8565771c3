import { describe, expect, it } from 'vitest';
import { box, grid, turnedForm } from '../../../tests/forms';
import { ball } from '../../../tests/shapes';
import { edgeLengths, faceGeometry, topologyOf, type UvMesh } from '../../mesh';
import { cutThrough, layoutSeams, measureLayout, unwrapModel } from '..';

/** A flat square of 10 by 10 quads whose layout is its own shape. */
function flat(): UvMesh {
  const mesh = grid(10, 10, (u, v) => [u, v, 0]);
  const uvs = new Float32Array((mesh.positions.length / 3) * 2);
  for (let v = 0; v < uvs.length / 2; v++) uvs.set(mesh.positions.subarray(v * 3, v * 3 + 2), v * 2);
  return { ...mesh, normals: mesh.positions.map((_, i) => (i % 3 === 2 ? 1 : 0)), uvs };
}

const lengthOf = (mesh: UvMesh, seams: readonly number[]): number => {
  const topology = topologyOf(mesh);
  const lengths = edgeLengths(topology, mesh.positions);
  return seams.reduce((sum, c) => sum + lengths[topology.edges.ofCorner[c]!]!, 0);
};

const areaOf = (mesh: UvMesh): number => faceGeometry(mesh).areas.reduce((sum, a) => sum + a, 0);

/** Marks the edges between vertices that follow one another. */
function marked(mesh: UvMesh, line: readonly number[]): Uint8Array {
  const { edges } = topologyOf(mesh);
  const pairs = new Set(line.slice(1).map((v, i) => [v, line[i]!].sort((a, b) => a - b).join(' ')));
  return Uint8Array.from(edges.uses, (_, e) =>
    pairs.has([edges.ends[e * 2]!, edges.ends[e * 2 + 1]!].sort((a, b) => a - b).join(' ')) ? 1 : 0,
  );
}

describe('seams through triangles', () => {
  it('make a line of stairs: as long as Pythagoras says', () => {
    const mesh = flat();
    // Two to the right, one up, from one border to the other: 10 by 5 steps.
    const at = (column: number, row: number): number => (2 + row) * 11 + column;
    const stairs = [at(0, 0)];
    for (let k = 0; k < 5; k++) stairs.push(at(2 * k + 1, k), at(2 * k + 2, k), at(2 * k + 2, k + 1));
    // The last step would run along the border.
    stairs.pop();
    const seams = marked(mesh, stairs);
    expect(seams.reduce((n, x) => n + x, 0)).toBe(14);
    const cut = cutThrough(mesh, seams);
    expect(lengthOf(cut.mesh, cut.seams)).toBeCloseTo(Math.hypot(1, 0.4), 5);
    expect(cut.mesh.indices.length).toBeGreaterThan(mesh.indices.length);
    // The surface is what it was, and so is the layout at every place of it.
    expect(areaOf(cut.mesh)).toBeCloseTo(1, 6);
    expect(faceGeometry(cut.mesh).areas.every((a) => a > 1e-5)).toBe(true);
    cut.mesh.uvs.forEach((x, i) => expect(x).toBeCloseTo(cut.mesh.positions[(i >> 1) * 3 + (i & 1)]!, 6));
    // Still one sheet, without a gap: Euler's characteristic of a disc is 1.
    const { edges, welded } = topologyOf(cut.mesh);
    const corners = new Set(Array.from(cut.mesh.indices, (v) => welded[v]!)).size;
    expect(corners - edges.uses.length + cut.mesh.indices.length / 3).toBe(1);
    expect(Math.max(...edges.uses)).toBe(2);
  });

  it('stay on rings, which turn one way only', () => {
    const mesh = unwrapModel(
      turnedForm(
        [
          [0, 0],
          [0.5, 0.1],
          [0.6, 0.6],
          [0.4, 1],
          [0, 1.05],
        ],
        24,
      ),
      { size: 256, margin: 4, seams: 'auto' },
    );
    const seams = layoutSeams(mesh, topologyOf(mesh));
    expect(seams.reduce((n, x) => n + x, 0)).toBeGreaterThan(20);
    expect(cutThrough(mesh, seams).mesh.indices).toHaveLength(mesh.indices.length);
  });

  it('stay on hard edges', () => {
    const mesh = unwrapModel(box(1, 0.7, 0.4), { size: 256, margin: 4, seams: 'auto' });
    const seams = layoutSeams(mesh, topologyOf(mesh));
    const cut = cutThrough(mesh, seams);
    expect(cut.mesh.indices).toHaveLength(mesh.indices.length);
    expect(cut.seams).toHaveLength(seams.reduce((n, x) => n + x, 0));
  });

  it('divide the surface into the same pieces, with less seam, and parts, sides and polygons stay', () => {
    const model = { ...ball(24, 12), uvs: null };
    const mesh = unwrapModel(model, { size: 256, margin: 4, seams: 'auto', cut: 'even' });
    const seams = layoutSeams(mesh, topologyOf(mesh));
    const cut = cutThrough({ ...mesh, polygons: Uint32Array.from(mesh.faceParts, (_, f) => f >> 1) }, seams);
    const before = edgeLengths(topologyOf(mesh), mesh.positions).reduce(
      (sum, l, e) => sum + (seams[e] ? l : 0),
      0,
    );
    expect(lengthOf(cut.mesh, cut.seams)).toBeLessThan(before);
    expect(areaOf(cut.mesh)).toBeCloseTo(areaOf(mesh), 4);
    // Triangles keep facing outward.
    const { normals } = faceGeometry(cut.mesh);
    for (let f = 0; f < cut.mesh.indices.length / 3; f++) {
      const v = cut.mesh.indices[f * 3]! * 3;
      const out = [0, 1, 2].reduce((sum, k) => sum + normals[f * 3 + k]! * cut.mesh.positions[v + k]!, 0);
      expect(out).toBeGreaterThan(0);
    }
    const numbers = [...cut.mesh.polygons!];
    expect(numbers).toEqual([...numbers].sort((a, b) => a - b));
    const again = unwrapModel(cut.mesh, { size: 256, margin: 4, seams: 'existing' });
    expect(measureLayout(again, 256).flipped).toBe(0);
  });
});
