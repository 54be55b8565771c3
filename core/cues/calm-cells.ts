import { INSIDE, SUB, SUB_TEXELS, TILE, TILE_TEXELS } from '../surface';

/** Texels a side of a cell, and cells a side of a tile. */
const CELL = 4;
const CELLS = TILE / CELL;

/** Values of neighbouring cells that differ by less than this, of 65535, leave nothing between them that a line would miss. */
const CALM = 0.05 * 65535;

/** Triangles of a cell whose normals' cosine is less than this (18°) bend too much. */
const FLAT = 0.95;

/** The texel of a tile at column x and row y. */
const texelAt = (x: number, y: number): number =>
  ((y >> 5) * 2 + (x >> 5)) * SUB_TEXELS + (y & (SUB - 1)) * SUB + (x & (SUB - 1));

/** What of a tile is one smooth piece of an island, in cells of 4 x 4 texels. */
export interface Cells {
  /** The texel in the middle of each cell that is one; -1 for the others. Row by row. */
  readonly middle: Int32Array;
}

/** The cells of a tile in which nothing bends, ends or begins. @param face of each texel on the measured model */
export function plainCells(
  codes: Int32Array,
  face: Int32Array,
  islandOfFace: Uint32Array,
  normals: Float64Array,
): Cells {
  const middle = new Int32Array(CELLS * CELLS).fill(-1);
  for (let cy = 0; cy < CELLS; cy++) {
    for (let cx = 0; cx < CELLS; cx++) {
      const centre = texelAt(cx * CELL + 2, cy * CELL + 2);
      if (codes[centre]! < 0) continue;
      const f = face[centre]! * 3;
      const island = islandOfFace[codes[centre]! >> 2]!;
      let plain = f >= 0;
      for (let k = 0; k < CELL * CELL && plain; k++) {
        const i = texelAt(cx * CELL + (k & 3), cy * CELL + (k >> 2));
        const code = codes[i]!;
        plain = code >= 0 && (code & 3) === INSIDE && face[i]! >= 0 && islandOfFace[code >> 2] === island;
        if (!plain || face[i] === face[centre]) continue;
        const g = face[i]! * 3;
        plain =
          normals[f]! * normals[g]! + normals[f + 1]! * normals[g + 1]! + normals[f + 2]! * normals[g + 2]! >=
          FLAT;
      }
      if (plain) middle[cy * CELLS + cx] = centre;
    }
  }
  return { middle };
}

/**
 * Fills the cells whose neighbours all agree with them by lines between their middles.
 *
 * @param values of the cells' middles, by cell; only those of plain cells count
 * @param out receives the values of texels that could be filled
 * @returns 1 for each texel that was filled
 */
export function fillCalmCells({ middle }: Cells, values: Uint16Array, out: Uint16Array): Uint8Array {
  const filled = new Uint8Array(TILE_TEXELS);
  /** Value of a cell, past the tile's border that of a line through the two nearest. */
  const at = (x: number, y: number): number => {
    const ix = Math.min(CELLS - 1, Math.max(0, x));
    const iy = Math.min(CELLS - 1, Math.max(0, y));
    const own = values[iy * CELLS + ix]!;
    if (ix === x && iy === y) return own;
    const inner = values[(2 * iy - y) * CELLS + (2 * ix - x)]!;
    return 2 * own - inner;
  };
  for (let cy = 0; cy < CELLS; cy++) {
    for (let cx = 0; cx < CELLS; cx++) {
      if (middle[cy * CELLS + cx]! < 0 || !isCalm(middle, values, cx, cy)) continue;
      for (let k = 0; k < CELL * CELL; k++) {
        const [u, v] = [(k & 3) - 2, (k >> 2) - 2];
        const [dx, dy] = [u < 0 ? -1 : 1, v < 0 ? -1 : 1];
        const [s, t] = [Math.abs(u) / CELL, Math.abs(v) / CELL];
        const value =
          (at(cx, cy) * (1 - s) + at(cx + dx, cy) * s) * (1 - t) +
          (at(cx, cy + dy) * (1 - s) + at(cx + dx, cy + dy) * s) * t;
        const i = texelAt(cx * CELL + (k & 3), cy * CELL + (k >> 2));
        out[i] = Math.min(65535, Math.max(0, Math.round(value)));
        filled[i] = 1;
      }
    }
  }
  return filled;
}

function isCalm(middle: Int32Array, values: Uint16Array, cx: number, cy: number): boolean {
  const own = values[cy * CELLS + cx]!;
  for (let y = Math.max(0, cy - 1); y <= Math.min(CELLS - 1, cy + 1); y++) {
    for (let x = Math.max(0, cx - 1); x <= Math.min(CELLS - 1, cx + 1); x++) {
      const other = y * CELLS + x;
      if (middle[other]! < 0 || Math.abs(values[other]! - own) > CALM) return false;
    }
  }
  return true;
}
