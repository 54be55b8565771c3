/** A binary tree of boxes over triangles, flat: children of an inner node stand side by side. */
export interface BinaryTree {
  /** Min xyz, max xyz a node. */
  readonly bounds: Float32Array;
  /** Inner node: its left child (the right one follows). Leaf: its first place in `order`. */
  readonly first: Int32Array;
  /** Triangles in a leaf; 0 for an inner node. */
  readonly count: Int32Array;
  /** Triangle numbers, sorted so that every leaf's stand together. */
  readonly order: Int32Array;
}

const BINS = 16;
const MAX_LEAF = 4;

/**
 * Splits by the surface area heuristic over bins (I. Wald, "On fast Construction of SAH-based Bounding Volume
 * Hierarchies", 2007).
 */
export function buildBinaryTree(positions: Float32Array, indices: Uint32Array): BinaryTree {
  const triangles = indices.length / 3;
  const box = new Float32Array(triangles * 6);
  const centre = new Float32Array(triangles * 3);
  for (let t = 0; t < triangles; t++) {
    for (let axis = 0; axis < 3; axis++) {
      const a = positions[indices[t * 3]! * 3 + axis]!;
      const b = positions[indices[t * 3 + 1]! * 3 + axis]!;
      const c = positions[indices[t * 3 + 2]! * 3 + axis]!;
      const min = Math.min(a, b, c);
      const max = Math.max(a, b, c);
      box[t * 6 + axis] = min;
      box[t * 6 + 3 + axis] = max;
      centre[t * 3 + axis] = (min + max) / 2;
    }
  }
  const order = Int32Array.from({ length: triangles }, (_, i) => i);
  const bounds = new Float32Array(triangles * 12);
  const first = new Int32Array(triangles * 2);
  const count = new Int32Array(triangles * 2);
  let nodes = 1;
  const pending: [node: number, start: number, end: number][] = [[0, 0, triangles]];
  while (pending.length) {
    const [node, start, end] = pending.pop()!;
    growBox(bounds, node * 6, box, order, start, end);
    if (end - start <= MAX_LEAF) {
      first[node] = start;
      count[node] = end - start;
      continue;
    }
    const middle = split(box, centre, order, start, end);
    const left = nodes;
    nodes += 2;
    first[node] = left;
    pending.push([left, start, middle], [left + 1, middle, end]);
  }
  return {
    bounds: bounds.slice(0, nodes * 6),
    first: first.slice(0, nodes),
    count: count.slice(0, nodes),
    order,
  };
}

function growBox(
  out: Float32Array,
  o: number,
  box: Float32Array,
  order: Int32Array,
  start: number,
  end: number,
): void {
  for (let axis = 0; axis < 3; axis++) {
    let min = Infinity;
    let max = -Infinity;
    for (let i = start; i < end; i++) {
      const b = order[i]! * 6 + axis;
      if (box[b]! < min) min = box[b]!;
      if (box[b + 3]! > max) max = box[b + 3]!;
    }
    out[o + axis] = min;
    out[o + 3 + axis] = max;
  }
}

const halfArea = (b: Float64Array, o: number): number => {
  const x = b[o + 3]! - b[o]!;
  const y = b[o + 4]! - b[o + 1]!;
  const z = b[o + 5]! - b[o + 2]!;
  return x * y + y * z + z * x;
};

/** Two of a kind: one function for both array types would be compiled for neither (measured: 4 times slower). */
function widenByBox(b: Float64Array, o: number, from: Float32Array, f: number): void {
  for (let k = 0; k < 3; k++) {
    if (from[f + k]! < b[o + k]!) b[o + k] = from[f + k]!;
    if (from[f + 3 + k]! > b[o + 3 + k]!) b[o + 3 + k] = from[f + 3 + k]!;
  }
}

function widenByBin(b: Float64Array, o: number, from: Float64Array, f: number): void {
  for (let k = 0; k < 3; k++) {
    if (from[f + k]! < b[o + k]!) b[o + k] = from[f + k]!;
    if (from[f + 3 + k]! > b[o + 3 + k]!) b[o + 3 + k] = from[f + 3 + k]!;
  }
}

const emptyBox = (b: Float64Array, o: number): void => {
  b.fill(Infinity, o, o + 3);
  b.fill(-Infinity, o + 3, o + 6);
};

/** Puts the triangles of the better half first. @returns where the second half starts */
function split(
  box: Float32Array,
  centre: Float32Array,
  order: Int32Array,
  start: number,
  end: number,
): number {
  const bins = new Float64Array(BINS * 6);
  const held = new Int32Array(BINS);
  const rightCost = new Float64Array(BINS);
  const sweep = new Float64Array(6);
  let best = Infinity;
  let bestAxis = -1;
  let bestBin = 0;
  const low = new Float64Array(3).fill(Infinity);
  const high = new Float64Array(3).fill(-Infinity);
  for (let i = start; i < end; i++) {
    for (let axis = 0; axis < 3; axis++) {
      const c = centre[order[i]! * 3 + axis]!;
      if (c < low[axis]!) low[axis] = c;
      if (c > high[axis]!) high[axis] = c;
    }
  }
  const binOf = (t: number, axis: number): number =>
    Math.min(
      BINS - 1,
      Math.floor(((centre[t * 3 + axis]! - low[axis]!) * BINS) / (high[axis]! - low[axis]!)),
    );

  for (let axis = 0; axis < 3; axis++) {
    if (!(high[axis]! > low[axis]!)) continue;
    held.fill(0);
    for (let b = 0; b < BINS; b++) emptyBox(bins, b * 6);
    for (let i = start; i < end; i++) {
      const t = order[i]!;
      const b = binOf(t, axis);
      held[b]!++;
      widenByBox(bins, b * 6, box, t * 6);
    }
    emptyBox(sweep, 0);
    let seen = 0;
    for (let b = BINS - 1; b > 0; b--) {
      widenByBin(sweep, 0, bins, b * 6);
      seen += held[b]!;
      rightCost[b] = seen ? seen * halfArea(sweep, 0) : 0;
    }
    emptyBox(sweep, 0);
    seen = 0;
    for (let b = 0; b < BINS - 1; b++) {
      widenByBin(sweep, 0, bins, b * 6);
      seen += held[b]!;
      if (seen === 0 || seen === end - start) continue;
      const cost = seen * halfArea(sweep, 0) + rightCost[b + 1]!;
      if (cost < best) {
        best = cost;
        bestAxis = axis;
        bestBin = b;
      }
    }
  }
  if (bestAxis < 0) return (start + end) >> 1;
  let i = start;
  let j = end - 1;
  while (i <= j) {
    const t = order[i]!;
    if (binOf(t, bestAxis) <= bestBin) i++;
    else {
      order[i] = order[j]!;
      order[j] = t;
      j--;
    }
  }
  return i;
}
