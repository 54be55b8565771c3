/** What models need to be set beside one another: their box. */
export interface Extent {
  readonly min: readonly [number, number, number];
  readonly max: readonly [number, number, number];
}

/** By how much each model is moved. */
export type Move = readonly [x: number, y: number, z: number];

/** Of the mean width, between two that stand in a row. */
const GAP = 0.22;

const widthOf = ({ min, max }: Extent): number => max[0] - min[0];
const meanWidth = (all: readonly Extent[]): number =>
  all.reduce((sum, e) => sum + widthOf(e), 0) / Math.max(1, all.length);

/** In a row from left to right, all on one ground and at one scale. */
export function standInRow(extents: readonly Extent[]): Move[] {
  const gap = meanWidth(extents) * GAP;
  let x = 0;
  return extents.map((extent) => {
    const { min, max } = extent;
    const move: Move = [x - min[0], -min[1], -(min[2] + max[2]) / 2];
    x += widthOf(extent) + gap;
    return move;
  });
}

/** Around the first, which stays: the others by turns to its right and left, each a little farther back, on its ground. */
export function standAround(extents: readonly Extent[]): Move[] {
  const [main] = extents;
  if (!main) return [];
  const gap = meanWidth(extents) * GAP;
  let [left, right] = [main.min[0], main.max[0]];
  const back = (main.max[2] - main.min[2]) * 0.6;
  return extents.map((extent, i) => {
    if (i === 0) return [0, 0, 0];
    const { min, max } = extent;
    const z = (main.min[2] + main.max[2] - min[2] - max[2]) / 2 - back * Math.ceil(i / 2);
    const y = main.min[1] - min[1];
    if (i % 2 === 1) {
      const x = right + gap;
      right = x + widthOf(extent);
      return [x - min[0], y, z];
    }
    left -= gap + widthOf(extent);
    return [left - min[0], y, z];
  });
}
