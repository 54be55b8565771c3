import { seededRandom } from '../core/math';
import { checkMesh, smoothNormals, type UvMesh } from '../core/mesh';

/** Small exact models for tests. */

export interface Quad {
  readonly part: string;
  /** Counter-clockwise from outside. */
  readonly corners: readonly (readonly [number, number, number])[];
  /** Lower left and upper right of its place on the sheet. */
  readonly place: readonly [number, number, number, number];
}

/** Flat quads, each with its own place on the sheet. */
export function quads(list: readonly Quad[]): UvMesh {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  const faceParts: number[] = [];
  const parts = [...new Set(list.map((q) => q.part))];
  for (const { part, corners, place } of list) {
    const first = positions.length / 3;
    for (const c of corners) positions.push(...c);
    const [u0, v0, u1, v1] = place;
    uvs.push(u0, v0, u1, v0, u1, v1, u0, v1);
    indices.push(first, first + 1, first + 2, first, first + 2, first + 3);
    faceParts.push(parts.indexOf(part), parts.indexOf(part));
  }
  return finish(positions, uvs, indices, faceParts, parts);
}

function finish(
  positions: number[],
  uvs: number[],
  indices: number[],
  faceParts: number[],
  parts: string[],
): UvMesh {
  const p = Float32Array.from(positions);
  const own = Uint32Array.from({ length: p.length / 3 }, (_, i) => i);
  return checkMesh({
    positions: p,
    normals: smoothNormals(p, Uint32Array.from(indices), own),
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
    faceParts: Uint16Array.from(faceParts),
    parts,
  }) as UvMesh;
}

/** A square of the given side in the plane y = 0, looking up, filling `place`. */
export const floorQuad = (side: number, place: Quad['place'], part = 'Floor'): Quad => ({
  part,
  corners: [
    [-side / 2, 0, side / 2],
    [side / 2, 0, side / 2],
    [side / 2, 0, -side / 2],
    [-side / 2, 0, -side / 2],
  ],
  place,
});

export const floor = (side = 2): UvMesh => quads([floorQuad(side, [0, 0, 1, 1])]);

/** Two squares that meet at x = 0 in one plane but lie apart on the sheet: a seam in the middle of a flat place. */
export const seamedFloor = (): UvMesh =>
  quads([
    {
      part: 'Floor',
      corners: [
        [-1, 0, 1],
        [0, 0, 1],
        [0, 0, -1],
        [-1, 0, -1],
      ],
      place: [0.05, 0.05, 0.4, 0.75],
    },
    {
      part: 'Floor',
      corners: [
        [0, 0, 1],
        [1, 0, 1],
        [1, 0, -1],
        [0, 0, -1],
      ],
      place: [0.6, 0.05, 0.95, 0.75],
    },
  ]);

/** A thin plate: the same square seen from above and from below, two parts if asked. */
export const plate = (thickness: number, lower = 'Plate'): UvMesh =>
  quads([
    floorQuad(2, [0.03, 0.03, 0.47, 0.47], 'Plate'),
    {
      part: lower,
      corners: [
        [-1, -thickness, -1],
        [1, -thickness, -1],
        [1, -thickness, 1],
        [-1, -thickness, 1],
      ],
      place: [0.53, 0.53, 0.97, 0.97],
    },
  ]);

/**
 * A vault over x = -1..1 whose halves share their texels, one the mirror image of the other, as most models in games are laid out. Its
 * triangles come in mixed order.
 *
 * @param apart the halves side by side on the sheet instead
 */
export function vault(columns = 16, rows = 8, apart = false): UvMesh {
  const positions: number[] = [];
  const uvs: number[] = [];
  const faces: number[][] = [];
  const height = (x: number): number => 0.6 * (1 - x * x);
  for (const side of apart ? [-1, 1] : [0]) {
    const first = positions.length / 3;
    const [from, to] = side === 0 ? [-columns, columns] : side < 0 ? [-columns, 0] : [0, columns];
    const across = to - from + 1;
    for (let j = 0; j <= rows; j++) {
      for (let i = from; i <= to; i++) {
        const x = i / columns;
        positions.push(x, height(x), 1 - (2 * j) / rows);
        const u = Math.abs(x) * (apart ? 0.42 : 0.9);
        uvs.push(apart ? (x < 0 || side < 0 ? 0.46 - u : 0.54 + u) : 0.05 + u, 0.05 + (0.9 * j) / rows);
      }
    }
    for (let j = 0; j < rows; j++) {
      for (let i = 0; i < across - 1; i++) {
        const p = first + j * across + i;
        faces.push([p, p + 1, p + across + 1], [p, p + across + 1, p + across]);
      }
    }
  }
  // As random as can be, and the same of both layouts.
  const random = seededRandom(5);
  const order = faces.map((_, f) => f);
  if (!apart) {
    for (let f = order.length - 1; f > 0; f--) {
      const other = Math.floor(random() * (f + 1));
      [order[f], order[other]] = [order[other]!, order[f]!];
    }
  }
  return finish(
    positions,
    uvs,
    order.flatMap((f) => faces[f]!),
    new Array<number>(faces.length).fill(0),
    ['Vault'],
  );
}

/** A ball of radius 1 laid out by longitude and latitude. */
export function ball(
  columns = 48,
  rows = 24,
  radius = 1,
  centre: readonly [number, number, number] = [0, 0, 0],
): UvMesh {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= rows; j++) {
    for (let i = 0; i <= columns; i++) {
      const a = (i / columns) * 2 * Math.PI;
      const b = (j / rows) * Math.PI;
      positions.push(
        centre[0] + radius * Math.sin(b) * Math.cos(a),
        centre[1] - radius * Math.cos(b),
        centre[2] - radius * Math.sin(b) * Math.sin(a),
      );
      uvs.push(0.02 + 0.96 * (i / columns), 0.02 + 0.96 * (j / rows));
    }
  }
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const p = j * (columns + 1) + i;
      if (j > 0) indices.push(p, p + 1, p + columns + 2);
      if (j < rows - 1) indices.push(p, p + columns + 2, p + columns + 1);
    }
  }
  const mesh = finish(positions, uvs, indices, new Array<number>(indices.length / 3).fill(0), ['Ball']);
  const normals = mesh.positions.map((x, i) => (x - centre[i % 3]!) / radius);
  return { ...mesh, normals };
}

/** Puts models into one, each keeping its parts' names; UVs are squeezed side by side. */
export function together(...meshes: readonly UvMesh[]): UvMesh {
  const positions: number[] = [];
  const normals: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  const faceParts: number[] = [];
  const parts: string[] = [];
  meshes.forEach((m, k) => {
    const first = positions.length / 3;
    positions.push(...m.positions);
    normals.push(...m.normals);
    for (let i = 0; i < m.uvs.length; i += 2) uvs.push((m.uvs[i]! + k) / meshes.length, m.uvs[i + 1]!);
    indices.push(...Array.from(m.indices, (v) => v + first));
    faceParts.push(...Array.from(m.faceParts, (p) => p + parts.length));
    parts.push(...m.parts.map((p) => (parts.includes(p) ? `${p} ${k + 1}` : p)));
  });
  return checkMesh({
    positions: Float32Array.from(positions),
    normals: Float32Array.from(normals),
    uvs: Float32Array.from(uvs),
    indices: Uint32Array.from(indices),
    faceParts: Uint16Array.from(faceParts),
    parts,
  }) as UvMesh;
}
