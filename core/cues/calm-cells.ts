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

/** What of a tile is one piece of an island, in cells of 4 x 4 texels. */
export interface Cells {
  /** A texel in the middle of each cell that is one; -1 for the others. Row by row. */
  readonly middle: Int32Array;
  /** Where in a cell its value holds, texels from its corner. */
  readonly at: number;
  /** How many rays each value is the mean of: as far as those spread, neighbours may differ too; 0 for values that are exact. */
  readonly rays: number;
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
  return { middle, at: 2.5, rays: 0 };
}

/** The mean of each cell's four quarters may differ by so much from that of the cell, or by so many of its usual spreads. */
const QUARTER = 0.06;
const SPREADS = 2.5;
const NEIGHBOURS = 2;

/** The spread of a mean of yes and no. */
const spreadOf = (mean: number, rays: number): number => Math.sqrt((mean * (1 - mean)) / rays);

/**
 * The cells of a tile in which a few rays from each texel tell nothing that begins or ends there, and what they come to.
 *
 * @param own whether a texel counts: it is covered, and measured for itself
 * @param probes 0..65535 a texel: the mean of `rays` rays
 * @param values receives the mean of each cell
 */
export function probedCells(
  codes: Int32Array,
  islandOfFace: Uint32Array,
  own: (texel: number) => boolean,
  probes: Uint16Array,
  rays: number,
  values: Uint16Array,
): Cells {
  const middle = new Int32Array(CELLS * CELLS).fill(-1);
  const quarters = [0, 0, 0, 0];
  for (let cell = 0; cell < CELLS * CELLS; cell++) {
    const [left, top] = [(cell % CELLS) * CELL, Math.floor(cell / CELLS) * CELL];
    const first = texelAt(left, top);
    if (codes[first]! < 0) continue;
    const island = islandOfFace[codes[first]! >> 2]!;
    quarters.fill(0);
    let whole = true;
    for (let k = 0; k < CELL * CELL && whole; k++) {
      const [x, y] = [k & 3, k >> 2];
      const i = texelAt(left + x, top + y);
      const code = codes[i]!;
      whole = code >= 0 && (code & 3) === INSIDE && islandOfFace[code >> 2] === island && own(i);
      quarters[(y >> 1) * 2 + (x >> 1)]! += probes[i]! / 4;
    }
    if (!whole) continue;
    const mean = (quarters[0]! + quarters[1]! + quarters[2]! + quarters[3]!) / 4;
    const v = mean / 65535;
    const most = 65535 * Math.max(QUARTER, SPREADS * spreadOf(v, rays * 4));
    if (quarters.some((q) => Math.abs(q - mean) > most)) continue;
    middle[cell] = first;
    values[cell] = Math.round(mean);
  }
  return { middle, at: 2, rays: rays * CELL * CELL };
}

export const FILLED = 1;
export const EVEN = 2;

/**
 * Fills the cells whose neighbours all agree with them by lines between their middles.
 *
 * @param values of the cells' middles, by cell; only those of plain cells count
 * @param out receives the values of texels that could be filled
 * @returns FILLED for each texel that was filled, EVEN for one in a cell that is whole though its neighbours differ, 0 for the others
 */
export function fillCalmCells(
  { middle, at: offset, rays }: Cells,
  values: Uint16Array,
  out: Uint16Array,
): Uint8Array {
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
      if (middle[cy * CELLS + cx]! < 0) continue;
      const calm = isCalm(middle, values, rays, cx, cy);
      for (let k = 0; k < CELL * CELL; k++) {
        const i = texelAt(cx * CELL + (k & 3), cy * CELL + (k >> 2));
        filled[i] = calm ? FILLED : EVEN;
        if (!calm) continue;
        const [u, v] = [(k & 3) + 0.5 - offset, (k >> 2) + 0.5 - offset];
        const [dx, dy] = [u < 0 ? -1 : 1, v < 0 ? -1 : 1];
        const [s, t] = [Math.abs(u) / CELL, Math.abs(v) / CELL];
        const value =
          (at(cx, cy) * (1 - s) + at(cx + dx, cy) * s) * (1 - t) +
          (at(cx, cy + dy) * (1 - s) + at(cx + dx, cy + dy) * s) * t;
        out[i] = Math.min(65535, Math.max(0, Math.round(value)));
      }
    }
  }
  return filled;
}

function isCalm(middle: Int32Array, values: Uint16Array, rays: number, cx: number, cy: number): boolean {
  const own = values[cy * CELLS + cx]!;
  const most = Math.max(CALM, rays > 0 ? NEIGHBOURS * 65535 * spreadOf(own / 65535, rays) : 0);
  for (let y = Math.max(0, cy - 1); y <= Math.min(CELLS - 1, cy + 1); y++) {
    for (let x = Math.max(0, cx - 1); x <= Math.min(CELLS - 1, cx + 1); x++) {
      const other = y * CELLS + x;
      if (middle[other]! < 0 || Math.abs(values[other]! - own) > most) return false;
    }
  }
  return true;
}
