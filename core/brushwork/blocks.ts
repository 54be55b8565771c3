import { boxDistance } from '../mesh';
import { NOWHERE, SUB, SUB_TEXELS, TILE_TEXELS, type Places } from '../surface';
import type { LaidStrokes } from './set-strokes';

/** Strokes are looked for in blocks of 8 x 8 texels: an island's edge makes the box of anything larger span the model. */
export const BLOCK = 8;
export const BLOCKS = TILE_TEXELS / (BLOCK * BLOCK);

/** The first texel of a block; its rows stand SUB texels apart. */
export const firstOfBlock = (block: number): number =>
  (block >> 4) * SUB_TEXELS + ((block >> 2) & 3) * SUB * BLOCK + (block & 3) * BLOCK;

/** Boxes of a tile's blocks in space, min xyz and max xyz: sub-tile by sub-tile, 16 each, row by row. */
export type Boxes = Float32Array;

/** The boxes of a tile's blocks; inverted where nothing lies. */
export function blockBoxes({ px, py, pz }: Places): Boxes {
  const out = new Float32Array(BLOCKS * 6);
  for (let block = 0; block < BLOCKS; block++) {
    const o = block * 6;
    out.fill(Infinity, o, o + 3);
    out.fill(-Infinity, o + 3, o + 6);
    const first = firstOfBlock(block);
    for (let k = 0; k < BLOCK * BLOCK; k++) {
      const i = first + (k >> 3) * SUB + (k & 7);
      const x = px[i]!;
      if (x >= NOWHERE) continue;
      if (x < out[o]!) out[o] = x;
      if (x > out[o + 3]!) out[o + 3] = x;
      if (py[i]! < out[o + 1]!) out[o + 1] = py[i]!;
      if (py[i]! > out[o + 4]!) out[o + 4] = py[i]!;
      if (pz[i]! < out[o + 2]!) out[o + 2] = pz[i]!;
      if (pz[i]! > out[o + 5]!) out[o + 5] = pz[i]!;
    }
  }
  return out;
}

/** Strokes that touch the boxes of some blocks, in the order in which they are laid. */
export function strokesNear({ grid, cell, reach, scatter, halfLength }: LaidStrokes, boxes: Boxes): number[] {
  const found = new Set<number>();
  const cells = new Set<string>();
  const { positions: p } = scatter;
  for (let block = 0; block < BLOCKS; block++) {
    const o = block * 6;
    if (boxes[o] === Infinity) continue;
    const from = [0, 1, 2].map((k) => Math.floor((boxes[o + k]! - reach) / cell)) as [number, number, number];
    const to = [0, 1, 2].map((k) => Math.floor((boxes[o + 3 + k]! + reach) / cell)) as [
      number,
      number,
      number,
    ];
    // A block that spans the model touches more cells than there are.
    if ((to[0] - from[0] + 1) * (to[1] - from[1] + 1) * (to[2] - from[2] + 1) > grid.size) {
      for (const key of grid.keys()) cells.add(key);
      break;
    }
    for (let x = from[0]; x <= to[0]; x++) {
      for (let y = from[1]; y <= to[1]; y++) {
        for (let z = from[2]; z <= to[2]; z++) cells.add(`${x} ${y} ${z}`);
      }
    }
  }
  for (const key of cells) {
    for (const s of grid.get(key) ?? []) {
      const far = halfLength[s]! ** 2;
      for (let block = 0; block < BLOCKS; block++) {
        if (boxDistance(boxes, block * 6, p[s * 3]!, p[s * 3 + 1]!, p[s * 3 + 2]!) > far) continue;
        found.add(s);
        break;
      }
    }
  }
  return [...found].sort((a, b) => a - b);
}
