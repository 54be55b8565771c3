import potpack from 'potpack';

/** A flat piece to be placed: its points, xy each, in model units. */
export interface FlatPiece {
  readonly points: Float64Array;
}

/**
 * Turns every piece so that its box is smallest, then places all boxes on one sheet at one scale.
 *
 * @param margin free space around every piece, in parts of the sheet's side
 * @returns uv a point for each piece, 0..1
 */
export function packPieces(pieces: readonly FlatPiece[], margin: number): Float64Array[] {
  const turned = pieces.map(({ points }) => turnToSmallestBox(points));
  const sizes = turned.map(sizeOf);
  // The margin depends on the final scale, so the scale is searched: the largest at which everything fits.
  let scale = 0;
  let places: { x: number; y: number }[] = [];
  let low = 0;
  let high = 2 / Math.sqrt(sizes.reduce((sum, s) => sum + s.w * s.h, 0) || 1);
  for (let step = 0; step < 24; step++) {
    const trial = (low + high) / 2;
    const boxes = sizes.map((s) => ({
      w: s.w * trial + 2 * margin,
      h: s.h * trial + 2 * margin,
      x: 0,
      y: 0,
    }));
    const order = [...boxes];
    const { w, h } = potpack(order);
    if (w <= 1 && h <= 1) {
      low = scale = trial;
      places = boxes.map(({ x, y }) => ({ x, y }));
    } else high = trial;
  }
  return turned.map((points, i) => {
    const { x, y } = places[i] ?? { x: 0, y: 0 };
    return points.map((c, k) => c * scale + (k % 2 ? y : x) + margin);
  });
}

function sizeOf(points: Float64Array): { w: number; h: number } {
  let w = 0;
  let h = 0;
  for (let i = 0; i < points.length; i += 2) {
    w = Math.max(w, points[i]!);
    h = Math.max(h, points[i + 1]!);
  }
  return { w, h };
}

/** Tries turns of 3° and lays the longer side across. The result begins at (0, 0). */
function turnToSmallestBox(points: Float64Array): Float64Array {
  let best: Float64Array = points;
  let bestArea = Infinity;
  for (let degrees = 0; degrees < 180; degrees += 3) {
    const angle = (degrees * Math.PI) / 180;
    const turned = rotate(points, Math.cos(angle), Math.sin(angle));
    const { w, h } = sizeOf(turned);
    // A tie goes to the upright box, so that most pieces stand and packing by height works.
    const area = w * h * (w > h ? 1.001 : 1);
    if (area < bestArea) {
      bestArea = area;
      best = turned;
    }
  }
  return best;
}

function rotate(points: Float64Array, cos: number, sin: number): Float64Array {
  const out = new Float64Array(points.length);
  let minX = Infinity;
  let minY = Infinity;
  for (let i = 0; i < points.length; i += 2) {
    out[i] = points[i]! * cos - points[i + 1]! * sin;
    out[i + 1] = points[i]! * sin + points[i + 1]! * cos;
    minX = Math.min(minX, out[i]!);
    minY = Math.min(minY, out[i + 1]!);
  }
  return out.map((c, k) => c - (k % 2 ? minY : minX));
}
