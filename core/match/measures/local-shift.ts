import type { LabRows } from './lab-rows';

/** How far pixels of a picture lie from those that they are compared with, block by block. */
export interface LocalShifts {
  /** Pixels a block, each way. */
  readonly block: number;
  readonly across: number;
  readonly down: number;
  /** Right and down for each block, from the model to the picture, pixels. */
  readonly shifts: Int8Array;
}

/** A block is this part of the picture's height, and so is the farthest that it may be off. */
const BLOCK = 1 / 50;
const REACH = 1 / 130;

/** Around a block so much more is looked at, in parts of it. */
const AROUND = 0.5;

/** Off by one pixel costs as much as this difference in every pixel, so that flat colours stay where they are. */
const COST = 0.25;

/** Differences of more than this count no more: an edge that isn't there at all mustn't drag its surroundings. */
const MOST = 30;

/** One pixel of so many is looked at, in rows that are moved against one another: a grid would miss edges that lie along it. */
const ONE_OF = 7;
const SLANT = 3;

/**
 * Aligns two pictures of the same thing by moving each small block a few pixels, so that what is drawn a little off isn't counted as
 * painted wrong: block matching, as video coders do it (J. Jain and A. Jain, 1981), held to short ways.
 *
 * @param reference, painted CIELAB; not a number where nothing is shown
 */
export function localShifts(
  reference: LabRows,
  painted: LabRows,
  width: number,
  height: number,
): LocalShifts {
  const block = Math.max(4, Math.round(height * BLOCK));
  const reach = Math.min(100, Math.max(1, Math.round(height * REACH)));
  const [across, down] = [Math.ceil(width / block), Math.ceil(height / block)];
  const shifts = new Int8Array(across * down * 2);
  const air = Math.round(block * AROUND);
  const ways = waysWithin(reach);
  for (let by = 0; by < down; by++) {
    for (let bx = 0; bx < across; bx++) {
      const pixels = pixelsOf(painted, width, height, bx * block - air, by * block - air, block + 2 * air);
      if (pixels.length < 16) continue;
      let least = Infinity;
      for (const [dx, dy] of ways) {
        const cost = costOf(reference, painted, width, height, pixels, dx, dy, least);
        if (cost >= least) continue;
        least = cost;
        shifts[(by * across + bx) * 2] = dx;
        shifts[(by * across + bx) * 2 + 1] = dy;
      }
    }
  }
  return { block, across, down, shifts };
}

/** What moving a block that way costs. @param pixels x and y in turn @param least what is dearer is given up on */
function costOf(
  reference: LabRows,
  painted: LabRows,
  width: number,
  height: number,
  pixels: Int32Array,
  dx: number,
  dy: number,
  least: number,
): number {
  let cost = (Math.sqrt(dx * dx + dy * dy) * COST * pixels.length) / 2;
  for (let k = 0; k < pixels.length && cost < least; k += 2) {
    const x = pixels[k]!;
    const y = pixels[k + 1]!;
    const tx = x + dx;
    const ty = y + dy;
    if (tx < 0 || tx >= width || ty < 0 || ty >= height) {
      cost += MOST;
      continue;
    }
    const i = (y * width + x) * 3;
    const j = (ty * width + tx) * 3;
    const off =
      Math.abs(reference[j]! - painted[i]!) +
      Math.abs(reference[j + 1]! - painted[i + 1]!) * 0.5 +
      Math.abs(reference[j + 2]! - painted[i + 2]!) * 0.5;
    // Not a number where the picture shows nothing.
    cost += off < MOST ? off : MOST;
  }
  return cost;
}

/** All ways of at most so many pixels, the shortest first. */
function waysWithin(reach: number): (readonly [number, number])[] {
  const out: (readonly [number, number])[] = [];
  for (let dy = -reach; dy <= reach; dy++) {
    for (let dx = -reach; dx <= reach; dx++) if (Math.hypot(dx, dy) <= reach) out.push([dx, dy]);
  }
  return out.sort((a, b) => Math.hypot(...a) - Math.hypot(...b));
}

function pixelsOf(
  rows: LabRows,
  width: number,
  height: number,
  x0: number,
  y0: number,
  side: number,
): Int32Array {
  const out: number[] = [];
  for (let y = Math.max(0, y0); y < Math.min(height, y0 + side); y++) {
    for (let x = Math.max(0, x0); x < Math.min(width, x0 + side); x++) {
      if ((x + SLANT * y) % ONE_OF === 0 && !Number.isNaN(rows[(y * width + x) * 3]!)) out.push(x, y);
    }
  }
  return Int32Array.from(out);
}

/** For each pixel the one of the reference that it is compared with; itself where that one shows nothing. */
export function alignedPixels(
  { block, across, shifts }: LocalShifts,
  reference: LabRows,
  width: number,
  height: number,
): Int32Array {
  const out = new Int32Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const b = (Math.floor(y / block) * across + Math.floor(x / block)) * 2;
      const i = y * width + x;
      const [nx, ny] = [x + shifts[b]!, y + shifts[b + 1]!];
      const j = nx >= 0 && nx < width && ny >= 0 && ny < height ? ny * width + nx : i;
      out[i] = Number.isNaN(reference[j * 3]!) ? i : j;
    }
  }
  return out;
}
